"""Give faces or open surfaces a thickness."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..kernel.open_surfaces import thickened
from ..kernel.shapes import Shape, parts_of, placed
from ..model.references import Reference
from ..rigid import vec_of
from .axes import face_middle
from .new_material import put
from .work import Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Thicken(Operation):
    """Makes a solid of picked faces, or of open surfaces."""

    faces: tuple[Reference, ...]
    thickness: float
    sides: str = "one"
    way: str = "joining"

    def handle(self, work: Work) -> Handle | None:
        if self.faces[0][0] != "f":
            return None
        point, normal = face_middle(work, self.faces[0])
        return Handle("thickness", vec_of(point), vec_of(normal))

    def do(self, work: Work) -> Outcome:
        work.progress(0.2, "laying the parallels")
        solid = thickened(self._shapes(work), self.thickness, self.sides == "both")
        work.progress(0.6, "putting it to the rest")
        outcome = put(work, solid, self.way, "Shell")
        used = {f.number for f in self.faces if f[0] == "n"}
        return Outcome(outcome.snapshot.without_nodes(used), outcome.facts) if used else outcome

    def _shapes(self, work: Work) -> list[Shape]:
        """In model coordinates."""
        found = []
        for ident in self.faces:
            kind, number = ident.kind, ident.number
            if kind == "face":
                body, index = ident.owner
                if body.kind == "mesh":
                    raise EditError(
                        f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident], field="faces"
                    )
                shape = work.geometry.solid(body.shape).index.get("face", index)
                found.append(placed(shape, ident.matrix))
                continue
            for place in (o for o in work.snapshot.occurrences() if o.node.id in work.snapshot.leaves_below(number)):
                if place.body.kind != "surface":
                    raise EditError(f"{place.body.name} is no open surface; pick its faces", [ident], field="faces")
                shape = placed(work.geometry.solid(place.body.shape).shape, place.matrix)
                found += parts_of(shape, "face")
        return found
