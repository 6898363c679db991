"""Uploaded pictures: checked, turned upright, made smaller, without their metadata."""

from __future__ import annotations

import io

from django.db import models, transaction
from django.db.models.fields.files import FieldFile
from django.http import FileResponse, Http404
from PIL import Image, ImageOps, UnidentifiedImageError

from rimcore.errors import BadInput

#: longest side of a kept picture [px], and the most pixels and bytes that are read
LONGEST_PX, MOST_PIXELS = 1600, 60_000_000
MOST_BYTES = 12 * 1024 * 1024


def clean_picture(raw: bytes) -> tuple[bytes, tuple[int, int]]:
    """A JPEG of our own making from what was uploaded, and its width and height [px].

    Raises
    ------
    BadInput : too large, or no JPEG, PNG or WebP picture
    """
    if len(raw) > MOST_BYTES:
        raise BadInput("the picture is over 12 MB; make it smaller", "image")
    try:
        with Image.open(io.BytesIO(raw), formats=("JPEG", "PNG", "WEBP")) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise BadInput("the picture has more than 60 million pixels; make it smaller", "image")
            upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        if isinstance(error, BadInput):
            raise
        raise BadInput("that is no picture this can read; accepted: JPEG, PNG or WebP", "image") from error
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    stored = io.BytesIO()
    clean.save(stored, "JPEG", quality=85)
    return stored.getvalue(), clean.size


def serve(image: FieldFile) -> FileResponse:
    """A kept picture; the caller has made sure whose it is."""
    if not image.storage.exists(str(image.name)):
        raise Http404
    return FileResponse(image.open("rb"), content_type="image/jpeg")


def remove_with_file(row: models.Model, image: FieldFile) -> None:
    """Delete a row, and its picture once that is certain."""
    with transaction.atomic():
        row.delete()
        transaction.on_commit(lambda: image.delete(save=False))
