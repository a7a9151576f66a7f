"""Sheets of drawings: what is on them and where.  Lines are never kept, only what they are drawn from."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from ..rigid import Vec

Point2 = tuple[float, float]
VIEW_KINDS = ("plain", "section", "detail", "flat")
ITEM_KINDS = (
    "distance", "angle", "radius", "diameter", "ordinate", "hole", "thread", "chamfer", "datum", "tolerance", "surface",
    "edges", "weld", "centre", "bolt circle", "note", "balloon", "parts list", "hole table", "bend table", "revisions",
)  # fmt: skip


@dataclass(frozen=True)
class DrawnView:
    """nodes: places that it shows, none for all; eye: unit direction towards the one who looks, right: what lies level,
    both in the model; about: the place (mm in the model) that stands on the paper at `at` (mm from the lower left);
    scale: of the paper; parent: the view that it stays in line with, or is a section or a detail of; hidden, smooth:
    whether hidden lines, and edges without a kink, are drawn; letter: by which sections and details are called;
    cut: corners of the cutting line of a section, mm in its parent; half: whether the matter is left whole beyond the
    last corner; turned: whether its slanting legs are turned into its plane; whole: bodies that the section does
    not cut; ribs: whether ribs that it runs along are not hatched; circle: of a detail, middle and radius, mm in
    its parent; gaps: of a broken view, (along x?, from, to) mm; apart: name of the exploded arrangement; body: of
    a flat."""

    id: int
    kind: str
    eye: Vec
    right: Vec
    about: Vec
    at: Point2
    scale: float
    nodes: tuple[int, ...] = ()
    parent: int | None = None
    hidden: bool = False
    smooth: bool = False
    letter: str = ""
    cut: tuple[Point2, ...] = ()
    half: bool = False
    whole: tuple[int, ...] = ()
    circle: tuple[float, float, float] | None = None
    gaps: tuple[tuple[bool, float, float], ...] = ()
    apart: str = ""
    body: int | None = None
    turned: bool = False
    ribs: bool = True

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> DrawnView:
        triples = {key: tuple(data[key]) for key in ("eye", "right", "about", "at", "nodes", "whole")}
        cut = tuple((float(x), float(y)) for x, y in data["cut"])
        gaps = tuple((bool(k), float(a), float(b)) for k, a, b in data["gaps"])
        circle = tuple(data["circle"]) if data["circle"] else None
        return cls(**{**data, **triples, "cut": cut, "gaps": gaps, "circle": circle})


@dataclass(frozen=True)
class DrawnItem:
    """kind: of ITEM_KINDS; view: whose lines it is about, None for what is about the sheet; on: picked things; near:
    where in the view (mm) each was picked, which tells the two sides of a round apart; at: mm on the paper from the
    place of the view, or of the sheet; words: what it says, by name."""

    id: int
    kind: str
    at: Point2
    view: int | None = None
    on: tuple[str, ...] = ()
    near: tuple[Point2, ...] = ()
    words: Mapping[str, str] = field(default_factory=dict)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> DrawnItem:
        near = tuple((float(x), float(y)) for x, y in data["near"])
        return cls(**{**data, "at": tuple(data["at"]), "on": tuple(data["on"]), "near": near})


@dataclass(frozen=True)
class DrawnSheet:
    """size: name of the paper; first: whether views lie in the first angle; says: fields of the title block by name."""

    id: int
    name: str
    size: str = "A3"
    first: bool = True
    views: Mapping[int, DrawnView] = field(default_factory=dict)
    items: Mapping[int, DrawnItem] = field(default_factory=dict)
    says: Mapping[str, str] = field(default_factory=dict)

    def to_json(self) -> dict[str, Any]:
        rows = {"views": [asdict(v) for v in self.views.values()], "items": [asdict(i) for i in self.items.values()]}
        return {**self.__dict__, **rows, "says": dict(self.says)}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> DrawnSheet:
        views = [DrawnView.from_json(v) for v in data["views"]]
        items = [DrawnItem.from_json(i) for i in data["items"]]
        return cls(**{**data, "views": {v.id: v for v in views}, "items": {i.id: i for i in items}})

    def with_views(self, views: Iterable[DrawnView]) -> DrawnSheet:
        return replace(self, views={**self.views, **{v.id: v for v in views}})

    def with_items(self, items: Iterable[DrawnItem]) -> DrawnSheet:
        return replace(self, items={**self.items, **{i.id: i for i in items}})

    def below(self, view: int) -> set[int]:
        """A view with all that hang on it."""
        found = {view}
        while more := {v.id for v in self.views.values() if v.parent in found} - found:
            found |= more
        return found
