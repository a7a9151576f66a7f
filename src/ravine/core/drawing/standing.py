"""Where a view shows picked things: parts drawn apart are shifted, what a bent section turns is turned."""

from __future__ import annotations

import numpy as np

from ..kernel.queries import vertex_point
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnSheet, DrawnView, Point2
from ..model.geometry import GeometryStore
from ..model.references import Reference, moved
from ..model.snapshot import Snapshot
from ..rigid import IDENTITY, Rigid
from .anchors import border_of
from .drawn_view import shifts_in
from .projection import ViewFrame
from .sections.legs import legs_of, motion_at


def shown_at(
    snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, view: DrawnView, reference: Reference,
    near: Point2 | None = None,
) -> Reference:  # fmt: skip
    """The reference with the matrix that the view draws it by.  near: where in the view it was picked, mm."""
    motion = IDENTITY
    of = sheet.views.get(view.parent or 0, view) if view.kind == "detail" else view
    if reference.node is not None and (shift := shifts_in(snapshot, of).get(reference.node)) is not None:
        motion = Rigid.slide(shift)
    parent = sheet.views.get(of.parent or 0) if of.turned else None
    if parent is not None:
        place = np.array(motion.point(reference.matrix.point(_middle(geometry, reference))))
        motion = motion_at(legs_of(of, parent), ViewFrame.of(of), ViewFrame.of(parent), place, near) @ motion
    return reference if motion is IDENTITY else moved(reference, motion)


def _middle(geometry: GeometryStore, reference: Reference) -> Floats:
    """A place of it, in the body's own coordinates."""
    body, index = reference.owner
    solid = geometry.solid(body.shape)
    if reference.kind == "vertex":
        return np.array(vertex_point(solid.index.get("vertex", index)))
    if reference.kind == "edge":
        return np.asarray(solid.topology.samples(index, 3)[1])
    return np.asarray(border_of(solid, index).mean(axis=0))
