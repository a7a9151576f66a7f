"""A first set of sizes for a drawing: overall sizes, holes with their notes and places, centre lines.  A start to edit.

Nothing is laid on anything else: every item is drawn where it is tried, and goes where its letters are free.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import RavineError
from ..features.recogniser import features_of
from ..features.repeats import repeats_of
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnItem, DrawnSheet, DrawnView
from ..model.geometry import GeometryStore
from ..model.references import Places
from ..model.snapshot import Occurrence, Snapshot, split_id, text_id
from .anchors import seen_as
from .drawn_view import Drawn, SourcedLine, draw_view, shown_in, tight_box
from .ink import Mark, Pen
from .items import KINDS, Setting
from .paper import TITLE
from .projection import ViewFrame
from .room import Room
from .sheet import SheetInk, ink_sheet

NEXT = 9.0  # mm from one row of sizes to the next
FIRST_ROW = 11.0  # mm from the view
STACKED = 4  # so many different places are written as a stack of sizes; more of them as coordinates
AT_EDGE = 1e-4  # mm


@dataclass(frozen=True)
class Proposed:
    """items: placed; left: what found no free place, in words."""

    items: tuple[DrawnItem, ...]
    left: tuple[str, ...]


def propose(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, numbers: Iterator[int]) -> Proposed:
    """For every view that looks along an axis of what it shows.  numbers: ids for new items."""
    return _Proposal(snapshot, geometry, sheet, numbers).done()


class _Proposal:
    def __init__(
        self, snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, numbers: Iterator[int]
    ) -> None:  # fmt: skip
        self.snapshot, self.geometry, self.sheet, self.numbers = snapshot, geometry, sheet, numbers
        self.places = Places(snapshot)
        self.ink: SheetInk = ink_sheet(snapshot, geometry, sheet)
        self.room = Room(self.ink.paper)
        for number, marks in self.ink.views.items():
            self.room.take_view(number, marks)
        for marks in self.ink.items.values():
            self.room.take(marks, written=True)
        self.items: list[DrawnItem] = []
        self.left: list[str] = []
        self.spans: set[tuple] = set()  # overall sizes that are written already, by direction in space
        self.known = {(i.kind, i.on) for i in sheet.items.values()}
        self.noted: set[tuple[int, int]] = set()

    def done(self) -> Proposed:
        views = [v for v in self.sheet.views.values() if _is_plain(v)]
        found = {v.id: draw_view(self.snapshot, self.geometry, self.sheet, v) for v in views}
        rows = {v.id: {"x": FIRST_ROW, "y": FIRST_ROW} for v in views}
        shown = {o.body.id for v in self.sheet.views.values() for o in shown_in(self.snapshot, v)}
        alone = len(shown) < 2
        if alone:
            for view in views:
                self._centres(view)
            for view in views:
                self._hole_places(view, found[view.id], rows[view.id])
        for view in views:
            self._overall(view, found[view.id], rows[view.id])
        if alone:
            for view in views:
                self._hole_notes(view)
        else:
            self._numbers_of_parts(found)
        return Proposed(tuple(self.items), tuple(self.left))

    # --- trying ----------------------------------------------------------------------------------------------------

    def _draw(self, item: DrawnItem) -> list[Mark] | None:
        setting = Setting(self.snapshot, self.geometry, self.sheet, item, Pen("dimensions", item.id))
        try:
            KINDS[item.kind](setting)
        except RavineError:
            return None
        return setting.pen.marks

    def _place(self, item: DrawnItem, spots: Sequence[tuple[float, float]], what: str) -> bool:
        return self._place_one([(item, at) for at in spots], what)

    def _place_one(self, tries: Sequence[tuple[DrawnItem, tuple[float, float]]], what: str) -> bool:
        """The first that is free at its spot; where none is without crossing other sizes, the first that does."""
        if any((item.kind, item.on) in self.known for item, _ in tries):
            return True  # it is written already
        second: tuple[DrawnItem, list[Mark]] | None = None
        for item, at in tries:
            tried = replace(item, at=at)
            marks = self._draw(tried)
            if marks is None or not self.room.free_for(marks):
                continue
            if not self.room.tangled(marks, item.view or 0):
                return self._take(tried, marks)
            second = second or (tried, marks)
        if second is not None:
            return self._take(*second)
        self.left.append(what)
        return False

    def _take(self, item: DrawnItem, marks: list[Mark]) -> bool:
        self.room.take(marks, written=True)
        self.items.append(item)
        return True

    def _item(
        self, kind: str, view: DrawnView, on: Sequence[str], near: Sequence[tuple[float, float]] = (), **words: str
    ) -> DrawnItem:
        return DrawnItem(next(self.numbers), kind, (0.0, 0.0), view.id, tuple(on), tuple(near), words)

    # --- what there is -----------------------------------------------------------------------------------------------

    def _holes(self, view: DrawnView) -> list[tuple[Occurrence, int, Floats]]:
        """Holes that look at the eye, or through: the place of the part, number of the feature, where it is seen."""
        frame, found = ViewFrame.of(view), []
        for place in shown_in(self.snapshot, view):
            if place.body.kind != "solid":
                continue
            for number, feature in enumerate(features_of(self.geometry.solid(place.body.shape).topology)):
                if feature.kind != "hole":
                    continue
                facing = float(np.array(place.matrix.direction(feature.way)) @ frame.eye)
                plain = "through" in feature.form and len(feature.sizes) == 2
                if facing > 1 - 1e-6 or (plain and facing < -1 + 1e-6):
                    found.append((place, number, frame.flat(np.array(place.matrix.point(feature.place)))[0]))
        return found

    def _face_of(self, place: Occurrence, number: int) -> str:
        """Of the hole: its narrowest round face, as text."""
        topology = self.geometry.solid(place.body.shape).topology
        feature = features_of(topology)[number]
        walls = [f for f in feature.faces if topology.surface(f).kind == "cylinder"] or list(feature.faces)
        face = min(walls, key=lambda f: topology.surface(f).radius if topology.surface(f).kind == "cylinder" else 1e9)
        return f"{text_id('face', place.body.faces[face])}@{text_id('node', place.node.id)}"

    def _centres(self, view: DrawnView) -> None:
        for place, number, _ in self._holes(view):
            face = self._face_of(place, number)
            item = self._item("centre", view, (face,))
            marks = self._draw(item)
            if marks is not None and (item.kind, item.on) not in self.known:
                self.items.append(item)  # it crosses what it is of
                self.room.take(marks)

    def _hole_places(self, view: DrawnView, drawn: Drawn, rows: dict[str, float]) -> None:
        holes = self._holes(view)
        if not holes:
            return
        box = self.ink.boxes[view.id]
        for way, k, side in (("x", 0, "below"), ("y", 1, "left")):
            datum = self._extreme(view, drawn, k, -1)
            if datum is None:
                continue
            spots: dict[float, str] = {}
            for place, number, at in holes:
                key = round(float(at[k]) - datum.spot, 3)
                if abs(key) > 1e-3:
                    spots.setdefault(key, self._face_of(place, number))
            if not spots:
                continue
            on = (datum.text, *(spots[key] for key in sorted(spots)))
            axis = ViewFrame.of(view).right if k == 0 else ViewFrame.of(view).up
            mark = ("places", tuple(np.round(np.abs(axis), 6)), tuple(sorted(spots)))
            if mark in self.spans:
                continue
            self.spans.add(mark)
            if len(spots) <= STACKED:
                item = self._item("distance", view, on, (datum.near, *(tuple(h[2]) for h in holes))[: len(on)], way=way,
                                  layout="stack", **datum.words)  # fmt: skip
                need = NEXT * len(spots)
            else:
                item, need = self._item("ordinate", view, on, (datum.near,), way=way), NEXT
            out = rows[way]
            spots_tried = [self._beside(view, box, side, out + extra) for extra in (0.0, 4.0, 8.0, 12.0)]
            if self._place(item, spots_tried, f"places of holes along {way}"):
                rows[way] = out + need

    def _extreme(self, view: DrawnView, drawn: Drawn, k: int, sign: int) -> Extreme | None:
        """Where no edge is sharp there, the flat face that is seen from its edge."""
        frame = ViewFrame.of(view)
        found = extreme(drawn, frame, self.geometry, self.places, k, sign)
        if found is not None or not drawn.lines:
            return found
        spot = drawn.box[k if sign < 0 else k + 2]
        for place in shown_in(self.snapshot, view):
            if place.body.kind != "solid":
                continue
            topology = self.geometry.solid(place.body.shape).topology
            for face, ident in enumerate(place.body.faces):
                if topology.surface(face).kind != "plane":
                    continue
                middle, normal = topology.middle(face)
                at = frame.flat(np.array(place.matrix.point(middle)))[0]
                if (
                    sign * frame.way(np.array(place.matrix.direction(normal)))[k] > 1 - 1e-9
                    and abs(at[k] - spot) < 1e-3
                ):
                    text = f"{text_id('face', ident)}@{text_id('node', place.node.id)}"
                    return Extreme(text, (float(at[0]), float(at[1])), float(at[k]), {})
        return None

    def _beside(self, view: DrawnView, box: Sequence[float], side: str, out: float) -> tuple[float, float]:
        """Relative to the view's place."""
        x = (box[0] + box[2]) / 2 if side in ("below", "above") else box[0] - out if side == "left" else box[2] + out
        y = (box[1] + box[3]) / 2 if side in ("left", "right") else box[1] - out if side == "below" else box[3] + out
        return x - view.at[0], y - view.at[1]

    def _overall(self, view: DrawnView, drawn: Drawn, rows: dict[str, float]) -> None:
        frame, box = ViewFrame.of(view), self.ink.boxes[view.id]
        for way, k, sides in (("x", 0, ("below", "above")), ("y", 1, ("left", "right"))):
            axis = frame.right if k == 0 else frame.up
            mark = ("overall", tuple(np.round(np.abs(axis), 6)))
            if mark in self.spans:
                continue
            low, high = (self._extreme(view, drawn, k, sign) for sign in (-1, 1))
            if low is None or high is None:
                continue
            words = {"way": way, **low.words, **{key.replace("0", "1"): v for key, v in high.words.items()}}
            item = DrawnItem(next(self.numbers), "distance", (0.0, 0.0), view.id, (low.text, high.text),
                             (low.near, high.near), words)  # fmt: skip
            spots = []
            for side in sides:
                start = rows[way] if side in ("below", "left") else FIRST_ROW
                spots += [self._beside(view, box, side, start + extra) for extra in (0.0, 4.0, 8.0, 16.0)]
            if self._place(item, spots, f"overall size along {way}"):
                self.spans.add(mark)

    def _hole_notes(self, view: DrawnView) -> None:
        """One for all that are alike, at the one of them that has the nearest free place."""
        groups: dict[tuple, list[tuple[Occurrence, int, Floats]]] = {}
        for place, number, at in self._holes(view):
            features = features_of(self.geometry.solid(place.body.shape).topology)
            members = next((r.members for r in repeats_of(features) if number in r.members), (number,))
            if not any((place.body.id, m) in self.noted for m in members):
                groups.setdefault((place.body.id, members), []).append((place, number, at))
        for (body, members), holes in groups.items():
            tries = []
            number = next(self.numbers)
            for place, hole, at in holes:
                face = self._face_of(place, hole)
                item = DrawnItem(number, "hole", (0.0, 0.0), view.id, (face,), (tuple(at.tolist()),))
                tries += [(rank, item, spot) for rank, spot in self._around(view, at)]
            place, hole, _ = holes[0]
            wide = features_of(self.geometry.solid(place.body.shape).topology)[hole].sizes["diameter"]
            rows = [(item, spot) for _, item, spot in sorted(tries, key=lambda t: t[0])]
            if self._place_one(rows, f"the note of a hole ⌀{wide:.3g}"):
                self.noted |= {(body, m) for m in members}

    def _around(self, view: DrawnView, at: Floats) -> list[tuple[tuple, tuple[float, float]]]:
        """Places about a hole with their rank: those outside the view first, nearer ones before others."""
        box = self.ink.boxes[view.id]
        start = view.scale * at
        found = []
        for reach in (14.0, 22.0, 32.0, 44.0, 58.0, 74.0):
            for order, lean in enumerate((45, 135, -45, -135, 60, 120, 30, 150, 75, 105, -60, -120)):
                spot = start + reach * np.array([math.cos(math.radians(lean)), math.sin(math.radians(lean))])
                x, y = spot + np.array(view.at)
                inside = box[0] - 2 < x < box[2] + 2 and box[1] - 2 < y < box[3] + 2
                found.append(((inside, reach, order), (float(spot[0]), float(spot[1]))))
        return found

    # --- of assemblies -----------------------------------------------------------------------------------------------

    def _numbers_of_parts(self, found: dict[int, Drawn]) -> None:
        """The list above the title block, and for every part a balloon in the view that shows most of it."""
        written = [i for i in self.sheet.items.values() if i.kind == "parts list"]
        if not written:
            x, y = self.ink.paper.title
            item = DrawnItem(next(self.numbers), "parts list", (x, y + TITLE[1]))
            marks = self._draw(item)
            if marks is not None:
                self._take(item, marks)
        best: dict[int, tuple[float, DrawnView, SourcedLine]] = {}
        others = [v for v in self.sheet.views.values() if v.id not in found and v.kind == "plain"]
        for view in (*others, *(v for v in self.sheet.views.values() if v.id in found)):
            drawn = found.get(view.id) or draw_view(self.snapshot, self.geometry, self.sheet, view)
            for line in drawn.lines:
                if line.layer == "hidden" or not line.source:
                    continue
                body = self.places.resolve(line.source).body
                size = float(np.hypot(*np.diff(tight_box(line.curve).reshape(2, 2), axis=0)[0])) * view.scale
                if body is not None and (body.id not in best or size > 1.5 * best[body.id][0]):
                    best[body.id] = (size, view, line)
        pointed = {self.places.resolve(i.on[0]).body for i in self.sheet.items.values() if i.kind == "balloon" and i.on}
        known = {body.id for body in pointed if body is not None}
        shown = {o.body.id: o.body for v in self.sheet.views.values() for o in shown_in(self.snapshot, v)}.values()
        self.left += [
            f"the number of {b.name}, which no view shows" for b in shown if b.id not in best and b.id not in known
        ]
        for number, (_, view, line) in sorted(best.items()):
            if number in known:
                continue
            curve = line.curve
            near = curve.at(np.array([curve.first + 0.4 * (curve.last - curve.first)]))[0]
            item = self._item("balloon", view, (line.source,), (tuple(near.tolist()),))
            self._place(item, self._ring(view, near), f"the number of {self.snapshot.body(number).name}")

    def _ring(self, view: DrawnView, near: Floats) -> list[tuple[float, float]]:
        """Places outside a view, nearest to what is meant first."""
        box, at = self.ink.boxes[view.id], np.array(view.at)
        start = view.scale * near
        spots = []
        for out in (12.0, 24.0, 36.0):
            a, b, c, d = box[0] - out, box[1] - out, box[2] + out, box[3] + out
            spots += [(x, y) for x in np.arange(a, c + 1, 12.0) for y in (b, d)]
            spots += [(x, y) for y in np.arange(b + 12.0, d, 12.0) for x in (a, c)]
        rows = [np.array(s) - at for s in spots]
        return [(float(p[0]), float(p[1])) for p in sorted(rows, key=lambda p: float(np.hypot(*(p - start))))]


def _is_plain(view: DrawnView) -> bool:
    """Along an axis of the model."""
    return view.kind == "plain" and max(abs(v) for v in view.eye) > 1 - 1e-9 and not view.apart


@dataclass(frozen=True)
class Extreme:
    """text: what reaches farthest; near: where it is seen, mm; spot: along the way, mm; words: for the item, where it
    is first."""

    text: str
    near: tuple[float, float]
    spot: float
    words: dict[str, str]


def extreme(
    drawn: Drawn, frame: ViewFrame, geometry: GeometryStore, places: Places, k: int, sign: int
) -> Extreme | None:
    """What a view shows farthest out: a straight line square to the way, else a corner, else the rim of a round."""
    lines = [line for line in drawn.lines if line.source and line.layer != "hidden"]
    if not lines:
        return None
    boxes = np.array([tight_box(line.curve) for line in lines])
    reach = boxes[:, k] if sign < 0 else -boxes[:, k + 2]
    outer = float(reach.min())
    at_edge = [lines[n] for n in np.flatnonzero(reach < outer + max(AT_EDGE, 1e-5 * abs(outer)))]
    spot = -sign * outer

    def rank(line: SourcedLine) -> int:
        if line.curve.kind == "line":
            return 0 if abs(line.curve.x[k]) < 1e-6 else 1
        return 2 if line.curve.kind == "round" else 3

    for line in sorted(at_edge, key=rank):
        curve = line.curve
        ends = curve.at(np.array([curve.first, curve.last]))
        middle = tuple(curve.at(np.array([(curve.first + curve.last) / 2]))[0].tolist())
        if rank(line) == 0:
            return Extreme(line.source, middle, spot, {})
        if rank(line) == 2 and split_id(line.source)[0] == "edge":
            return Extreme(line.source, middle, spot, {"rim0": "low" if sign < 0 else "high"})
        end = ends[int(np.argmax(sign * ends[:, k]))]
        found = _corner(places, geometry, frame, line.source, end)
        if found is not None and abs(end[k] - spot) < 1e-3:
            return Extreme(found, tuple(end.tolist()), spot, {})
    return None


def _corner(places: Places, geometry: GeometryStore, frame: ViewFrame, source: str, place: Floats) -> str | None:
    """The corner of an edge that is seen at a place."""
    reference = places.resolve(source)
    if reference.kind != "edge":
        return None
    body, index = reference.owner
    for vertex in geometry.solid(body.shape).topology.ends(index):
        text = f"{text_id('vertex', body.vertices[vertex])}@{text_id('node', reference.node or 0)}"
        seen = seen_as(geometry, places.resolve(text), frame)
        if float(np.hypot(*(seen.at - place))) < 1e-3:
            return text
    return None
