"""Photos, made small and without what a camera writes into them."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from latchcore.edits import EditError

#: Largest photo that is taken [bytes], its most pixels, and the longest side it is kept at.
MOST_BYTES, MOST_PIXELS, MOST_SIDE, KEPT_SIDE = 8_000_000, 40_000_000, 12_000, 1200


def made_small(upload) -> tuple[bytes, int, int]:
    """
    A JPEG of an uploaded photo with its width and height.

    Raises
    ------
    EditError
        If nothing was chosen, it is too large, or no photo
    """
    if upload is None:
        raise EditError("No file was chosen; expected a photo as PNG, JPEG or WebP.", "photo")
    if upload.size > MOST_BYTES:
        raise EditError(
            f"The file has {upload.size / 1e6:.1f} MB; a photo has up to {MOST_BYTES / 1e6:.0f} MB"
            " here.",
            "photo",
        )
    try:
        with Image.open(upload, formats=("PNG", "JPEG", "WEBP")) as image:
            # The sides stand in the head of the file; nothing is decoded before they are looked at.
            if image.width * image.height > MOST_PIXELS or max(image.size) > MOST_SIDE:
                raise EditError(
                    f"The photo has {image.width}×{image.height} pixels; up to"
                    f" {MOST_PIXELS / 1e6:.0f} million are taken, {MOST_SIDE} along a side.",
                    "photo",
                )
            image.draft("RGB", (2 * KEPT_SIDE, 2 * KEPT_SIDE))
            turned = ImageOps.exif_transpose(image).convert("RGB")
            turned.thumbnail((KEPT_SIDE, KEPT_SIDE))
    except EditError:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        Image.DecompressionBombError,
    ) as error:
        raise EditError(
            f"“{upload.name[:40]}” is no photo that can be read; expected PNG, JPEG or WebP.",
            "photo",
        ) from error
    # Pixels alone go into a new picture: comments, places and profiles stay behind with the old
    # one.
    small = Image.new("RGB", turned.size)
    small.paste(turned)
    out = io.BytesIO()
    small.save(out, "JPEG", quality=82)
    return out.getvalue(), small.width, small.height
