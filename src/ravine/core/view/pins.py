"""Measures kept in the view: what one says of a state, and where it is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import RavineError
from ..model.geometry import GeometryStore, Solid
from ..model.query import ELEMENTS, Edge, Face, Vertex, things_of
from ..model.separation import between
from ..model.snapshot import Snapshot, split_id
from ..rigid import vec_of
from ..section.cut import section_plane
from ..section.exact import figures_of
from ..section.width import width_at
from ..units import LENGTHS, format_length
from .describe import describe_pick

Vec = tuple[float, float, float]


@dataclass(frozen=True)
class Pin:
    """value: in words; empty when the measure can no longer be taken, then `lost` says why.  ends: two places in the
    model that it lies between, or one place twice where it belongs, mm."""

    value: str
    ends: tuple[Vec, Vec] | None
    lost: str = ""


def pin_of(snapshot: Snapshot, geometry: GeometryStore, picked: Sequence[str], label: str) -> Pin:
    """The measure with a label of what is picked, as the state has it."""
    try:
        rows = dict(describe_pick(snapshot, geometry, picked).rows)
        ends = _ends(snapshot, geometry, picked)
    except RavineError as error:
        return Pin("", None, str(error))
    if label not in rows:
        return Pin("", ends, f"it has no {label.lower()} any more")
    return Pin(rows[label], ends)


def width_pin(snapshot: Snapshot, geometry: GeometryStore, plane: Sequence[float], at: Sequence[float],
              nodes: Sequence[str]) -> Pin:  # fmt: skip
    """The gap or wall at a place of a section, between the same parts."""
    frame = section_plane(plane)
    standing = {f"n{o.node.id}" for o in snapshot.occurrences()}
    if gone := [n for n in nodes if n not in standing]:
        return Pin("", None, f"{'a part' if len(gone) == 1 else 'both parts'} it was measured between is gone")
    try:
        found = width_at(figures_of(snapshot, geometry, frame, standing - set(nodes)), at)
    except RavineError as error:
        return Pin("", None, str(error))
    if found is None:
        return Pin("", None, "nothing lies opposite there any more")
    a, b = (frame.place(end) for end in found.ends)
    return Pin(f"{found.kind} {format_length(found.value, snapshot.units)}", (a, b))


def _ends(snapshot: Snapshot, geometry: GeometryStore, picked: Sequence[str]) -> tuple[Vec, Vec] | None:
    unit = LENGTHS[snapshot.units]
    kinds = [split_id(ident) for ident in picked]
    if kinds[0][0] == "node":
        return _middle_of(snapshot, geometry, kinds[0][1])
    if any(kind not in ELEMENTS for kind, _ in kinds):
        return None
    things = things_of(snapshot, geometry, picked)
    if len(things) == 2 and (found := between(*things)):
        a, b = (vec_of(np.asarray(place) * unit) for place in found.places)
        return a, b
    first = things[0]
    if isinstance(first, Vertex):
        at = first.point
    elif isinstance(first, Edge):
        at = first.middle
    else:
        return _on_face(first)
    spot: Vec = (at[0] * unit, at[1] * unit, at[2] * unit)
    return spot, spot


def _on_face(face: Face) -> tuple[Vec, Vec]:
    """A place on it, which its centroid need not be."""
    solid = face.scope.geometry.get(face.scope.body.shape)
    if isinstance(solid, Solid):
        place = solid.topology.middle(face.index)[0]
    else:
        place = solid.facet(face.index, 0).mean(axis=0).tolist()
    x, y, z = face.scope.matrix.point(place)
    return (x, y, z), (x, y, z)


def _middle_of(snapshot: Snapshot, geometry: GeometryStore, node: int) -> tuple[Vec, Vec] | None:
    leaf = snapshot.leaves_below(node)[0]
    found = next(o for o in snapshot.occurrences() if o.node.id == leaf)
    box = geometry.get(found.body.shape).box
    x, y, z = found.matrix.point(box.middle)
    return (x, y, z), (x, y, z)
