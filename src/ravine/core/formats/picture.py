"""PNG and JPEG pictures, to draw over."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from ..errors import FormatError
from .reading import Imported, Progress, ReadOptions

MOST_PIXELS = 60_000_000
WIDEST = 2400  # px kept; more shows nothing on a screen


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """The picture upright and no larger than is of use.  Raises FormatError."""
    progress(0.2, "reading the picture")
    try:
        with Image.open(path) as found:
            if found.width * found.height > MOST_PIXELS:
                raise FormatError(f"the picture has {found.width} × {found.height} pixels; up to 60 million are read")
            picture = ImageOps.exif_transpose(found).convert("RGBA")
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise FormatError(f"the picture cannot be read: {str(error)[:120] or 'it is damaged'}") from error
    picture.thumbnail((WIDEST, WIDEST))
    out = io.BytesIO()
    picture.save(out, "PNG", optimize=True)
    return Imported([], [], picture=(picture.width, picture.height, out.getvalue()))
