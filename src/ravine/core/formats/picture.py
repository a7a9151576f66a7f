"""PNG and JPEG pictures, to draw over."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from ..errors import FormatError
from .reading import Imported, Progress, ReadOptions

MOST_PIXELS = 60_000_000
LONGEST = 20_000  # px of a side
WIDEST = 2400  # px kept; more shows nothing on a screen


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """The picture upright and no larger than is of use.  Raises FormatError."""
    progress(0.2, "reading the picture")
    try:
        with Image.open(path) as found:
            if found.width * found.height > MOST_PIXELS or max(found.size) > LONGEST:
                raise FormatError(
                    f"the picture has {found.width} × {found.height} pixels; up to 60 million in all and {LONGEST:,} a "
                    f"side are read"
                )
            picture = ImageOps.exif_transpose(found).convert("RGBA")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise FormatError("the picture cannot be read: it is damaged or was cut short", field="path") from error
    picture.thumbnail((WIDEST, WIDEST))
    out = io.BytesIO()
    picture.save(out, "PNG", optimize=True)
    return Imported([], [], picture=(picture.width, picture.height, out.getvalue()))
