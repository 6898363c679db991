"""Uploaded pictures: checked, turned upright, made smaller, without their metadata."""

from __future__ import annotations

import io
from pathlib import Path

from django.conf import settings
from django.db.models.fields.files import FieldFile
from django.http import FileResponse, Http404
from PIL import Image, UnidentifiedImageError

from rimcore.quantities.errors import BadInput
from shell.lock import one_at_a_time

#: longest side of a kept picture [px], and the most pixels and bytes that are read
LONGEST_PX, MOST_PIXELS = 1600, 25_000_000
MOST_BYTES = 12 * 1024 * 1024


def clean_picture(raw: bytes) -> tuple[bytes, tuple[int, int]]:
    """A JPEG of our own making from what was uploaded, and its width and height [px].

    One picture at a time over all processes, so that several at once do not take the machine's memory.

    Raises
    ------
    BadInput : too large, or no JPEG, PNG or WebP picture
    """
    if len(raw) > MOST_BYTES:
        raise BadInput("the picture is over 12 MB; make it smaller", "image")
    with one_at_a_time(Path(settings.DATA_DIR), "picture.lock"):
        return _cleaned(raw)


def _cleaned(raw: bytes) -> tuple[bytes, tuple[int, int]]:
    try:
        with Image.open(io.BytesIO(raw), formats=("JPEG", "PNG", "WEBP")) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                millions = opened.width * opened.height / 1e6
                raise BadInput(
                    f"the picture has {millions:.0f} million pixels; accepted: 25 million at the most", "image"
                )
            turn = opened.getexif().get(_TURN, 1)
            # A JPEG can be read at a fraction of its size; what is kept is no larger anyway.
            opened.draft("RGB", (LONGEST_PX, LONGEST_PX))
            opened.thumbnail((LONGEST_PX, LONGEST_PX))
            small = opened.convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput("that is no picture this can read; accepted: JPEG, PNG or WebP", "image") from error
    upright = small.transpose(_TURNS[turn]) if turn in _TURNS else small
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    stored = io.BytesIO()
    clean.save(stored, "JPEG", quality=85)
    return stored.getvalue(), clean.size


#: the tag that says how the camera was held, and what turns the picture upright (Exif 2.32, tag 274)
_TURN = 0x0112
_TURNS = {
    2: Image.Transpose.FLIP_LEFT_RIGHT,
    3: Image.Transpose.ROTATE_180,
    4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE,
    6: Image.Transpose.ROTATE_270,
    7: Image.Transpose.TRANSVERSE,
    8: Image.Transpose.ROTATE_90,
}


def serve(image: FieldFile) -> FileResponse:
    """A kept picture; the caller has made sure whose it is."""
    if not image.storage.exists(str(image.name)):
        raise Http404
    return FileResponse(image.open("rb"), content_type="image/jpeg")
