"""Give faces or open surfaces a thickness."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.shapes import Shape, parts_of, placed
from ..kernel.sheets import thickened
from ..model.snapshot import split_id
from ..units import format_length
from .axes import face_middle
from .base import Edit, Handle, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, LengthGap, PickGap
from .grown import WAY, put
from .shaping import matrix_of, triple


@edit
class Thicken(Edit):
    name = "thicken"
    title = "Thicken"
    sentence = "Thicken {faces} by {thickness} , {sides}, {way}"
    past = "Thickened {faces} by {thickness}"
    help = (
        "Makes a solid of picked faces, or of open surfaces: between them and their parallels, outwards for a positive "
        "thickness, inwards for a negative one, or half to each side.  The faces stay as they are; an open surface is "
        "used up."
    )
    offered_for = "face"
    rank = 28
    drawing = "thicken"

    faces: tuple[str, ...] = gap(PickGap("the faces", "Faces that hang together, or a surface part.", element="face",
                                         also=("node",), changes=False))  # fmt: skip
    thickness: float = gap(LengthGap("the thickness", "Square to the faces.", nonzero=True))
    sides: str = gap(ChoiceGap("the sides", "One, or half to each.", default="one",
                               options={"one": "to one side", "both": "half to each side"}))  # fmt: skip
    way: str = gap(WAY)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return (pick.kind == "face" and not pick.mesh) or (pick.kind == "node" and pick.surface)

    def handle(self, work: Work) -> Handle | None:
        if self.faces[0][0] != "f":
            return None
        point, normal = face_middle(work, self.faces[0])
        return Handle("thickness", triple(point), triple(normal))

    def apply(self, work: Work) -> Outcome:
        doing = (
            f"Thickening {self.word('faces', work.context())} by {format_length(self.thickness, work.snapshot.units)}"
        )
        work.progress(0.2, "laying the parallels")
        solid = thickened(self._shapes(work), self.thickness, self.sides == "both", doing)
        work.progress(0.6, "putting it to the rest")
        outcome = put(work, solid, self.way, doing, "Shell")
        used = {split_id(f)[1] for f in self.faces if f[0] == "n"}
        return Outcome(outcome.snapshot.without_nodes(used), outcome.facts) if used else outcome

    def _shapes(self, work: Work) -> list[Shape]:
        """In model coordinates."""
        found = []
        for ident in self.faces:
            kind, number = split_id(ident)
            if kind == "face":
                body, index = work.snapshot.owner_of("face", number)
                if body.kind == "mesh":
                    raise EditError(
                        f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident], field="faces"
                    )
                shape = work.geometry.solid(body.shape).index.get("face", index)
                found.append(placed(shape, matrix_of(work.snapshot, body)))
                continue
            for place in (o for o in work.snapshot.occurrences() if o.node.id in work.snapshot.leaves_below(number)):
                if place.body.kind != "surface":
                    raise EditError(f"{place.body.name} is no open surface; pick its faces", [ident], field="faces")
                shape = placed(work.geometry.solid(place.body.shape).shape, place.matrix)
                found += parts_of(shape, "face")
        return found
