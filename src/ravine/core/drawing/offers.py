"""What can be written about things picked in a view: each kind is tried, and only what says something is offered."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from ..errors import RavineError
from ..model.drawing_sheet import DrawnItem, DrawnSheet, Point2
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot
from .anchors import Seen, measure_way
from .ink import Pen
from .items import KINDS, Setting
from .items.threads import thread_for

ALONG = 1 - 1e-9  # cosine, from which a way is one of the view's own
SLOPES = (0.25, 0.97)  # cosines between which a sloping edge may be a chamfer
SIDES = {0: "across", 1: "upright"}


@dataclass(frozen=True)
class Offer:
    """title: of the act; says: what would be written; kind, words: of the item."""

    title: str
    says: str
    kind: str
    words: Mapping[str, str] = field(default_factory=dict)


def offers(
    snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, view: int, on: tuple[str, ...],
    near: tuple[Point2, ...],
) -> list[Offer]:  # fmt: skip
    """In the order in which they suit.  Raises EditError (UnknownId) for what is no more."""
    probe = Setting(snapshot, geometry, sheet, DrawnItem(0, "distance", (0.0, 0.0), view, on, near), Pen("dimensions"))
    found = []
    for title, kind, words in _candidates(probe, sheet):
        item = DrawnItem(0, kind, (23.0, 17.0), view, on, near, words)
        try:
            told = KINDS[kind](Setting(snapshot, geometry, sheet, item, Pen("dimensions")))
        except RavineError:
            continue
        found.append(Offer(title, told.text, kind, words))
    return found


def _candidates(probe: Setting, sheet: DrawnSheet) -> Iterator[tuple[str, str, dict[str, str]]]:
    seen = _seen(probe)
    if len(seen) == 1:
        yield "Hole", "hole", {}
        yield "Diameter", "diameter", {}
        yield "Radius", "radius", {}
        if name := _thread(probe):
            yield "Thread", "thread", {"thread": name}
    own = _own_way(seen)
    if len(seen) < 3:
        yield ("Length" if len(seen) == 1 else "Distance"), "distance", {"way": "aligned"}
        for k, way in enumerate("xy"):
            if own != k:
                yield f"Distance {SIDES[k]}", "distance", {"way": way}
    if len(seen) == 2:
        yield "Angle", "angle", {}
    if len(seen) > 2:
        for k, way in enumerate("xy"):
            yield f"Chain {SIDES[k]}", "distance", {"way": way, "layout": "chain"}
            yield f"Stack {SIDES[k]}", "distance", {"way": way, "layout": "stack"}
        yield "Bolt circle", "bolt circle", {}
    if len(seen) > 1:
        for k, way in enumerate("xy"):
            yield f"Coordinates {SIDES[k]}", "ordinate", {"way": way}
    yield "Centre line", "centre", {}
    if len(probe.item.on) != 1:
        return
    if seen and seen[0].kind == "line" and SLOPES[0] < abs(seen[0].way[0]) < SLOPES[1]:
        yield "Chamfer", "chamfer", {}
    yield "Note", "note", {"text": "Note"}
    yield "Datum", "datum", {"letter": _free_letter(sheet)}
    yield "Tolerance", "tolerance", {"characteristic": "position", "value": "0.1", **_datums(sheet)}
    yield "Surface", "surface", {"value": "Ra 3.2"}
    yield "Edge", "edges", {"value": "−0.3"}
    yield "Weld", "weld", {"joint": "fillet", "size": "a3"}
    yield "Item number", "balloon", {}


def _thread(probe: Setting) -> str:
    try:
        return thread_for(probe)
    except RavineError:  # of what has no round wall
        return ""


def _seen(probe: Setting) -> list[Seen]:
    try:
        return probe.seen
    except RavineError:  # of what cannot be measured something can be noted still
        return []


def _own_way(seen: list[Seen]) -> int | None:
    """0 or 1 where the shortest way between the first two is level or upright."""
    if not seen or (len(seen) == 1 and seen[0].kind != "line"):
        return None
    try:
        way = measure_way(seen[:2], "aligned")
    except RavineError:
        return None
    return next((k for k in (0, 1) if abs(way[k]) > ALONG), None)


def _free_letter(sheet: DrawnSheet) -> str:
    used = {i.words.get("letter") for i in sheet.items.values() if i.kind == "datum"}
    return next((c for c in "ABCDEFGHJKLMNPRSTUVW" if c not in used), "Z")


def _datums(sheet: DrawnSheet) -> dict[str, str]:
    letters = sorted(i.words.get("letter", "A") for i in sheet.items.values() if i.kind == "datum")
    return {"datums": ",".join(letters[:3])} if letters else {}
