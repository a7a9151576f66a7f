"""Hollow a solid out to a wall, open at the picked faces."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.plan import Offset
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..units import editable_length
from .booleans import combined
from .facts import change_facts
from .ladder import largest_that_works
from .reshaping import faces_by_body, indices, refusal
from .work import Operation, Outcome, Work

CLEAR = 1.0  # mm by which the void stands out of the open faces


@dataclass(frozen=True, kw_only=True)
class Hollow(Operation):
    """Takes the inside away and leaves a wall of even thickness; the picked faces are left open."""

    faces: tuple[Reference, ...]
    thickness: float
    other: float | None = None
    thick: tuple[Reference, ...] | None = None

    def do(self, work: Work) -> Outcome:
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
        topology = solid.topology
        open_ = set(indices(body, open_faces))
        thick = {body.faces.index(f) for f in (t.number for t in self.thick or ()) if f in body.faces}

        def steps(wall: float) -> dict[int, Offset]:
            share = wall / self.thickness
            return {
                f: Offset(CLEAR if f in open_ else -share * (self.other or 0.0) if f in thick else -wall)
                for f in range(topology.index.count("face"))
            }

        def works(wall: float) -> bool:
            try:
                reshape(topology, steps(wall))
            except LocalFailure:
                return False
            return True

        work.progress(0.2, "offsetting the inside")
        try:
            void = reshape(topology, steps(self.thickness))
        except LocalFailure as failure:
            largest = largest_that_works(self.thickness, works) if work.mode.advises else None
            nearest = None if largest is None else editable_length(largest, snapshot.units)
            raise refusal(work, body, failure, "thickness", nearest) from None
        work.progress(0.6, "taking the inside away")
        where = [text_id("face", f) for f in open_faces]
        return combined(work, snapshot, body, "subtract", [void.shape], where, "thickness")
