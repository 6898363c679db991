"""The secret key: from the environment, else made once in a private file."""

import os
import sys
from pathlib import Path

from django.core.management.utils import get_random_secret_key


def secret_key(data_dir: Path) -> str:
    """The instance's secret key; the file is readable by its owner alone."""
    given = os.environ.get("TALLY_SECRET_KEY")
    if given:
        return given
    path = data_dir / "secret-key"
    if not path.exists():
        try:
            data_dir.mkdir(parents=True, exist_ok=True)
            descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        except OSError as error:
            sys.exit(
                f"The data folder {data_dir} can't be written ({error.strerror}). Set TALLY_DATA to a folder that can."
            )
        with os.fdopen(descriptor, "w") as file:
            file.write(get_random_secret_key() + get_random_secret_key())
    return path.read_text().strip()
