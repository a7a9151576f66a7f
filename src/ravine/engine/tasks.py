"""What a child can be asked to do.  A task gets the workshop (caches that outlive the call), its arguments and a
progress callback, and returns plain data."""

from __future__ import annotations

import json
import os
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from typing import Any

from ravine.core import EditError
from ravine.core.edits import Edit, find_edit
from ravine.core.edits.base import context_of
from ravine.core.edits.fields import LengthField, PickField
from ravine.core.edits.perform import Change, perform
from ravine.core.model.geometry import GeometryStore, Solid
from ravine.core.model.query import holes_around
from ravine.core.model.references import references
from ravine.core.model.snapshot import Snapshot, text_id
from ravine.core.operations.work import Mode, Work
from ravine.core.section.cut import Cut, cut_of, section_plane
from ravine.core.section.exact import figures_of
from ravine.core.section.width import width_at
from ravine.core.studies import find_study, study_of
from ravine.core.studies.looking import pins_of
from ravine.core.view.packet import pack
from ravine.core.view.scene import body_entry, scene

from .results import BodyMesh, Edited, LineStart, Stored
from .wire import Progress

MOST_STUDIED = 48  # results kept by one child
MOST_STUDIED_BYTES = 64 << 20
MOST_BYTES = 256 << 20  # of shapes at hand


def _size_of(found: Any) -> int:
    return len(found) if isinstance(found, bytes) else 4096


class MissingBlobs(LookupError):
    def __init__(self, addresses: tuple[str, ...]) -> None:
        super().__init__(*addresses)
        self.addresses = addresses


class Workshop:
    """A child's memory between calls: states by address, shapes by address."""

    def __init__(self) -> None:
        self.snapshots: OrderedDict[str, Snapshot] = OrderedDict()
        self.geometry = GeometryStore(self._missing, 1500, self.snapshots)
        self._wanted: Snapshot | None = None
        self.studied: OrderedDict[str, Any] = OrderedDict()
        self.studied_bytes = 0

    def keep_study(self, key: str, found: Any) -> None:
        """Beside the state, as long as there is room."""
        self.studied[key] = found
        self.studied_bytes += _size_of(found)
        while len(self.studied) > 1 and (len(self.studied) > MOST_STUDIED or self.studied_bytes > MOST_STUDIED_BYTES):
            _, dropped = self.studied.popitem(last=False)
            self.studied_bytes -= _size_of(dropped)

    @contextmanager
    def drafts(self, passing: bool = True) -> Iterator[None]:
        """Afterwards nothing is left of a preview, nor of blobs that nobody took."""
        try:
            with self.geometry.drafts(passing):
                yield
        finally:
            self.geometry.take_fresh()
            used = {b.shape for b in self._wanted.bodies.values()} if self._wanted is not None else set()
            self.geometry.trim(MOST_BYTES, used)

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


def _meshes(workshop: Workshop, change: Change) -> list[BodyMesh]:
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
        found.append(BodyMesh(body_entry(body), packet))
    return found


@task
def edit(workshop: Workshop, args: dict[str, Any], progress: Progress) -> Edited:
    """One edit on a stored state.  args: snapshot (address), name, values, mode, comma; cut: plane and hidden of the
    section that the result is shown in, and watch: plane, at and nodes of the width to measure in it; pins: measures to
    take of the result."""
    before = workshop.snapshot(args["snapshot"])
    mode = Mode(args.get("mode", "commit"))
    with workshop.drafts(not mode.keeps):
        work = Work(before, workshop.geometry, progress, mode)
        done, change = perform(args["name"], args["values"], work, decimal_comma=bool(args.get("comma")))
        progress(0.9, "drawing")
        after, cut = change.after, args.get("cut") or None
        return Edited(
            change.sentence,
            _facts(change),
            list(change.warnings),
            change.files if mode.keeps else {},
            {n: getattr(done, n) for n, f in done.fields().items() if isinstance(f, LengthField)},
            [{"node": text_id("node", p.node), "number": p.number, "dropped": p.dropped} for p in change.pieces],
            _meshes(workshop, change) if args.get("meshes", True) else [],
            scene(after) if after != before else None,
            _cut(workshop, after, cut).packed() if cut else None,
            _watched(workshop, after, **cut["watch"]) if cut and cut["watch"] else None,
            pins_of(Work(after, workshop.geometry), args["pins"]) if args.get("pins") else None,
            _stored(workshop, done, after) if mode.keeps and after != before else None,
        )


def _stored(workshop: Workshop, done: Edit, after: Snapshot) -> Stored:
    address, text = after.stored()
    workshop.keep(address, after)
    return Stored(address, {**workshop.geometry.take_fresh(after.addresses()), address: text}, done.name)


@task
def start_line(workshop: Workshop, args: dict[str, Any], progress: Progress) -> LineStart:
    """What the line opens with: suggested values as text, and the handle.  args: snapshot, name, picked, nodes, values.

    nodes: the places of the picked faces or edges, which stand in when the edit takes whole parts; pointed: where the
    hand touched them (mm in the model), if it did
    """
    snapshot = workshop.snapshot(args["snapshot"])
    work = Work(snapshot, workshop.geometry, pointed=args.get("pointed"))
    context = context_of(work)
    cls = find_edit(args["name"])
    ids = args["picked"]
    taker = cls.fields().get(cls.pick_field() or "")
    if isinstance(taker, PickField) and taker.element == "node" and ids and not ids[0].startswith("n"):
        ids = args["nodes"]
    if isinstance(taker, PickField) and "face" in taker.elements and "edge" not in taker.elements:
        ids = holes_around(snapshot, workshop.geometry, ids)
    picked = references(snapshot, ids)
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
        blank = {n: 0.0 for n, f in cls.fields().items() if f.required and n not in typed}
        handle = cls(**{**typed, **blank}).handle(work)
    idle = tuple(sorted(cls.idle(work, picked))) if picked else ()
    folded = tuple(name for name in cls.folds if name in typed and typed[name] == cls.fields()[name].default)
    return LineStart(texts, words, None if handle is None else asdict(handle), idle, folded)


@task
def study(workshop: Workshop, args: dict[str, Any], progress: Progress) -> Any:
    """A computation that changes nothing, kept beside the state where it says so.  args: snapshot, name, values."""
    cls = find_study(args["name"])
    key = json.dumps([args["snapshot"], args["name"], args["values"]], sort_keys=True)
    if cls.keeps and key in workshop.studied:
        workshop.studied.move_to_end(key)
        return workshop.studied[key]
    with workshop.drafts(False):
        found = study_of(
            args["name"], args["values"], Work(workshop.snapshot(args["snapshot"]), workshop.geometry, progress)
        )
    if cls.keeps:
        workshop.keep_study(key, found)
    return found


def _cut(workshop: Workshop, snapshot: Snapshot, wanted: dict[str, Any]) -> Cut:
    return cut_of(snapshot, workshop.geometry, section_plane(wanted["plane"]), wanted["hidden"])


def _watched(workshop: Workshop, snapshot: Snapshot, plane: list[float], at: list[float], nodes: list[str]) -> Any:
    """The width at a place between the parts it was measured between, in a state that is only tried."""
    others = [i for o in snapshot.occurrences() if (i := text_id("node", o.node.id)) not in nodes]
    found = width_at(figures_of(snapshot, workshop.geometry, section_plane(plane), others), at)
    return None if found is None else asdict(found)
