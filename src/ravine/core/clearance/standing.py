"""What is not right with how parts stand together: overlaps, gaps that are too narrow, screws that do not hold."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass

import numpy as np

from ..model.accepted import KINDS
from ..model.geometry import GeometryStore
from ..model.holes import SCREWS
from ..model.records import ACCEPTED, PARTS
from ..model.snapshot import Occurrence, Snapshot, text_id
from ..shelf.fitting import Bore, Mouth, bores_along
from ..shelf.items import Item, item_of
from ..units import format_length, format_volume
from .pairs import PairGap, Vec, gaps_between

Screws = dict[str, tuple[Occurrence, Item]]  # by place in the tree
Bores = dict[str, list[Bore]]

THREADED = 1.15  # times the ring between tapping drill and nominal size that a thread's overlap may be
TAP = 0.2  # mm that a tapping hole may be off its drill
FASTENERS = ("screw", "nut", "washer", "pin", "ring")
SQUEEZED = 0.3  # of its volume that a seal may share with what it lies between (ISO 3601-2)
ENGAGED = 0.8  # times its diameter a screw goes into its thread at least


@dataclass(frozen=True)
class Finding:
    """kind: of KINDS; key: the same as long as it is the same finding; words: what and how much; nodes, names: of the
    parts; places: mm in the model, where it is; note: with which it was accepted, empty as long as it was not."""

    kind: str
    key: str
    words: str
    nodes: tuple[str, ...]
    names: tuple[str, ...]
    places: tuple[Vec, ...]
    note: str = ""


def findings(
    snapshot: Snapshot,
    geometry: GeometryStore,
    least: float,
    hidden: Collection[str] = (),
    progress: Callable[[float, str], None] = lambda fraction, words: None,
) -> tuple[list[Finding], list[str]]:
    """least: mm that parts that do not touch keep apart.  What is accepted comes last.  And in words what could not be
    told."""
    screws = {
        text_id("node", o.node.id): (o, item)
        for o, item in _screws(snapshot)
        if text_id("node", o.node.id) not in hidden
    }
    bores = {node: bores_along(snapshot, geometry, _mouth(o)) for node, (o, _) in screws.items()}
    pairs, failed = gaps_between(snapshot, geometry, max(least, 0.0), hidden, progress)
    found = [f for pair in pairs if (f := _of_pair(snapshot, pair, screws, bores, least)) is not None]
    for node, (place, item) in screws.items():
        found += _of_screw(snapshot, place, item, bores[node])
    notes = {key: a.note for key, a in snapshot.kept(ACCEPTED).items()}
    told = [Finding(**{**f.__dict__, "note": notes.get(f.key, "")}) for f in found]
    return sorted(told, key=lambda f: (bool(f.note), list(KINDS).index(f.kind))), failed


def _screws(snapshot: Snapshot) -> Iterator[tuple[Occurrence, Item]]:
    items = {body: item_of(data.item) for body, data in snapshot.kept(PARTS).items() if data.item}
    for place in snapshot.occurrences():
        item = items.get(place.body.id)
        if item is not None and item.family.kind == "screw":
            yield place, item


def _mouth(place: Occurrence) -> Mouth:
    return Mouth(place.matrix.shift, place.matrix.turn[:, 2], None, None)


def _of_pair(snapshot: Snapshot, pair: PairGap, screws: Screws, bores: Bores, least: float) -> Finding | None:
    key = f"{pair.state} {' '.join(sorted(pair.nodes))}"
    if pair.state == "overlap" and not _is_thread(pair, screws, bores) and not _is_seal(snapshot, pair):
        much = "" if pair.about else f" by {format_volume(pair.volume, snapshot.units)}"
        words = f"{' and '.join(pair.names)} overlap{much}"
        return Finding("overlap", key, words, pair.nodes, pair.names, pair.places)
    if pair.state == "clear" and pair.gap < least and not _fastens(snapshot, pair):
        about = "about " if pair.about else ""
        words = f"{about}{format_length(pair.gap, snapshot.units)} between {' and '.join(pair.names)}"
        return Finding("gap", key, words, pair.nodes, pair.names, pair.places)
    return None


def _fastens(snapshot: Snapshot, pair: PairGap) -> bool:
    """Whether one of the two is a fastener, which has its play."""
    return any(item.family.kind in FASTENERS for item in _items(snapshot, pair))


def _items(snapshot: Snapshot, pair: PairGap) -> list[Item]:
    """Those of the two that are from the shelf."""
    bodies = (snapshot.nodes[int(n[1:])].body for n in pair.nodes)
    known = (snapshot.kept(PARTS)[b] for b in bodies if b in snapshot.kept(PARTS))
    return [item_of(d.item) for d in known if d.item]


def _is_seal(snapshot: Snapshot, pair: PairGap) -> bool:
    """Whether what both take up is no more than a ring of rubber gives way."""
    seals = [item.row for item in _items(snapshot, pair) if item.family.name == "iso3601"]
    volumes = [math.pi**2 / 4 * (row["d1"] + row["d2"]) * row["d2"] ** 2 for row in seals]
    return any(pair.volume <= SQUEEZED * volume for volume in volumes)


def _is_thread(pair: PairGap, screws: Screws, bores: Bores) -> bool:
    """Whether what both take up is no more than a thread cut into a tapping hole."""
    for node, other in (pair.nodes, pair.nodes[::-1]):
        if node not in screws:
            continue
        d, length = screws[node][1].row["d"], screws[node][1].length or 0.0
        own = [b for b in bores[node] if text_id("node", b.face.node or 0) == other and 2 * b.radius < d]
        ring = sum(math.pi * (d**2 / 4 - b.radius**2) * max(0.0, min(b.far, length) - b.near) for b in own)
        if pair.volume <= THREADED * ring + 1e-3:
            return True
    return False


def _of_screw(snapshot: Snapshot, place: Occurrence, item: Item, bores: list[Bore]) -> Iterator[Finding]:
    d, length, unit = item.row["d"], item.length or 0.0, snapshot.units
    size = SCREWS.get(item.size)
    node, name = text_id("node", place.node.id), place.node.name
    x, y, z = place.matrix.shift.tolist()

    def finding(kind: str, words: str) -> Finding:
        return Finding(kind, f"{kind} {node}", words, (node,), (name,), ((x, y, z),))

    nuts = _nut_faces(snapshot, place, item)
    own = [b for b in bores if b.near < length]
    if not own and not nuts:
        yield finding("no hole", f"{name} stands in no hole")
        return
    threads = [b for b in own if 2 * b.radius < d - 0.02]
    wrong = [b for b in threads if size is not None and abs(2 * b.radius - size.tap_drill) > TAP]
    if wrong:
        wide = format_length(2 * wrong[0].radius, unit)
        drill = "" if size is None else f"; its tapping drill is Ø {format_length(size.tap_drill, unit)}"
        yield finding("thread", f"{name} goes into a hole of Ø {wide}{drill}")
        return
    if nuts:
        if length < nuts[0] - 1e-6:
            lacks = format_length(nuts[0] - length, unit)
            yield finding("short", f"{name} ends {lacks} before the far face of its nut")
        return
    if not threads:
        yield finding("loose", f"{name} goes through, and neither thread nor nut holds it")
        return
    engaged = sum(max(0.0, min(b.far, length) - b.near) for b in threads)
    if engaged < ENGAGED * d - 1e-6:
        into = format_length(engaged, unit)
        yield finding("short", f"{name} goes {into} into its thread, less than {ENGAGED:g} times its diameter")
    last = own[-1]
    if last.exit is None and length > last.far + 1e-6:
        over = format_length(length - last.far, unit)
        yield finding("bottoms", f"{name} is {over} longer than its hole is deep")


def _nut_faces(snapshot: Snapshot, place: Occurrence, item: Item) -> list[float]:
    """How far (mm) behind the seat the far faces of nuts on its axis lie, the nearest first."""
    items = {body: data.item for body, data in snapshot.kept(PARTS).items() if data.item}
    origin, way = place.matrix.shift, place.matrix.turn[:, 2]
    found = []
    for other in snapshot.occurrences():
        known = items.get(other.body.id, "")
        if not known or item_of(known).family.kind != "nut" or item_of(known).size != item.size:
            continue
        off = other.matrix.shift - origin
        if float(np.linalg.norm(off - (off @ way) * way)) > 0.3:
            continue
        height = item_of(known).row["m"]
        ends = [float(-(off + t * height * other.matrix.turn[:, 2]) @ way) for t in (0, 1)]
        if max(ends) > 0:
            found.append(max(ends))
    return sorted(found)
