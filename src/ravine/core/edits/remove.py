"""Remove faces and close up: holes, pockets, bosses, slots, rounds, chamfers, lettering."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.check import fault
from ..kernel.defeature import defeature
from ..kernel.history import carry_ids
from ..kernel.rebuild import carried
from ..kernel.shapes import ShapeIndex
from ..local.closing import close_up
from ..local.failure import LocalFailure
from ..local.features import feature_of, is_feature
from ..local.rounds import chain
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, text_id
from ..model.words import describe_faces, plural
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .gaps import ChoiceGap, Context, PickGap
from .riders import RIDERS, with_riders
from .shaping import faces_by_body, indices


@edit
class Remove(Edit):
    name = "remove"
    title = "Remove and close up"
    sentence = "Remove {faces} {riders} taking along {extent} and close up the neighbours"
    past = "Removed {faces} and closed up the neighbours"
    help = (
        "Takes faces away and lets their neighbours grow until they meet.  By itself it grows to the whole feature: "
        "the floor with a pocket's walls, all of a stepped hole, the rest of a chain of rounds."
    )
    offered_for = "face"
    stages = ("Shape", "Mend")
    rank = 16
    drawing = "remove"

    faces: tuple[str, ...] = gap(PickGap("the faces", "Faces of one or more features.", element="face"))
    riders: str = gap(RIDERS)
    extent: str = gap(
        ChoiceGap(
            "the extent",
            "Whether the rest of the feature goes as well: walls with their floor, rounds with their chain.",
            default="feature",
            options={"feature": "the rest of the feature", "picked": "nothing else"},
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Removed {self.word('faces', context)} and closed up the neighbours"

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        by_body = faces_by_body(snapshot, with_riders(work, self.faces, self.riders))
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
        fabric = solid.fabric
        found: set[int] = set()
        for face in sorted(faces):
            if face in found:
                continue
            rounds = chain(fabric, face)
            found |= set(rounds) or feature_of(fabric, [face]) or {face}
        return found | faces


def take_away(work: Work, snapshot: Snapshot, body: Body, faces: set[int], by_kernel: bool = True) -> Snapshot:
    """Faces (by index) removed and their neighbours closed up.  by_kernel: where the local way ends, the kernel's own
    is tried, which now and then never does.  Raises EditError."""
    solid = work.geometry.solid(body.shape)
    try:
        closed = close_up(solid.fabric, faces)
    except LocalFailure as failure:
        if by_kernel:
            return _by_kernel(work, snapshot, body, faces, failure)
        raise _refusal(work, body, faces, failure) from None
    index = closed.fabric.index
    ids = carried(solid.fabric.index, body.ids(), closed.rebuilt, index)
    result = Solid.reshaped(closed.fabric, solid.volume_mm3 + closed.volume_change)
    return reshape_body(snapshot, work.geometry, body, result, ids)


def _by_kernel(work: Work, snapshot: Snapshot, body: Body, faces: set[int], failure: LocalFailure) -> Snapshot:
    """The kernel's own removal, which is slower and does other cases; the local reason is told when it fails, too."""
    solid = work.geometry.solid(body.shape)
    try:
        shape, trace = defeature(solid.shape, [solid.index.get("face", f) for f in sorted(faces)])
        found = fault(shape, solid.index)
        if found:
            raise EditError(found)
    except EditError:
        raise _refusal(work, body, faces, failure) from None
    ids = carry_ids([(solid.index, body.ids())], [], trace, ShapeIndex(shape))
    return reshape_body(snapshot, work.geometry, body, Solid(shape), ids)


def _refusal(work: Work, body: Body, faces: set[int], failure: LocalFailure) -> EditError:
    what = describe_faces(work.snapshot, work.geometry, [text_id("face", body.faces[f]) for f in sorted(faces)])
    where = [text_id("face", body.faces[f]) for f in failure.faces if f < len(body.faces)]
    stops = f" ({describe_faces(work.snapshot, work.geometry, where[:3])})" if where else ""
    fabric = work.geometry.solid(body.shape).fabric
    way = (
        "pick the faces around it as well"
        if is_feature(fabric, faces)
        else "pick the whole feature with all its walls, or push the neighbours past it first"
    )
    return EditError(f"Removing {what}: {failure.reason}{stops}; {way}", where, field="faces")
