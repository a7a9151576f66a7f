"""Remove faces and close up: holes, pockets, bosses, slots, fillets, chamfers, lettering."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import CannotDo
from ..kernel.check import fault
from ..kernel.defeature import defeature
from ..kernel.history import carry_ids
from ..kernel.rebuild import carried
from ..kernel.shapes import ShapeIndex
from ..local.closing import close_up
from ..local.features import feature_of, is_feature
from ..local.fillets import chain
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..model.words import plural
from .face_selection import selected_faces
from .facts import change_facts
from .ladder import NothingWorked, first_that_works
from .reshaping import faces_by_body, indices, refusal
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Remove(Operation):
    """Takes faces away and lets their neighbours grow until they meet."""

    faces: tuple[Reference, ...]
    riders: str = "alone"
    extent: str = "feature"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        by_body = faces_by_body(snapshot, selected_faces(work, self.faces, self.riders))
        grown = 0
        for number, chosen in by_body.items():
            work.progress(0.1, "letting the neighbours grow")
            body = snapshot.body(number)
            found = self._grown(work.geometry.solid(body.shape), set(indices(body, chosen)))
            grown += len(found) - len(set(chosen))
            snapshot = take_away(work, snapshot, body, found)
        facts = change_facts(work, snapshot, set(by_body))
        if grown:
            facts += (Fact("along", "takes along", plural(grown, "more face"), tone="warning"),)
        return Outcome(snapshot, facts)

    def _grown(self, solid: Solid, faces: set[int]) -> set[int]:
        if self.extent == "picked":
            return faces
        topology = solid.topology
        found: set[int] = set()
        for face in sorted(faces):
            if face in found:
                continue
            fillets = chain(topology, face)
            found |= set(fillets) or feature_of(topology, [face]) or {face}
        return found | faces


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
    found = fault(shape, solid.index)
    if found:
        raise CannotDo(found)
    ids = carry_ids([(solid.index, body.ids())], [], trace, ShapeIndex(shape))
    return reshape_body(snapshot, work.geometry, body, Solid(shape), ids)


def _refusal(work: Work, body: Body, faces: set[int], failure: Exception) -> CannotDo:
    way = (
        "pick the faces around it as well"
        if is_feature(work.geometry.solid(body.shape).topology, faces)
        else "pick the whole feature with all its walls, or push the neighbours past it first"
    )
    found = refusal(work, body, failure, "faces")
    return CannotDo(f"{found.reason}; {way}", found.where, field="faces")
