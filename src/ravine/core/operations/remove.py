"""Remove faces and close up: holes, pockets, bosses, slots, fillets, chamfers, lettering."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from ..errors import CannotDo
from ..kernel.check import fault
from ..kernel.defeature import defeature
from ..kernel.history import carry_ids
from ..kernel.rebuild import carried
from ..kernel.shapes import ShapeIndex
from ..local.closing import close_up
from ..local.dependents import Growth, growths
from ..local.features import feature_of, is_feature
from ..local.fillets import chain
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..model.words import plural
from .face_selection import selected_faces
from .facts import change_facts
from .judging import judge_removal
from .ladder import NothingWorked, first_that_works
from .reshaping import faces_by_body, indices, refusal
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Remove(Operation):
    """Takes faces away and lets their neighbours grow until they meet.

    extent: needed: with what cannot stand without them, the least that closes; feature: with all of the feature
    they belong to; picked: they alone
    """

    faces: tuple[Reference, ...]
    riders: str = "alone"
    extent: str = "needed"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        by_body = faces_by_body(snapshot, selected_faces(work, self.faces, self.riders))
        grown = 0
        for number, chosen in by_body.items():
            work.progress(0.1, "letting the neighbours grow")
            body = snapshot.body(number)
            picked = set(indices(body, chosen))
            if self.extent == "needed":
                snapshot, gone = _with_needed(work, snapshot, body, picked)
            else:
                gone = picked if self.extent == "picked" else _features(work.geometry.solid(body.shape), picked)
                snapshot = take_away(work, snapshot, body, gone)
            grown += len(gone) - len(picked)
        facts = change_facts(work, snapshot, set(by_body))
        if grown:
            facts += (Fact("along", "takes along", plural(grown, "more face"), tone="warning"),)
        return Outcome(snapshot, facts)


def _features(solid: Solid, faces: set[int]) -> set[int]:
    topology = solid.topology
    found: set[int] = set()
    for face in sorted(faces):
        if face in found:
            continue
        fillets = chain(topology, face)
        found |= set(fillets) or feature_of(topology, [face]) or {face}
    return found | faces


def _with_needed(work: Work, snapshot: Snapshot, body: Body, picked: set[int]) -> tuple[Snapshot, set[int]]:
    """The least set with these faces whose neighbours close.  Picks that have nothing to do with one another grow each
    for itself where they do not go at once."""
    solid = work.geometry.solid(body.shape)
    rows = list(growths(solid.topology, picked))

    ways = [
        *((_name(row), partial(_judged, work, body, row, partial(_closed, work, snapshot))) for row in rows),
        *(("the kernel's removal", partial(_judged, work, body, row, partial(_by_kernel, work, snapshot)))
          for row in rows),
    ]  # fmt: skip
    try:
        return first_that_works(work, "remove", ways)
    except NothingWorked as nothing:
        raise _refusal(work, body, set(rows[0].faces), nothing.first) from None


def _name(row: Growth) -> str:
    if row.sinks is None:
        return "in place"
    return f"the whole {'recess' if row.sinks else 'rise'}"


def _judged(
    work: Work, body: Body, row: Growth, way: Callable[[Body, set[int]], Snapshot]
) -> tuple[Snapshot, set[int]]:
    gone = set(row.faces)
    after = way(body, gone)
    judge_removal(work, body, after, row)
    return after, gone


def take_away(work: Work, snapshot: Snapshot, body: Body, faces: set[int], by_kernel: bool = True) -> Snapshot:
    """Faces (by index) removed and their neighbours closed up.  by_kernel: where the local way ends, the kernel's own
    is tried, which now and then never does.  Raises EditError."""
    ways = [("in place", lambda: _closed(work, snapshot, body, faces))]
    if by_kernel:
        ways.append(("the kernel's removal", lambda: _by_kernel(work, snapshot, body, faces)))
    try:
        return first_that_works(work, "remove", ways)
    except NothingWorked as nothing:
        raise _refusal(work, body, faces, nothing.first) from None


def _closed(work: Work, snapshot: Snapshot, body: Body, faces: set[int]) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    closed = close_up(solid.topology, faces)
    index = closed.topology.index
    ids = carried(solid.topology.index, body.ids(), closed.rebuilt, index)
    result = Solid.reshaped(closed.topology, solid.volume_mm3 + closed.volume_change)
    return reshape_body(snapshot, work.geometry, body, result, ids)


def _by_kernel(work: Work, snapshot: Snapshot, body: Body, faces: set[int]) -> Snapshot:
    """The kernel's own removal, which is slower and does other cases."""
    solid = work.geometry.solid(body.shape)
    shape, trace = defeature(solid.shape, [solid.index.get("face", f) for f in sorted(faces)])
    index = ShapeIndex(shape)
    found = fault(index, solid.index)
    if found:
        raise CannotDo(found)
    ids = carry_ids([(solid.index, body.ids())], [], trace, index)
    return reshape_body(snapshot, work.geometry, body, Solid.mapped(index), ids)


def _refusal(work: Work, body: Body, faces: set[int], failure: Exception) -> CannotDo:
    way = (
        "pick the faces around it as well"
        if is_feature(work.geometry.solid(body.shape).topology, faces)
        else "pick the whole feature with all its walls, or push the neighbours past it first"
    )
    found = refusal(work, body, failure, "faces")
    return CannotDo(f"{found.reason}; {way}", found.where, field="faces")
