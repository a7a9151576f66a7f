"""What keeps a part from being sheet, put right in place: one kind of fault, or all that can be."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..errors import CannotDo, EditError
from ..model.references import Reference, references
from ..model.snapshot import Body, Snapshot, text_id
from ..model.words import plural
from ..sheet.faults import KINDS, Fault
from ..sheet.reading import SheetReading
from ..sheet.unfold import Flat
from ..sheet.views import all_faults, flat_of
from ..tolerances import AGREES
from .facts import change_facts
from .ladder import FAILURES
from .push import Push
from .rebend import bent_anew
from .remove import Remove
from .sheet import fault_words, sheet_body
from .tilt import Tilt
from .work import Fact, Operation, Outcome, Work

MENDABLE = ("thickness", "round", "square", "wedge", "axis", "kink")  # in this order: later ones build on earlier
MUCH = 0.05  # share of the part that mending anything else may win or lose
MOST = 200  # faults, one after the other


@dataclass(frozen=True, kw_only=True)
class MendSheet(Operation):
    """on: the part, or a flat face of it; what: of MENDABLE, or all."""

    on: tuple[Reference, ...]
    what: str = "all"

    def do(self, work: Work) -> Outcome:
        body, _ = sheet_body(work.snapshot, self.on)
        kinds = MENDABLE if self.what == "all" else (self.what,)
        snapshot, done, tried = work.snapshot, dict.fromkeys(kinds, 0), set[tuple[str, tuple[int, ...]]]()
        why: dict[str, str] = {}
        for step in range(MOST):
            work.progress(min(0.1 + step / 40, 0.9), "mending")
            flat = flat_of(snapshot, work.geometry, snapshot.body(body.id))
            now = snapshot.body(body.id)
            fault = _next(flat, now, kinds, tried)
            if fault is None:
                break
            tried.add(_key(now, fault))
            here = replace(work, snapshot=snapshot)
            better: list[tuple[int, int, Snapshot]] = []
            for way in _ways(here, now, flat.reading, fault):
                try:
                    after = way()
                    better.append((_faults_left(here, flat, after, body.id, fault), len(better), after))
                except FAILURES as error:
                    why.setdefault(fault.kind, str(error))
            if better:
                snapshot, done[fault.kind] = min(better)[2], done[fault.kind] + 1
        if snapshot is work.snapshot:
            told = "; ".join(f"{KINDS[kind]}: {reason}" for kind, reason in why.items())
            raise CannotDo(told or "there is nothing here that can be mended", self.on, field="what")
        flat = flat_of(snapshot, work.geometry, snapshot.body(body.id))
        facts = tuple(
            Fact(f"mended_{kind}", "mended", f"{plural(count, 'place')}: {KINDS[kind]}")
            for kind, count in done.items() if count
        )  # fmt: skip
        left = [*fault_words(flat, work.geometry.solid(snapshot.body(body.id).shape)), *why.values()]
        return Outcome(snapshot, (*change_facts(work, snapshot, {body.id}), *facts), tuple(left))


def _key(body: Body, fault: Fault) -> tuple[str, tuple[int, ...]]:
    return fault.kind, tuple(body.faces[f] for f in fault.faces)


def _next(flat: Flat, body: Body, kinds: tuple[str, ...], tried: set[tuple[str, tuple[int, ...]]]) -> Fault | None:
    rows = [f for f in all_faults(flat) if f.kind in kinds and _key(body, f) not in tried]
    return min(rows, key=lambda f: MENDABLE.index(f.kind), default=None)


def _faults_left(work: Work, before: Flat, after: Snapshot, number: int, fault: Fault) -> int:
    """Fewer of its kind, not more in all, and no more matter won or lost than the fault accounts for.  Raises
    CannotDo."""
    solids = [work.geometry.solid(s.body(number).shape) for s in (work.snapshot, after)]
    change = abs(solids[1].volume_mm3 - solids[0].volume_mm3)
    if change > _room(before, fault, solids[0].volume_mm3):
        raise CannotDo("mending it in place would take away or add much more than is wrong")
    now = all_faults(flat_of(after, work.geometry, after.body(number)))
    was = all_faults(before)
    same = [sum(f.kind == fault.kind for f in rows) for rows in (was, now)]
    if same[1] >= same[0] or len(now) > len(was):
        raise CannotDo("mending it in place leaves it no better")
    return len(now)


def _room(flat: Flat, fault: Fault, whole: float) -> float:
    """mm³ by which the part may change."""
    if fault.kind != "thickness":
        return MUCH * whole
    return 4 * abs(fault.size) * max(flat.reading.outlines.area(f) for f in fault.faces) + AGREES * whole


def _ways(work: Work, body: Body, reading: SheetReading, fault: Fault) -> list[Callable[[], Snapshot]]:
    """Ways to mend it, the likeliest first."""
    ids = [text_id("face", body.faces[f]) for f in fault.faces]
    if fault.kind == "round":
        return [lambda: Remove(faces=references(work.snapshot, ids)).do(work).snapshot]
    if fault.kind == "square":
        return [lambda: _squared(work, body, reading, fault)]
    panel = next((reading.panels[f] for f in fault.faces if f in reading.panels), None)
    if fault.kind == "wedge" and panel is not None:
        return [lambda: _parallel(work, body, reading, fault)]
    if fault.kind == "thickness" and panel is not None and not panel.bend:
        push = Push(faces=references(work.snapshot, [ids[1]]), distance=-fault.size)
        # between bends a wall that is off has steps beside it, which its neighbours cannot follow across
        return [lambda: push.do(work).snapshot, lambda: replace(push, border="kept").do(work).snapshot]
    return [lambda: _anew(work, body, reading, fault)]


def _anew(work: Work, body: Body, reading: SheetReading, fault: Fault) -> Snapshot:
    bend = next((p for f in fault.faces if (p := reading.panels.get(f)) is not None and p.bend), None)
    if bend is None:
        raise CannotDo("no bend is there to be made anew")
    return bent_anew(work, body, reading, bend)


def _squared(work: Work, body: Body, reading: SheetReading, fault: Fault) -> Snapshot:
    """About its edge on the side that is seen, either way round."""
    topology, (face,) = reading.topology, fault.faces
    edges = [e for e in topology.edges_of(face) if topology.other_face(e, face) in reading.panels]
    straight = [e for e in edges if topology.curve(e)[0].kind == "line"]
    if not straight:
        raise CannotDo("its border on the sheet is not straight")
    return _turned(work, body, face, straight[0], fault.size)


def _parallel(work: Work, body: Body, reading: SheetReading, fault: Fault) -> Snapshot:
    """The other side of a wall turned about the edge by which it hangs on."""
    topology, (front, back) = reading.topology, fault.faces
    joined = [e for e in topology.edges_of(back) if topology.other_face(e, back) in reading.behind]
    if not joined:
        raise CannotDo("the wall hangs on no other")
    a, b = reading.outlines.skin(front).z, reading.outlines.skin(back).z
    lean = float(abs(a @ b))
    return _turned(work, body, back, joined[0], float(max(1 - lean**2, 0.0) ** 0.5))


def _turned(work: Work, body: Body, face: int, edge: int, angle: float) -> Snapshot:
    faces = references(work.snapshot, [text_id("face", body.faces[face])])
    axis = references(work.snapshot, [text_id("edge", body.edges[edge])])
    last: EditError | None = None
    for sense in (1.0, -1.0):
        try:
            after = Tilt(faces=faces, angle=sense * angle, axis=axis).do(work).snapshot
        except EditError as error:
            last = error
            continue
        flat = flat_of(after, work.geometry, after.body(body.id))
        ident = body.faces[face]
        now = after.body(body.id)
        off = [f for f in all_faults(flat) if ident in _key(now, f)[1] and f.kind in ("square", "wedge")]
        if not off:
            return after
    raise last or CannotDo("turning it either way leaves it leaning")
