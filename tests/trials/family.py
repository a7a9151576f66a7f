"""What a family of parts is: a way to build one from named sizes, ranges to draw these from, and trials."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from inspect import signature
from types import SimpleNamespace
from typing import Any

from ravine.core.kernel.shapes import Shape

Sizes = dict[str, float]
Point = Sequence[float]


@dataclass(frozen=True)
class Trial:
    """edit: its name; on: a point of each face (or edge, or line for an axis) by the field that picks it; lengths:
    fields in mm; values: all others; after: the sizes that are others then."""

    edit: str
    on: dict[str, list[Point]]
    after: Sizes
    lengths: dict[str, float] = field(default_factory=dict)
    values: dict[str, Any] = field(default_factory=dict)
    name: str = ""

    def __str__(self) -> str:
        return self.name


@dataclass
class Family:
    name: str
    make: Callable[..., Shape]
    ranges: dict[str, tuple[float, float]]
    _trials: Callable[[Any], Iterable[Trial]] | None = None

    def trials_of(self, way: Callable[[Any], Iterable[Trial]]) -> Callable[[Any], Iterable[Trial]]:
        """Decorator of a function from sizes to trials."""
        self._trials = way
        return way

    def sizes(self, seed: int) -> Sizes:
        """Drawn from the ranges, to a tenth; and the others as they are by default."""
        draw = random.Random(f"{self.name}{seed}")
        others = {k: p.default for k, p in signature(self.make).parameters.items() if k not in self.ranges}
        return {key: round(draw.uniform(low, high), 1) for key, (low, high) in self.ranges.items()} | others

    def trials(self, sizes: Sizes) -> list[Trial]:
        assert self._trials is not None
        return list(self._trials(SimpleNamespace(**sizes)))


FAMILIES: dict[str, Family] = {}


def family(**ranges: tuple[float, float]) -> Callable[[Callable[..., Shape]], Family]:
    """Decorator of the function that builds a part; a size in no range has a default there."""

    def wrap(make: Callable[..., Shape]) -> Family:
        FAMILIES[make.__name__] = Family(make.__name__, make, ranges)
        return FAMILIES[make.__name__]

    return wrap


# --- the edits that trials are made of -----------------------------------------------------------------------------


def push(name: str, at: Point, distance: float, **after: float) -> Trial:
    return Trial("push", {"faces": [at]}, after, {"distance": distance}, name=name)


def set_size(name: str, at: Point | list[Point], size: float, measure: str = "diameter", **after: float) -> Trial:
    on = at if isinstance(at, list) else [at]
    return Trial("resize", {"faces": on}, after, {"size": size}, {"measure": measure, "chamfers": "staying"}, name)


def move(name: str, at: Point | list[Point], towards: Point, distance: float, **after: float) -> Trial:
    """Towards where the flat face at a point looks."""
    on = at if isinstance(at, list) else [at]
    return Trial("move faces", {"faces": on, "axis": [towards]}, after, {"distance": distance}, {"along": "z"}, name)


def remove(name: str, *at: Point, extent: str = "needed", **after: float) -> Trial:
    return Trial("remove", {"faces": list(at)}, after, {}, {"extent": extent}, name)


def round_edges(name: str, at: Point, radius: float, **after: float) -> Trial:
    return Trial("round", {"edges": [at]}, after, {"size": radius}, name=name)


def chamfer(name: str, at: Point, width: float, **after: float) -> Trial:
    return Trial("chamfer", {"edges": [at]}, after, {"size": width}, name=name)


def tilt(name: str, at: Point, about: Point, angle: float, **after: float) -> Trial:
    return Trial("tilt", {"faces": [at], "axis": [about]}, after, {}, {"angle": f"{angle}°"}, name)
