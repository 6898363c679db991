"""What predictions on the cars that come with the program were worth, by kind: for whoever has too few of their own."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict
from functools import lru_cache
from pathlib import Path

from rimcore.proof.honesty import Honesty

KEPT = Path(__file__).with_name("pooled.json")


@lru_cache(maxsize=1)
def pooled() -> Mapping[str, Honesty]:
    """By the code of the kind, as they were kept.

    Source: the demo's own predictions against its own readings; a test holds the file to them.

    >>> all(one.n >= 0 for one in pooled().values())
    True
    """
    return {code: Honesty(**one) for code, one in json.loads(KEPT.read_text()).items()}


def written(found: Mapping[str, Honesty]) -> str:
    """The same as text, to be kept.

    Parameters
    ----------
    found : by the code of the kind

    Source: none; a convention of this program.

    >>> "gap." in written({"gap.": Honesty(2)})
    True
    """
    rounded = {
        code: {name: round(said, 6) if isinstance(said, float) else said for name, said in asdict(one).items()}
        for code, one in sorted(found.items())
    }
    return json.dumps(rounded, indent=1) + "\n"
