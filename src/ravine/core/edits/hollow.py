"""Hollow a solid out to a wall, open at the picked faces."""

from __future__ import annotations

from ..errors import EditError
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.plan import Offset
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..units import editable_length, format_length
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined
from .gaps import Context, LengthGap, PickGap
from .shaping import faces_by_body, indices, largest_that_works, refusal

CLEAR = 1.0  # mm by which the void stands out of the open faces


@edit
class Hollow(Edit):
    name = "hollow"
    title = "Hollow out"
    sentence = "Hollow out, open at {faces}, with a wall of {thickness}, and of {other} at {thick}"
    past = "Hollowed out to a wall of {thickness}"
    help = (
        "Takes the inside away and leaves a wall of even thickness; the picked faces are left open.  Some faces may "
        "have a thickness of their own.  Rounds inside stay in step with those outside."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 23
    drawing = "hollow"

    faces: tuple[str, ...] = gap(PickGap("the open faces", "Flat faces that get no wall.", element="face",
                                         kinds=("plane",)))  # fmt: skip
    thickness: float = gap(LengthGap("the wall", "Measured square to each face.", minimum=1e-3))
    other: float | None = gap(LengthGap("the other wall", "Where some faces get one of their own.", minimum=1e-3,
                                        default=None))  # fmt: skip
    thick: tuple[str, ...] | None = gap(
        PickGap("the other faces", "Faces with the other thickness.", element="face", default=None, empty="no face")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.face_kinds == {"plane"}

    def told(self, context: Context) -> str:
        words = f"Hollowed out, open at {self.word('faces', context)}, to a wall of {self.word('thickness', context)}"
        if self.thick and self.other is not None:
            words += f", and {self.word('other', context)} at {self.word('thick', context)}"
        return words

    def apply(self, work: Work) -> Outcome:
        if bool(self.thick) != (self.other is not None):
            raise EditError("the other wall needs both a thickness and the faces that get it",
                            field="other" if self.other is None else "thick")  # fmt: skip
        by_body = faces_by_body(work.snapshot, self.faces)
        snapshot = work.snapshot
        for number, chosen in by_body.items():
            snapshot = self._hollowed(work, snapshot, snapshot.body(number), chosen)
        return Outcome(snapshot, change_facts(work, snapshot, set(by_body)))

    def _hollowed(self, work: Work, snapshot: Snapshot, body: Body, open_faces: list[int]) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        fabric = solid.fabric
        open_ = set(indices(body, open_faces))
        thick = {body.faces.index(f) for f in (split_id(t)[1] for t in self.thick or ()) if f in body.faces}

        def steps(wall: float) -> dict[int, Offset]:
            share = wall / self.thickness
            return {
                f: Offset(CLEAR if f in open_ else -share * (self.other or 0.0) if f in thick else -wall)
                for f in range(fabric.index.count("face"))
            }

        def works(wall: float) -> bool:
            try:
                reshape(fabric, steps(wall))
            except LocalFailure:
                return False
            return True

        doing = f"Hollowing {body.name} out to a wall of {format_length(self.thickness, snapshot.units)}"
        work.progress(0.2, "offsetting the inside")
        try:
            void = reshape(fabric, steps(self.thickness))
        except LocalFailure as failure:
            largest = largest_that_works(self.thickness, works) if work.wants_nearest else None
            nearest = None if largest is None else editable_length(largest, snapshot.units)
            raise refusal(work, body, doing, failure, "thickness", nearest) from None
        work.progress(0.6, "taking the inside away")
        where = [text_id("face", f) for f in open_faces]
        return combined(work, snapshot, body, "subtract", [void.shape], doing, where, "thickness")
