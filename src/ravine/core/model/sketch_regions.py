"""The closed regions of a sketch and how free it is, worked out once as long as it stays the same."""

from __future__ import annotations

import json
from functools import lru_cache

from ..errors import EditError
from ..sketch.entities import Sketch
from ..sketch.regions import Region, regions
from ..sketch.solver import Freedom, freedom
from .snapshot import area_place

MANY = 400  # curves


def regions_of_sketch(sketch: Sketch) -> tuple[Region, ...]:
    """The largest first."""
    return _areas(json.dumps(sketch.to_json()))


def region_named(sketch: Sketch, ident: str) -> Region:
    """The area a name points at.  Raises EditError when there is none any more."""
    place = area_place(ident)
    found = next((a for a in reversed(regions_of_sketch(sketch)) if a.covers(place)), None)
    if found is None:
        raise EditError(f"no closed area of {sketch.name} lies around {place[0]:g}, {place[1]:g} any more", [ident])
    return found


@lru_cache(maxsize=64)
def _areas(text: str) -> tuple[Region, ...]:
    return tuple(regions(Sketch.from_json(json.loads(text))))


@lru_cache(maxsize=64)
def _freedom(text: str) -> Freedom:
    return freedom(Sketch.from_json(json.loads(text)))


def freedom_of_sketch(sketch: Sketch) -> Freedom | None:
    """None for a sketch so large that it would be felt with every look."""
    return _freedom(json.dumps(sketch.to_json())) if len(sketch.curves) <= MANY else None
