"""Mirror parts across a plane."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..kernel.shapes import Shape, parts_of
from ..kernel.transform import mirrored
from ..model import placement
from ..model.snapshot import Mirrored, Occurrence, Snapshot
from ..sketch.entities import Vec
from .axes import MODEL_AXES, face_middle
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .bodies import beside, in_pieces, new_body, places_of
from .facts import change_facts
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .shaping import combine_into


@edit
class Mirror(Edit):
    name = "mirror"
    title = "Mirror"
    sentence = "Mirror {parts} across {face} or square to {along} at {height}, {result}"
    past = "Mirrored {parts}"
    help = (
        "Makes the mirrored solid across a flat face or a plane of the model: as a part of its own, or joined to the "
        "one it came from, which makes a whole of a half; or "
        "as a part that follows the first one whatever is done to it, until it is unlocked."
    )
    offered_for = "node"
    stages = ("Shape", "Assemble")
    rank = 26
    drawing = "mirror"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Solids.", element="node", changes=False))
    face: tuple[str, ...] | None = gap(
        PickGap("the face", "A flat face in the mirror plane.", element="face", maximum=1, kinds=("plane",),
                changes=False, default=None, empty="a flat face")
    )  # fmt: skip
    along: str = gap(ChoiceGap("the direction", "The mirror stands square to it, where no face is picked.",
                               default="x", options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    height: float = gap(LengthGap("the place", "Of the mirror, from the origin of the model.", default=0.0))
    result: str = gap(
        ChoiceGap("the result", "What becomes of the mirrored solid.", default="apart",
                  options={"apart": "as a part of its own", "joined": "joined to it",
                           "linked": "as a part that follows it"})
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Mirrored {self.word('parts', context)} across "
        if self.face:
            words += self.word("face", context)
        else:
            words += f"the plane square to {self.word('along', context)} at {self.word('height', context)}"
        return words + ({"joined": ", joined", "linked": ", linked"}.get(self.result, ""))

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        changed: set[int] = set()
        for place in places_of(work, self.parts, "parts"):
            if self.result != "joined":
                snapshot = self._apart(work, snapshot, place)
            elif place.body.locked:
                raise EditError(f"{place.body.name} is locked, so nothing is joined to it", [f"n{place.node.id}"])
            elif place.body.id not in changed:
                snapshot = self._joined(work, snapshot, place)
            changed.add(place.body.id)
        changed |= set(snapshot.bodies) - set(work.snapshot.bodies)
        made = Fact("parts", "new parts", float(len(snapshot.bodies) - len(work.snapshot.bodies)), "count")
        facts = change_facts(work, snapshot, changed)
        return Outcome(snapshot, (*facts, made) if self.result != "joined" else facts)

    def _plane(self, work: Work, place: Occurrence) -> tuple[Vec, Vec]:
        """A point and the normal, in the coordinates of the body."""
        if self.face:
            point, normal = (v.tolist() for v in face_middle(work, self.face[0]))
        else:
            normal = list(MODEL_AXES[self.along])
            point = [self.height * c for c in normal]
        inside = placement.inverse(place.matrix)
        return placement.point(inside, point), placement.direction(inside, normal)

    def _mirrored(self, work: Work, place: Occurrence) -> Shape:
        return mirrored(work.geometry.solid(place.body.shape).shape, *self._plane(work, place))

    def _apart(self, work: Work, snapshot: Snapshot, place: Occurrence) -> Snapshot:
        name = f"{place.body.name}, mirrored"
        body, snapshot = new_body(work, snapshot, self._mirrored(work, place), name, place.body)
        if self.result == "linked":
            body = replace(body, mirror=Mirrored(place.body.id, *self._plane(work, place)), locked=True)
            snapshot = snapshot.with_body(body)
        return beside(snapshot, place, body)

    def _joined(self, work: Work, snapshot: Snapshot, place: Occurrence) -> Snapshot:
        solid, result, trace = combine_into(work, place.body, "unite", [self._mirrored(work, place)])
        doing = f"Mirroring {place.body.name}"
        if len(parts_of(result, "solid")) != 1:
            raise EditError(f"{doing}: the two halves do not touch; mirror it as a part of its own",
                            [f"n{place.node.id}"], field="result")  # fmt: skip
        sources = [(solid.index, place.body.ids())]
        return in_pieces(work, snapshot, place.body, result, sources, trace, doing)[0]
