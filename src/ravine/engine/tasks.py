"""What a child can be asked to do.  A task gets the workshop (caches that outlive the call), its arguments and a
progress callback, and returns plain data."""

from __future__ import annotations

import os
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from typing import Any

from ravine.core.clearance.pairs import gaps_between, shared_volume
from ravine.core.clearance.picked_fit import fit_of
from ravine.core.edits import Context, EditError, find_edit
from ravine.core.edits.fields import LengthField, PickField
from ravine.core.edits.perform import Change, perform
from ravine.core.edits.value_bounds import walls
from ravine.core.maps.body_map import map_of
from ravine.core.mending.report import check_up as find_flaws
from ravine.core.model.alike import alike as find_alike
from ravine.core.model.geometry import GeometryStore, Solid
from ravine.core.model.grow_selection import grown_selection
from ravine.core.model.snapshot import Snapshot, split_id, text_id
from ravine.core.operations.planes import plane_through
from ravine.core.operations.work import Mode, Work
from ravine.core.section.cut import Cut, cut_of, section_plane
from ravine.core.section.exact import Figure, figures_of
from ravine.core.section.width import width_at
from ravine.core.view.describe import describe_pick, part_masses
from ravine.core.view.packet import pack
from ravine.core.view.picture import picture
from ravine.core.view.pins import pin_of, width_pin
from ravine.core.view.scene import body_entry, scene

from .wire import Progress


class MissingBlobs(LookupError):
    def __init__(self, addresses: tuple[str, ...]) -> None:
        super().__init__(*addresses)
        self.addresses = addresses


class Workshop:
    """A child's memory between calls: states by address, shapes by address."""

    def __init__(self) -> None:
        self.geometry = GeometryStore(self._missing, limit=1500)
        self.snapshots: OrderedDict[str, Snapshot] = OrderedDict()
        self._wanted: Snapshot | None = None
        self._figures: OrderedDict[object, list[Figure]] = OrderedDict()

    def figures(self, snapshot: Snapshot, plane: list[float], hidden: list[str]) -> list[Figure]:
        """The exact section; the pointer asks for it again and again."""
        key = (snapshot.key(), tuple(plane), tuple(sorted(hidden)))
        if key not in self._figures:
            self._figures[key] = figures_of(snapshot, self.geometry, section_plane(plane), hidden)
            while len(self._figures) > 8:
                self._figures.popitem(last=False)
        self._figures.move_to_end(key)
        return self._figures[key]

    @contextmanager
    def drafts(self, passing: bool = True) -> Iterator[None]:
        """Afterwards nothing is left of a preview, nor of blobs that nobody took."""
        try:
            with self.geometry.drafts(passing):
                yield
        finally:
            self.geometry.take_fresh()

    def take(self, blobs: dict[str, bytes]) -> None:
        for address, blob in blobs.items():
            if blob.startswith(b'{"format":'):
                self.keep(address, Snapshot.from_json(blob.decode()))
            else:
                self.geometry.add_blob(address, blob)

    def keep(self, address: str, snapshot: Snapshot) -> None:
        self.snapshots[address] = snapshot
        self.snapshots.move_to_end(address)
        while len(self.snapshots) > 64:
            self.snapshots.popitem(last=False)

    def snapshot(self, address: str) -> Snapshot:
        if address not in self.snapshots:
            raise MissingBlobs((address,))
        self._wanted = self.snapshots[address]
        return self._wanted

    def _missing(self, address: str) -> bytes:
        """Called by the geometry store; asks for all that the state at hand lacks, not for one after the other."""
        lacking = {address}
        if self._wanted is not None:
            lacking |= {b.shape for b in self._wanted.bodies.values() if not self.geometry.has(b.shape)}
        raise MissingBlobs(tuple(sorted(lacking)))


Task = Callable[[Workshop, dict[str, Any], Progress], Any]
TASKS: dict[str, Task] = {}


def task(function: Task) -> Task:
    TASKS[function.__name__] = function
    return function


@task
def ping(workshop: Workshop, args: dict[str, Any], progress: Progress) -> int:
    return os.getpid()


def _facts(change: Change) -> list[dict[str, Any]]:
    return [asdict(f) for f in change.facts]


def _meshes(workshop: Workshop, change: Change) -> list[dict[str, Any]]:
    """Bodies that look different, each with a packet against its former shape."""
    found = []
    for number, body in change.after.bodies.items():
        before = change.before.bodies.get(number)
        if before == body:
            continue
        packet = None
        if before is None or before.shape != body.shape:
            old = workshop.geometry.get(before.shape) if before else None
            old = old if isinstance(old, Solid) else None
            packet = pack(workshop.geometry.get(body.shape), old, before.shape if before else None)
        found.append({"body": body_entry(body), "packet": packet})
    return found


@task
def edit(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """One edit on a stored state.  args: snapshot (address), name, values, mode, comma; cut: plane and hidden of the
    section that the result is shown in, and watch: plane, at and nodes of the width to measure in it; pins: measures to
    take of the result."""
    before = workshop.snapshot(args["snapshot"])
    mode = Mode(args.get("mode", "commit"))
    work = Work(before, workshop.geometry, progress, mode)
    with workshop.drafts(not mode.keeps):
        done, change = perform(args["name"], args["values"], work, decimal_comma=bool(args.get("comma")))
        progress(0.9, "drawing")
        result: dict[str, Any] = {
            "sentence": change.sentence,
            "facts": _facts(change),
            "warnings": list(change.warnings),
            "files": change.files if mode.keeps else {},
            "numbers": {n: getattr(done, n) for n, g in done.fields().items() if isinstance(g, LengthField)},
            "added": change.added,
            "removed": change.removed,
            "ended": len(change.ended),
            "pieces": [
                {"node": text_id("node", p.node), "number": p.number, "dropped": p.dropped} for p in change.pieces
            ],
            "meshes": _meshes(workshop, change) if args.get("meshes", True) else [],
        }
        if args.get("cut"):
            result["cut"] = _cut(workshop, change.after, args["cut"]).packed()
            result["width"] = _watched(workshop, change.after, **args["cut"]["watch"]) if args["cut"]["watch"] else None
        if args.get("pins"):
            result["pins"] = _pins(workshop, change.after, args["pins"])
        if change.after != before:
            result["scene"] = scene(change.after)
        if mode.keeps and change.after != before:
            address, text = change.after.stored()
            workshop.keep(address, change.after)
            fresh = workshop.geometry.take_fresh(change.after.addresses())
            result |= {"snapshot": address, "blobs": {**fresh, address: text}, "edit": done.name}
        return result


@task
def start_line(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """What the line opens with: suggested values as text, and the handle.  args: snapshot, name, picked, nodes, values.

    nodes: the places of the picked faces or edges, which stand in when the edit takes whole parts
    """
    snapshot = workshop.snapshot(args["snapshot"])
    work = Work(snapshot, workshop.geometry)
    context = Context(snapshot, workshop.geometry)
    cls = find_edit(args["name"])
    picked = tuple(args["picked"])
    taker = cls.fields().get(cls.pick_field() or "")
    if isinstance(taker, PickField) and taker.element == "node" and picked and not picked[0].startswith("n"):
        picked = tuple(args["nodes"])
    raw = {**cls.suggest(work, picked), **{k: v for k, v in args["values"].items() if v != ""}}
    texts: dict[str, str] = {}
    words: dict[str, str] = {}
    typed: dict[str, Any] = {}
    for name, field in cls.fields().items():
        given = None if raw.get(name) in ("", [], ()) else raw.get(name)
        if given is None and field.required:
            texts[name] = words[name] = ""
            continue
        try:
            typed[name] = field.default if given is None else field.read(given, context)
        except EditError as error:
            error.field = name
            if name == cls.pick_field():
                raise
            texts[name] = words[name] = str(given)
            continue
        empty = typed[name] is None
        texts[name] = "" if empty else field.edit_text(typed[name], context)
        words[name] = "" if empty else field.show(typed[name], context)
    handle = None
    if cls.pick_field() in typed:
        blank = {n: 0.0 for n, g in cls.fields().items() if g.required and n not in typed}
        handle = cls(**{**typed, **blank}).handle(work)
    return {
        "texts": texts,
        "words": words,
        "handle": None if handle is None else asdict(handle),
        "idle": sorted(cls.idle(work, picked)) if picked else [],
    }


@task
def limits(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, float | None]:
    """How far the handle's field goes either way before the edit is refused: mm or rad, None where no wall was found.
    args: snapshot, name, values, field."""
    snapshot = workshop.snapshot(args["snapshot"])
    with workshop.drafts():
        return walls(Work(snapshot, workshop.geometry, mode=Mode.PROBE), args["name"], args["values"], args["field"])


@task
def widen(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[list[str]]:
    """Wider picks, the one meant most first.  args: snapshot, picked, way."""
    return grown_selection(workshop.snapshot(args["snapshot"]), workshop.geometry, args["picked"], args["way"])


@task
def mesh(workshop: Workshop, args: dict[str, Any], progress: Progress) -> bytes:
    """The packet of one shape.  args: snapshot, body."""
    snapshot = workshop.snapshot(args["snapshot"])
    return pack(workshop.geometry.get(snapshot.body(split_id(args["body"])[1]).shape))


@task
def describe(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """args: snapshot, picked."""
    found = describe_pick(workshop.snapshot(args["snapshot"]), workshop.geometry, args["picked"])
    return {"subject": found.subject, "rest": found.rest, "rows": found.rows, "summary": found.summary}


@task
def masses(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, float | None]:
    """Mass per place in the tree.  args: snapshot."""
    found = part_masses(workshop.snapshot(args["snapshot"]), workshop.geometry)
    return {text_id("node", number): mass for number, mass in found.items()}


@task
def check_up(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[dict[str, Any]]:
    """args: snapshot."""
    return [f.to_json() for f in find_flaws(workshop.snapshot(args["snapshot"]), workshop.geometry)]


@task
def alike(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[dict[str, Any]]:
    """Criteria of one face or edge with everything that fits each.  args: snapshot, picked, tolerance, everywhere."""
    snapshot = workshop.snapshot(args["snapshot"])
    found = find_alike(snapshot, workshop.geometry, args["picked"], args["tolerance"], args["everywhere"])
    return [asdict(c) for c in found]


@task
def read_ahead(workshop: Workshop, args: dict[str, Any], progress: Progress) -> int:
    """Read what alike searches, so that the first pick on a large part does not wait for it.  args: snapshot."""
    snapshot = workshop.snapshot(args["snapshot"])
    return sum(len(workshop.geometry.solid(b.shape).faces.kind) for b in snapshot.bodies.values() if b.kind != "mesh")


@task
def surface_map(workshop: Workshop, args: dict[str, Any], progress: Progress) -> bytes:
    """Figures over the surface of a part, packed.  args: snapshot, kind, nodes, pull."""
    snapshot = workshop.snapshot(args["snapshot"])
    return map_of(snapshot, workshop.geometry, args["kind"], args["nodes"], args["pull"], progress).packed()


def _cut(workshop: Workshop, snapshot: Snapshot, wanted: dict[str, Any]) -> Cut:
    return cut_of(snapshot, workshop.geometry, section_plane(wanted["plane"]), wanted["hidden"])


def _watched(workshop: Workshop, snapshot: Snapshot, plane: list[float], at: list[float], nodes: list[str]) -> Any:
    """The width at a place between the parts it was measured between, in a state that is only tried."""
    others = [i for o in snapshot.occurrences() if (i := text_id("node", o.node.id)) not in nodes]
    found = width_at(figures_of(snapshot, workshop.geometry, section_plane(plane), others), at)
    return None if found is None else asdict(found)


@task
def cut(workshop: Workshop, args: dict[str, Any], progress: Progress) -> bytes:
    """What a section shows.  args: snapshot, plane (six numbers), hidden."""
    return _cut(workshop, workshop.snapshot(args["snapshot"]), args).packed()


@task
def section_through(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[float]:
    """The plane that picked things give.  args: snapshot, picked."""
    work = Work(workshop.snapshot(args["snapshot"]), workshop.geometry, progress)
    plane = plane_through(work, tuple(args["picked"]))
    return [*plane.origin, *plane.normal]


@task
def section_facts(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[dict[str, Any]]:
    """Exact area mm² and perimeter mm of every part cut.  args: snapshot, plane, hidden."""
    found = workshop.figures(workshop.snapshot(args["snapshot"]), args["plane"], args["hidden"])
    return [{"node": f.node, "name": f.name, "area": f.area, "perimeter": f.perimeter} for f in found]


@task
def section_width(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any] | None:
    """The gap or wall at a place in the section.  args: snapshot, plane, hidden, at (two numbers in the plane)."""
    figures = workshop.figures(workshop.snapshot(args["snapshot"]), args["plane"], args["hidden"])
    found = width_at(figures, args["at"])
    return None if found is None else asdict(found)


@task
def clearance(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """Gaps and overlaps between parts.  args: snapshot, within (mm), hidden."""
    snapshot = workshop.snapshot(args["snapshot"])
    found, failed = gaps_between(snapshot, workshop.geometry, args["within"], args["hidden"], progress)
    return {"pairs": [asdict(p) for p in found], "failed": failed}


@task
def overlap(workshop: Workshop, args: dict[str, Any], progress: Progress) -> bytes:
    """Corners, float32 (n × 9), of the matter that two parts share.  args: snapshot, nodes."""
    found = shared_volume(workshop.snapshot(args["snapshot"]), workshop.geometry, args["nodes"])
    return found.astype("<f4").tobytes()


@task
def fits(workshop: Workshop, args: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """How a picked shaft sits in a picked hole.  args: snapshot, picked."""
    return asdict(fit_of(workshop.snapshot(args["snapshot"]), workshop.geometry, args["picked"]))


@task
def pins(workshop: Workshop, args: dict[str, Any], progress: Progress) -> list[dict[str, Any]]:
    """Measures kept in the view, for a state.  args: snapshot, pins (picked and label, or plane, at and nodes)."""
    return _pins(workshop, workshop.snapshot(args["snapshot"]), args["pins"])


def _pins(workshop: Workshop, snapshot: Snapshot, wanted: list[dict[str, Any]]) -> list[dict[str, Any]]:
    found = [
        width_pin(snapshot, workshop.geometry, p["plane"], p["at"], p["nodes"]) if "plane" in p
        else pin_of(snapshot, workshop.geometry, p["picked"], p["label"])
        for p in wanted
    ]  # fmt: skip
    return [asdict(p) for p in found]


@task
def portrait(workshop: Workshop, args: dict[str, Any], progress: Progress) -> bytes:
    """PNG for the model's card.  args: snapshot."""
    return picture(workshop.snapshot(args["snapshot"]), workshop.geometry)
