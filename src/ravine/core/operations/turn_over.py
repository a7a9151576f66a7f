"""Turn faces so that their matter is on the other side."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..kernel.soup import turned_over
from ..model.references import Reference
from .mended_bodies import taken_over
from .reshaping import faces_by_body, indices
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class TurnOver(Operation):
    """Puts the matter on the other side of faces of an open surface; that decides where it thickens to."""

    faces: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        for number, faces in faces_by_body(snapshot, self.faces).items():
            body = snapshot.body(number)
            if body.kind == "solid":
                raise EditError(f"{body.name} is a solid; a face that looked inwards would leave it unsound",
                                self.faces, field="faces")  # fmt: skip
            shape = work.geometry.solid(body.shape).shape
            snapshot = taken_over(work, snapshot, body, turned_over(shape, indices(body, faces)))
        return Outcome(snapshot)
