"""Full round: a narrow face between two others becomes the round that touches all three."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..local.failure import LocalFailure
from ..local.full_fillet import full_fillet
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from .booleans import combined
from .facts import change_facts
from .reshaping import faces_by_body, refusal
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class RoundOver(Operation):
    """Turns a narrow face, straight or going round an axis, into the one round that touches it and the two
    faces along it."""

    faces: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot, radii = work.snapshot, []
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            for face in chosen:
                body = snapshot.body(number)
                if face not in body.faces:
                    raise EditError(f"face {text_id('face', face)} vanishes before it is its turn", self.faces)
                snapshot, radius = self._over(work, snapshot, body, face)
                radii.append(radius)
        facts = [Fact("radius", "radius", radius, "length") for radius in radii[:1]]
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *facts))

    def _over(self, work: Work, snapshot: Snapshot, body: Body, face: int) -> tuple[Snapshot, float]:
        try:
            found = full_fillet(work.geometry.solid(body.shape).topology, body.faces.index(face))
        except LocalFailure as failure:
            raise refusal(work, body, failure, "faces") from None
        stands = [("face", face, front) for front in found.fronts]
        kind = "unite" if found.adds else "subtract"
        after = combined(work, snapshot, body, kind, found.cells, self.faces, "faces", stands)
        return after, found.radius
