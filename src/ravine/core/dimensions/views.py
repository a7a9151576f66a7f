"""Dimensions as scripts and pages see them."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import RavineError
from ..model.dimension import BodyDimension
from ..model.geometry import GeometryStore
from ..model.records import DIMENSIONS
from ..model.snapshot import Snapshot, text_id
from ..rigid import Vec, vec_of
from ..units import LENGTHS
from .reading import read_dimension


@dataclass(frozen=True)
class DimensionView:
    """value: in units of the model, None where it can no longer be read, which `lost` tells; ends: places (mm in the
    model) that it is drawn between."""

    id: str
    name: str
    way: str
    on: tuple[str, ...]
    value: float | None
    ends: tuple[Vec, Vec] | None
    lost: str = ""


def view_dimensions(snapshot: Snapshot, geometry: GeometryStore) -> list[DimensionView]:
    return [_view(snapshot, geometry, item) for item in snapshot.kept(DIMENSIONS).values()]


def _view(snapshot: Snapshot, geometry: GeometryStore, item: BodyDimension) -> DimensionView:
    ident = text_id("dimension", item.id)
    try:
        found = read_dimension(snapshot, geometry, item)
    except RavineError as error:
        return DimensionView(ident, item.name, item.way, item.ends, None, None, str(error))
    value = found.value / LENGTHS[snapshot.units]
    return DimensionView(ident, item.name, item.way, item.ends, value, (vec_of(found.ends[0]), vec_of(found.ends[1])))
