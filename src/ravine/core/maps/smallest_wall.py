"""The thinnest place of a body, without the map that shows where it is."""

from __future__ import annotations

import numpy as np

from ..model.geometry import Geometry
from .figures import Thickness
from .patches import fine_patches

ALONG = 16  # patches along the longest side


def smallest_wall(geometry: Geometry) -> float | None:
    """mm, straight through the matter from the middles of patches a sixteenth of the body wide; None where nothing
    lies behind any of them."""
    found = Thickness(geometry)(fine_patches(geometry, ALONG))
    found = found[np.isfinite(found)]
    return float(found.min()) if len(found) else None
