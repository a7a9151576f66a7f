"""What one item of a sheet is drawn with, and the table of kinds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from ...errors import EditError
from ...local.surfaces import Floats
from ...model.drawing_sheet import DrawnItem, DrawnSheet, DrawnView, Point2
from ...model.geometry import GeometryStore
from ...model.references import Places, Reference
from ...model.snapshot import Snapshot
from ...units import LENGTHS, parse_length
from ..anchors import Seen, seen_as
from ..clipping import Breaks
from ..drawn_view import breaks_of
from ..ink import Pen
from ..projection import ViewFrame
from ..standing import shown_at

EXTENSION = 2.0  # mm beyond the dimension line
ARROW = 3.0
ABOVE = 0.9  # mm between a line and the letters on it
Native = Callable[[Any], None]  # writes to the space of a DXF document


@dataclass
class Told:
    """value: mm, or rad of an angle; values: where one item has several; text: what it says; native: writes it to DXF
    as a dimension of its own."""

    value: float | None = None
    values: tuple[float, ...] = ()
    text: str = ""
    native: Native | None = None


NOTHING = "this is written on nothing yet; pick what it is about"


@dataclass
class Setting:
    snapshot: Snapshot
    geometry: GeometryStore
    sheet: DrawnSheet
    item: DrawnItem
    pen: Pen
    places: Places = field(init=False)

    def __post_init__(self) -> None:
        self.places = Places(self.snapshot)

    @cached_property
    def view(self) -> DrawnView:
        found = self.sheet.views.get(self.item.view or 0)
        if found is None:
            raise EditError("the view that this was written on is no more")
        return found

    @cached_property
    def frame(self) -> ViewFrame:
        return ViewFrame.of(self.view)

    @cached_property
    def breaks(self) -> Breaks | None:
        return breaks_of(self.view)

    def paper(self, flat: Floats) -> Floats:
        """A place in the view's plane (mm), on the sheet."""
        place = flat if self.breaks is None else self.breaks.moved(flat)
        if self.view.circle is not None:
            place = place - np.array(self.view.circle[:2])
        return np.asarray(self.view.scale * place + np.array(self.view.at))

    @cached_property
    def at(self) -> Floats:
        """Where the item stands on the sheet."""
        base = np.array(self.view.at) if self.item.view is not None else np.zeros(2)
        return np.asarray(base + np.array(self.item.at))

    @property
    def first(self) -> Reference:
        """The first of what it is about.  Raises EditError."""
        if not self.item.on:
            raise EditError(NOTHING)
        return self.places.resolve(self.item.on[0])

    @cached_property
    def seen(self) -> list[Seen]:
        """What it is about.  Raises EditError (UnknownId) for what an edit ended."""
        near = self.item.near
        rows = []
        for k, text in enumerate(self.item.on):
            spot = near[k] if k < len(near) else None
            rows.append(seen_as(self.geometry, self.shown(self.places.resolve(text), spot), self.frame, spot))
        if not rows:
            raise EditError(NOTHING)
        return rows

    def shown(self, reference: Reference, near: Point2 | None = None) -> Reference:
        """Where the view shows it: apart from its place, or turned with the leg of a section."""
        if reference.kind not in ("vertex", "edge", "face"):
            return reference
        return shown_at(self.snapshot, self.geometry, self.sheet, self.view, reference, near)

    def word(self, name: str, default: str = "") -> str:
        return self.item.words.get(name, default)

    def length(self, name: str) -> float | None:
        """mm; None where it is not said.  Raises EditError for what is no length."""
        text = self.word(name)
        return parse_length(text, self.snapshot.units) if text else None

    @property
    def unit(self) -> float:
        """mm of one unit of the model."""
        return LENGTHS[self.snapshot.units]

    def number(self, mm: float) -> str:
        """In units of the model, at most three places after the point."""
        text = f"{mm / self.unit:.{3 if self.unit == 1.0 else 4}f}".rstrip("0").rstrip(".")
        return text if text not in ("-0", "") else "0"


Draw = Callable[[Setting], Told]
KINDS: dict[str, Draw] = {}


def draws(kind: str) -> Callable[[Draw], Draw]:
    def enter(found: Draw) -> Draw:
        KINDS[kind] = found
        return found

    return enter
