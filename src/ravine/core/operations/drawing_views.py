"""Views on sheets: laid, cut, enlarged, moved, changed."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..drawing.drawn_view import Drawn, draw_view, standard_parts
from ..drawing.free_place import free_place, taken_on
from ..drawing.layout import DIRECTIONS, ROOM, SIDES, extent, in_line, middle_of, moved_views
from ..drawing.paper import SCALES, Paper
from ..drawing.sections.legs import slants
from ..errors import EditError
from ..model.drawing_sheet import DrawnSheet, DrawnView, Point2
from ..model.records import EXPLOSIONS
from ..model.references import Reference
from ..rigid import Vec, vec_of
from ..sheet.views import flat_of
from .drawing_sheets import nodes_of, sheet_called, with_sheet
from .sheet import sheet_body
from .work import Fact, Operation, Outcome, Work

LETTERS = "ABCDEFGHJKLMNPRSTUVWYZ"  # of sections and details, without those that look alike (ISO 128-3)


def view_of(sheet: DrawnSheet, number: int | None, field: str = "view") -> DrawnView:
    """Raises EditError."""
    if number is None and len(sheet.views) == 1:
        return next(iter(sheet.views.values()))
    if number is None or number not in sheet.views:
        has = ", ".join(map(str, sheet.views)) or "none"
        raise EditError(
            f"{sheet.name} has no view {'of that number' if number is None else number}; it has {has}", field=field
        )
    return sheet.views[number]


def _told(
    work: Work, sheet: DrawnSheet, view: DrawnView, at: Point2 | None, along: Point2 | None = None
) -> Outcome:  # fmt: skip
    """With the view on its sheet, where it is asked for or else where it is free, nearest to the place that it has;
    along: as free_place has it.  What cannot be drawn is refused here."""
    drawn = draw_view(work.snapshot, work.geometry, sheet.with_views([view]), view)
    if at is None:
        taken = taken_on(work.snapshot, work.geometry, sheet)
        view = replace(view, at=free_place(Paper.of(sheet.size), taken, _own(view, drawn), view.at, along))
    after = sheet.with_views([view])
    facts = (
        Fact("lines", "lines", float(len(drawn.lines)), "count"),
        Fact("view", "view", float(view.id), "number", "quiet"),
    )
    return Outcome(
        with_sheet(replace(work.snapshot, next_id=max(work.snapshot.next_id, view.id + 1)), after), facts, drawn.missing
    )


def _own(view: DrawnView, drawn: Drawn) -> tuple[float, float, float, float]:
    """What it covers around its place, mm on the paper, with its letter."""
    x, y = view.circle[:2] if view.circle else (0.0, 0.0)
    low_x, low_y, high_x, high_y = drawn.box
    above = 10.0 if view.letter else 0.0
    return (view.scale * (low_x - x), view.scale * (low_y - y), view.scale * (high_x - x),
            view.scale * (high_y - y) + above)  # fmt: skip


def _free(sheet: DrawnSheet) -> str:
    used = {v.letter for v in sheet.views.values()}
    return next((c for c in LETTERS if c not in used), "Z")


@dataclass(frozen=True, kw_only=True)
class AddView(Operation):
    """direction: of layout.DIRECTIONS, or flat; beside: number of a view, then side says from where one looks at what
    it shows; scale: 0 for what fits; at: mm on the sheet, None for the middle of what is free."""

    parts: tuple[Reference, ...] = ()
    sheet: str = ""
    direction: str = "front"
    eye: tuple[float, float, float] | None = None
    beside: int | None = None
    side: str = "left"
    scale: float = 0.0
    at: Point2 | None = None
    hidden: bool = False
    smooth: bool = False
    apart: str = ""

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        sheet = sheet_called(snapshot, self.sheet)
        if self.apart and self.apart not in snapshot.kept(EXPLOSIONS):
            raise EditError(f"nothing is drawn apart under the name {self.apart}", field="apart")
        number = snapshot.next_id
        if self.direction == "flat":
            return _told(work, sheet, self._flat(work, sheet, number), self.at)
        nodes = nodes_of(snapshot, self.parts)
        if self.beside is not None:
            if self.side not in SIDES:
                raise EditError(f"a side is one of {', '.join(SIDES)}", field="side", nearest="left")
            parent = view_of(sheet, self.beside, "beside")
            view = replace(self._beside(work, sheet, parent, number), hidden=self.hidden, smooth=self.smooth)
            return _told(work, sheet, view, view.at)  # in line, wherever that is
        eye, right = self._direction()
        low, high = middle_of(snapshot, work.geometry, nodes)
        scale = self.scale or _fitting(sheet, extent(low, high, eye, right))
        view = DrawnView(number, "plain", eye, right, vec_of((low + high) / 2), self.at or _spot(sheet), scale, nodes,
                         None, self.hidden, self.smooth, apart=self.apart)  # fmt: skip
        return _told(work, sheet, view, self.at)

    def _direction(self) -> tuple[Vec, Vec]:
        if self.eye is not None:
            eye = np.array(self.eye)
            size = float(np.linalg.norm(eye))
            if size < 1e-9:
                raise EditError("the direction to look from has no length", field="eye")
            eye = eye / size
            right = np.cross([0.0, 0.0, 1.0], eye)
            right = right / np.linalg.norm(right) if np.linalg.norm(right) > 1e-9 else np.array([1.0, 0.0, 0.0])
            return vec_of(eye), vec_of(right)
        if self.direction not in DIRECTIONS:
            raise EditError(
                f"one looks from {', '.join(DIRECTIONS)}, or draws the flat", field="direction", nearest="front"
            )
        return DIRECTIONS[self.direction]

    def _beside(self, work: Work, sheet: DrawnSheet, parent: DrawnView, number: int) -> DrawnView:
        probe = in_line(sheet, parent, self.side, number, None, (0.0, 0.0))
        gap = _gap(work, sheet, parent, probe)
        return in_line(sheet, parent, self.side, number, self.at, gap)

    def _flat(self, work: Work, sheet: DrawnSheet, number: int) -> DrawnView:
        body, _ = sheet_body(work.snapshot, self.parts, "parts")
        flat = flat_of(work.snapshot, work.geometry, body)
        scale = self.scale or _fitting(sheet, (flat.box[2] - flat.box[0], flat.box[3] - flat.box[1]))
        return DrawnView(number, "flat", (0.0, 0.0, 1.0), (1.0, 0.0, 0.0), (0.0, 0.0, 0.0), self.at or _spot(sheet),
                         scale, body=body.id)  # fmt: skip


def _gap(work: Work, sheet: DrawnSheet, parent: DrawnView, view: DrawnView) -> tuple[float, float]:
    """From middle to middle, level and upright, so that two views stand clear of one another."""
    one = draw_view(work.snapshot, work.geometry, sheet, parent).box
    own = draw_view(work.snapshot, work.geometry, sheet.with_views([view]), view).box
    x, y = (parent.scale * (one[k + 2] - one[k] + own[k + 2] - own[k]) / 2 + ROOM for k in (0, 1))
    return x, y


def _fitting(sheet: DrawnSheet, size: tuple[float, float]) -> float:
    """That of the other views where it fits on the sheet, else the largest that does."""
    low_x, low_y, high_x, high_y = Paper.of(sheet.size).room
    wide, high = 0.6 * (high_x - low_x), 0.6 * (high_y - low_y)
    usual = [v.scale for v in sheet.views.values() if v.parent is None and v.kind == "plain"][:1]
    return next((s for s in (*usual, *SCALES) if s * size[0] <= wide and s * size[1] <= high), SCALES[-1])


def _spot(sheet: DrawnSheet) -> Point2:
    low_x, low_y, high_x, high_y = Paper.of(sheet.size).room
    return (low_x + high_x) / 2, low_y + 0.62 * (high_y - low_y)


@dataclass(frozen=True, kw_only=True)
class CutView(Operation):
    """line: corners of the cutting line in the plane of the view, mm; toward: the side of the view that one looks from,
    above, below, left or right; half: whether it ends at its last corners; turned: whether legs that slant are turned
    into the plane of the others, which half a cut never does; ribs: whether those that it runs along are left whole."""

    view: int | None = None
    line: tuple[Point2, ...] = ()
    toward: str = "below"
    sheet: str = ""
    half: bool = False
    turned: bool = True
    ribs: bool = True
    at: Point2 | None = None
    letter: str = ""
    whole: tuple[Reference, ...] = ()

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        parent = view_of(sheet, self.view)
        if parent.kind not in ("plain", "section"):
            raise EditError("a section is taken in a view or another section", field="view")
        if self.toward not in SIDES:
            raise EditError(f"one looks from {', '.join(SIDES)}", field="toward", nearest="below")
        box = draw_view(work.snapshot, work.geometry, sheet, parent).box
        line = self.line or _middle_line(box, self.toward)
        if len(line) < 2 or min(np.hypot(*np.subtract(a, b)) for a, b in itertools.pairwise(line)) < 1e-6:
            raise EditError("a cutting line has two corners or more, apart from one another", field="line")
        number = work.snapshot.next_id
        whole = tuple(dict.fromkeys((*standard_parts(work.snapshot), *(r.body.id for r in self.whole if r.body))))
        turned = self.turned and not self.half and slants(line, np.array(SIDES[self.toward], float))
        view = in_line(sheet, parent, self.toward, number, None, (0.0, 0.0))
        cut = replace(view, kind="section", letter=self.letter or _free(sheet), cut=tuple(line), half=self.half,
                      turned=turned, ribs=self.ribs, whole=whole, hidden=False)  # fmt: skip
        gap = _gap(work, sheet, parent, cut)
        lined = in_line(sheet, parent, self.toward, number, None, gap).at
        way = np.subtract(lined, parent.at) / math.dist(lined, parent.at)
        return _told(work, sheet, replace(cut, at=self.at or lined), self.at, (float(way[0]), float(way[1])))


def _middle_line(box: Sequence[float], toward: str) -> tuple[Point2, ...]:
    x, y = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    return ((box[0], y), (box[2], y)) if SIDES[toward][1] else ((x, box[1]), (x, box[3]))


@dataclass(frozen=True, kw_only=True)
class DetailView(Operation):
    """middle, radius: in the plane of the view, mm; scale: 0 for the next larger one that suits."""

    view: int | None = None
    middle: Point2 = (0.0, 0.0)
    radius: float = 10.0
    sheet: str = ""
    scale: float = 0.0
    at: Point2 | None = None
    letter: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        parent = view_of(sheet, self.view)
        if parent.kind == "detail":
            raise EditError("a detail is taken from a view, not from another detail", field="view")
        if not 0 < self.radius < 1e6:
            raise EditError("the circle of a detail has a radius above 0", field="radius")
        scale = self.scale or min((s for s in SCALES if s >= 1.9 * parent.scale), default=SCALES[0])
        number = work.snapshot.next_id
        view = DrawnView(number, "detail", parent.eye, parent.right, parent.about, self.at or _spot(sheet), scale,
                         parent.nodes, parent.id, parent.hidden, parent.smooth, self.letter or _free(sheet),
                         circle=(*self.middle, self.radius))  # fmt: skip
        if not draw_view(work.snapshot, work.geometry, sheet.with_views([view]), view).lines:
            raise EditError("nothing lies within that circle", field="middle")
        return _told(work, sheet, view, self.at)


@dataclass(frozen=True, kw_only=True)
class SetView(Operation):
    """What is None stays as it is.  gap: (along, from, to): along x or y of the view, mm; none takes the breaks
    away."""

    view: int | None = None
    sheet: str = ""
    scale: float | None = None
    hidden: bool | None = None
    smooth: bool | None = None
    gap: tuple[str, float, float] | None = None
    mend: bool = False
    apart: str | None = None

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        view = view_of(sheet, self.view)
        after = replace(view, hidden=view.hidden if self.hidden is None else self.hidden,
                        smooth=view.smooth if self.smooth is None else self.smooth,
                        apart=view.apart if self.apart is None else self.apart)  # fmt: skip
        rows = [after]
        if self.scale is not None:
            if not 1e-4 <= self.scale <= 1e4:
                raise EditError("a scale goes from 1:10000 to 10000:1", field="scale", nearest="1:1")
            factor = self.scale / view.scale
            rows = [replace(after, scale=self.scale), *_scaled_below(sheet, view, factor)]
        if self.mend:
            rows[0] = replace(rows[0], gaps=())
        if self.gap is not None:
            way, low, high = self.gap
            if high - low < 1e-6 or view.kind in ("detail", "flat"):
                raise EditError("a break reaches from one place of a view to another farther on", field="high")
            rows[0] = replace(rows[0], gaps=(*rows[0].gaps, (way == "x", low, high)))
        changed = sheet.with_views(rows)
        draw_view(work.snapshot, work.geometry, changed, rows[0])
        return Outcome(with_sheet(work.snapshot, changed))


def _scaled_below(sheet: DrawnSheet, view: DrawnView, factor: float) -> list[DrawnView]:
    """Views in line go along."""
    return [replace(v, scale=v.scale * factor) for v in sheet.views.values()
            if v.id in sheet.below(view.id) - {view.id} and v.kind != "detail"]  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class MoveOnSheet(Operation):
    """things: numbers of views and items; step: mm on the sheet.  Views keep in line with those they hang on."""

    things: tuple[int, ...] = ()
    step: Point2 = (0.0, 0.0)
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        missing = [n for n in self.things if n not in sheet.views and n not in sheet.items]
        if missing or not self.things:
            raise EditError(
                f"{sheet.name} has nothing with the number {missing[0] if missing else '–'}", field="things"
            )
        reach = sum(Paper.of(sheet.size).room)
        if not all(abs(v) < reach for v in self.step):
            raise EditError("that lies beyond the paper", field="step")
        after = sheet
        for number in self.things:
            if number in after.views:
                after = after.with_views(moved_views(after, number, self.step))
            else:
                item = after.items[number]
                after = after.with_items([replace(item, at=(item.at[0] + self.step[0], item.at[1] + self.step[1]))])
        return Outcome(with_sheet(work.snapshot, after))


@dataclass(frozen=True, kw_only=True)
class DropFromSheet(Operation):
    """A view goes with all that hangs on it and is written on it."""

    things: tuple[int, ...] = ()
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        missing = [n for n in self.things if n not in sheet.views and n not in sheet.items]
        if missing or not self.things:
            raise EditError(
                f"{sheet.name} has nothing with the number {missing[0] if missing else '–'}", field="things"
            )
        gone = {v for n in self.things if n in sheet.views for v in sheet.below(n)} | set(self.things)
        views = {n: v for n, v in sheet.views.items() if n not in gone}
        items = {n: i for n, i in sheet.items.items() if n not in gone and (i.view is None or i.view in views)}
        return Outcome(with_sheet(work.snapshot, replace(sheet, views=views, items=items)),
                       (Fact("gone", "taken away", float(len(sheet.views) + len(sheet.items) - len(views) -
                             len(items)), "count", one="taken away"),))  # fmt: skip
