"""A drawing as scripts make one: every word is an edit of the model."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

import numpy as np

from .drawing.drawn_view import SourcedLine, draw_view
from .drawing.ink import Pen
from .drawing.items import KINDS, Setting
from .drawing.projection import on_paper
from .errors import EditError
from .local.surfaces import Floats
from .model.drawing_sheet import DrawnSheet
from .model.records import DRAWINGS
from .operations.drawing_sheets import FORMATS, drawing_files, sheet_called
from .operations.work import Work

if TYPE_CHECKING:
    from .model.geometry import GeometryStore
    from .model.snapshot import Snapshot
    from .sketch.plane_curves import PlaneCurve


class Edited(Protocol):
    """What of a Model it takes."""

    geometry: GeometryStore

    @property
    def snapshot(self) -> Snapshot: ...

    def do_named(self, name: str, values: Mapping[str, Any]) -> Any: ...


@dataclass(frozen=True, eq=False)
class PaperLine:
    """kind: edge or outline; visible; smooth: faces meet in it without a kink; source: id of the edge, or of the face
    whose outline it is, with the place that shows it, empty for what a cut made; curve: mm on the paper."""

    kind: str
    visible: bool
    smooth: bool
    source: str
    curve: PlaneCurve


@dataclass(frozen=True)
class ViewFace:
    """A view of a sheet; number: by which edits know it."""

    sheet: SheetFace
    number: int

    @property
    def lines(self) -> list[PaperLine]:
        """As they are now.  Raises EditError where it cannot be drawn."""
        model, drawn_on = self.sheet.model, self.sheet.record
        view = drawn_on.views[self.number]
        shift = _place(view)
        drawn = draw_view(model.snapshot, model.geometry, drawn_on, view)
        return [_line(line, view.scale, shift) for line in drawn.lines]

    def section(self, **values: Any) -> ViewFace:
        """line, toward, half …: as the edit “cut view” has them."""
        return self.sheet.laid("cut view", view=self.number, **values)

    def detail(self, middle: Sequence[float], radius: Any, **values: Any) -> ViewFace:
        return self.sheet.laid("detail view", view=self.number, middle=list(middle), radius=radius, **values)

    def beside(self, side: str, **values: Any) -> ViewFace:
        """In line with this one, seen from a side of it: left, right, above, below."""
        return self.sheet.laid("add view", beside=self.number, side=side, **values)


def _place(view: Any) -> Floats:
    shift = np.array(view.at)
    return shift - view.scale * np.array(view.circle[:2]) if view.circle else shift


def _line(line: SourcedLine, scale: float, shift: Floats) -> PaperLine:
    kind = "outline" if line.source.startswith("f") else "edge"
    curve = on_paper(line.curve, scale, shift)
    return PaperLine(kind, line.layer != "hidden", line.layer == "smooth", line.source, curve)


@dataclass(frozen=True)
class Written:
    """value: in mm, or rad of an angle; None where it has several or none; text: what it says."""

    number: int
    value: float | None
    values: tuple[float, ...]
    text: str


class SheetFace:
    """Lengths on the paper are mm, those of the model in its units or text with a unit."""

    def __init__(self, model: Edited, **values: Any) -> None:
        self.model = model
        before = set(model.snapshot.kept(DRAWINGS))
        model.do_named("begin sheet", values)
        (self._number,) = set(model.snapshot.kept(DRAWINGS)) - before

    @property
    def record(self) -> DrawnSheet:
        rows = self.model.snapshot.kept(DRAWINGS)
        if self._number not in rows:
            raise EditError("this sheet was taken away")
        found: DrawnSheet = rows[self._number]
        return found

    @property
    def name(self) -> str:
        return self.record.name

    @property
    def views(self) -> list[ViewFace]:
        return [ViewFace(self, number) for number in self.record.views]

    def laid(self, edit: str, **values: Any) -> ViewFace:
        before = set(self.record.views)
        self.model.do_named(edit, {**values, "sheet": self.name})
        (number,) = set(self.record.views) - before
        return ViewFace(self, number)

    def view(self, direction: str = "front", section: Mapping[str, Any] | None = None, **values: Any) -> ViewFace:
        """direction: as “add view” has them; section: values of “cut view” for a cut through it instead."""
        found = self.laid("add view", direction=direction, **values)
        return found if section is None else found.section(**section)

    def dimension(self, view: ViewFace, of: Sequence[str], kind: str = "distance", **values: Any) -> Written:
        return self.write(kind, view, of, **values)

    def write(self, kind: str, view: ViewFace | None = None, of: Sequence[str] = (), **values: Any) -> Written:
        """words of the item (tolerance, way, text …) besides at and near.  Raises EditError."""
        places: dict[str, Any] = {key: values.pop(key) for key in ("at", "near") if key in values}
        before = set(self.record.items)
        self.model.do_named("write on sheet", {
            "kind": kind, "on": list(of), "words": {k: str(v) for k, v in values.items()}, "sheet": self.name, **places,
            **({"view": view.number} if view is not None else {}),
        })  # fmt: skip
        (number,) = set(self.record.items) - before
        return self.written(number)

    def written(self, number: int) -> Written:
        """As it is now.  Raises EditError where there is none, and where it lost what it was about."""
        sheet = self.record
        item = sheet.items.get(number)
        if item is None:
            raise EditError(f"nothing on {sheet.name} has the number {number}")
        told = KINDS[item.kind](Setting(self.model.snapshot, self.model.geometry, sheet, item, Pen("dimensions")))
        return Written(number, told.value, told.values, told.text)

    def propose(self) -> list[Written]:
        before = set(self.record.items)
        self.model.do_named("propose sizes", {"sheet": self.name})
        return [self.written(n) for n in self.record.items if n not in before]

    def save(self, path: str | os.PathLike[str]) -> Path:
        """As pdf, dxf or svg, by the ending.  Raises EditError for another."""
        target = Path(path)
        kind = target.suffix[1:].lower()
        if kind not in FORMATS:
            raise EditError(f"a drawing is saved as {', '.join(FORMATS)}, not “{kind[:10]}”")
        work = Work(self.model.snapshot, self.model.geometry)
        files, _ = drawing_files(work, [sheet_called(work.snapshot, self.name)], kind)
        (data,) = files.values()
        target.write_bytes(data)
        return target
