"""Static files of a served instance: hashed names, also of modules that modules import."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from whitenoise.storage import CompressedManifestStaticFilesStorage

#: files of packages that no page of ours asks for; they import what is not there
UNUSED = "django_htmx/"


class HashedModules(CompressedManifestStaticFilesStorage):  # type: ignore[misc]
    """Imports between our modules get hashed names too, so that none of an older version is met."""

    support_js_module_import_aggregation = True

    def post_process(self, paths: dict[str, Any], *args: Any, **options: Any) -> Iterator[Any]:
        used = {name: where for name, where in paths.items() if not name.startswith(UNUSED)}
        yield from super().post_process(used, *args, **options)
