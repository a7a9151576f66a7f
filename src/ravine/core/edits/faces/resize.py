"""Give faces a size: the diameter of holes, the radius of rounds, the thickness between opposite faces."""

from __future__ import annotations

from typing import Any

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import followers, resize
from ...operations.work import Outcome, Work
from ...units import editable_length
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..fields.shared import CHAMFERS, FACE_SELECTION
from ..registry import edit

_MEASURES = {
    "diameter": "diameter",
    "radius": "radius",
    "thickness": "distance to its opposite",
    "width": "chamfer width",
}


@edit
class Resize(Edit):
    name = "resize"
    title = "Set size"
    also = ("set size", "set diameter", "set radius")
    sentence = "Set {measure} of {faces} {riders} to {size} or that of {like}, {chamfers}"
    past = "Set {measure} of {faces} to {size}"
    help = (
        "Gives faces a total instead of a step: the diameter or radius of round faces, the distance between a flat "
        "face and the one opposite, the width of a chamfer along its wider side.  A round or chamfer changes with its "
        "whole run.  Or takes the size of another face."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 11
    drawing = '<path d="M2 14h15V7H2z"/><path class="hot" d="M2 3h15M2 1v4M17 1v4"/>'
    folds = ("riders", "like", "chamfers")

    size: float | None = field(LengthField("the size", "The new total.", minimum=1e-4, default=None, instead="like"))
    measure: str = field(ChoiceField("the measure", "Which size of the faces is set.", default="diameter",
                                 options=_MEASURES))  # fmt: skip
    faces: tuple[Reference, ...] = field(PickField("the faces", "Round faces, flat ones, or chamfers.", element="face"))
    riders: str = field(FACE_SELECTION)
    like: tuple[Reference, ...] | None = field(
        PickField("the pattern", "A face whose size is taken.", element="face", maximum=1, changes=False, default=None,
                empty="another face")
    )  # fmt: skip
    chamfers: str = field(CHAMFERS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh and (pick.chamfers or not pick.face_kinds & {"spline", "cone"})

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        return followers.no_chamfers(work, picked)

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        found: dict[str, Any] = {"faces": list(picked)}
        body, index = picked[0].owner
        topology = work.geometry.solid(body.shape).topology
        kind = topology.surface(index).kind
        if resize.size_of(topology, index, "width") is not None:
            measure = "width"
        elif kind == "plane":
            measure = "thickness"
        else:
            measure = "radius" if resize._is_round(topology, index) or kind == "torus" else "diameter"
        size = resize.size_of(topology, index, measure)
        if size is not None:
            found |= {"measure": measure, "size": editable_length(size, work.snapshot.units)}
        return found

    def told(self, context: Context) -> str:
        if self.measure == "diameter" and not self.like:
            return f"Set {self.word('faces', context)} to Ø {self.word('size', context)}"
        words = f"Set {self.word('measure', context)} of {self.word('faces', context)} to "
        return words + (f"that of {self.word('like', context)}" if self.like else self.word("size", context))

    def doing_words(self, context: Context, error: CannotDo) -> str:
        goal = f"that of {self.word('like', context)}" if self.like else self.word("size", context)
        return f"Setting {self.word('measure', context)} of {self.word('faces', context)} to {goal}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(resize.Resize, work)
