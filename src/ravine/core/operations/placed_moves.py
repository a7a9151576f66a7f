"""What the moves of faces and of parts share: a motion along and about the handle, however it is placed."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.references import Reference
from ..rigid import Rigid, vec_of
from .axes import Placing, picked_axis
from .work import Handle, Work


def placing_handle(where: Placing, along: str, normal: Floats | None = None) -> Handle:
    """normal: where it is one of the directions to choose."""
    ways = {word: vec_of(where.along(word)) for word in "xyz"}
    if normal is not None:
        ways["normal"] = vec_of(normal)
    return Handle("distance", vec_of(where.origin), ways[along], ways=ways, choice="along", turn="angle", set_on="axis")


def slide_until(
    work: Work, until: tuple[Reference, ...] | None, middle: Floats, direction: Floats, distance: float
) -> float:
    """The distance, or the one that brings the middle (mm) to the height of what was picked."""
    return float((picked_axis(work, until[0]).point - middle) @ direction) if until else distance


def placed_motion(origin: Floats, direction: Floats, distance: float, angle: float) -> Rigid:
    """A turn about the axis through `origin`, then a slide along it.  Raises EditError for neither."""
    if abs(distance) < 1e-9 and abs(angle) < 1e-12:
        raise EditError("distance and angle are both zero, so nothing would move", field="distance")
    turn = Rigid.about(origin, direction, angle) if angle else Rigid.slide(np.zeros(3))
    return Rigid.of(turn.turn, turn.shift + distance * direction)
