"""Dimensions as scripts and pages see them."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import RavineError
from ..model.dimension import ANGLE, BodyDimension
from ..model.geometry import GeometryStore
from ..model.records import DIMENSIONS
from ..model.snapshot import Snapshot, text_id
from ..rigid import Vec, vec_of
from ..units import LENGTHS
from .reading import read_dimension


@dataclass(frozen=True)
class DimensionView:
    """value: in units of the model or degrees, None where it can no longer be read, which `lost` tells; ends: places
    (mm in the model) that it is drawn between; arc: of an angle; stays: whether it is a tie; off: mm from the middle of
    its ends to where it is written, None where that is as fits."""

    id: str
    name: str
    way: str
    on: tuple[str, ...]
    value: float | None
    ends: tuple[Vec, Vec] | None
    lost: str = ""
    arc: tuple[Vec, ...] = ()
    stays: bool = False
    off: Vec | None = None


def view_dimensions(snapshot: Snapshot, geometry: GeometryStore) -> list[DimensionView]:
    return [_view(snapshot, geometry, item) for item in snapshot.kept(DIMENSIONS).values()]


def _view(snapshot: Snapshot, geometry: GeometryStore, item: BodyDimension) -> DimensionView:
    ident = text_id("dimension", item.id)
    try:
        found = read_dimension(snapshot, geometry, item)
    except RavineError as error:
        return DimensionView(ident, item.name, item.way, item.ends, None, None, str(error))
    value = math.degrees(found.value) if item.way == ANGLE else found.value / LENGTHS[snapshot.units]
    ends, arc = (vec_of(found.ends[0]), vec_of(found.ends[1])), tuple(vec_of(p) for p in found.arc)
    return DimensionView(ident, item.name, item.way, item.ends, value, ends, "", arc, item.stays is not None, item.off)
