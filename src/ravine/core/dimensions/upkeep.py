"""What dimensions measure is kept with them from state to state, so that formulas know it without any geometry."""

from __future__ import annotations

from dataclasses import replace

from ..errors import RavineError
from ..model.dimension import BodyDimension
from ..model.geometry import GeometryStore
from ..model.records import DIMENSIONS
from ..model.snapshot import Snapshot
from .reading import read_dimension


def follow_dimensions(geometry: GeometryStore, before: Snapshot, after: Snapshot) -> Snapshot:
    """After an edit: read anew where something they are on changed."""
    rows = after.kept(DIMENSIONS)
    if not rows or (after.bodies == before.bodies and after.nodes == before.nodes and rows == before.kept(DIMENSIONS)):
        return after
    fresh = {number: _read(geometry, before, after, item) for number, item in rows.items()}
    return after if fresh == rows else after.with_kept(DIMENSIONS, fresh)


def _read(geometry: GeometryStore, before: Snapshot, after: Snapshot, item: BodyDimension) -> BodyDimension:
    same = all(before.bodies.get(b) is after.bodies.get(b) for b in item.bodies) and before.nodes is after.nodes
    if same and before.kept(DIMENSIONS).get(item.id) == item:
        return item
    try:
        return replace(item, value=read_dimension(after, geometry, item).value)
    except RavineError:  # it lost its face, which the list of dimensions tells in words
        return replace(item, value=None)
