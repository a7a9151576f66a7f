"""Put a damaged body right: everything at once, or one kind of fault."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..mending.findings import KINDS
from ..mending.ladder import EVERYTHING, mended
from ..mending.mesh_mending import mesh_mended
from ..model.derive import remesh_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.words import describe_nodes
from .mended_bodies import bodies_of, taken_over
from .work import Fact, Operation, Outcome, Work

FIXABLE: dict[str, set[str]] = {
    fix: {code for code, kind in KINDS.items() if kind.fix == fix} for fix in {k.fix for k in KINDS.values() if k.fix}
}


@dataclass(frozen=True, kw_only=True)
class Mend(Operation):
    """Drops twins and slivers, sews borders that run beside one another, lays missing faces on the surface that
    their borders tell, turns faces to one side, draws loose edges anew where their faces cross, merges faces
    split for no reason."""

    parts: tuple[Reference, ...]
    what: str = "everything"
    widest: float | None = None

    def do(self, work: Work) -> Outcome:
        snapshot, left = work.snapshot, 0
        done: dict[str, int] = {}
        warnings: list[str] = []
        bodies = bodies_of(work, self.parts)
        for body in bodies:
            geometry = work.geometry.get(body.shape)
            if isinstance(geometry, Solid):
                only = EVERYTHING if self.what == "everything" else frozenset(FIXABLE[self.what]) & EVERYTHING
                found = mended(geometry.shape, self.widest, only, work.progress)
                if found.done:
                    snapshot = taken_over(work, snapshot, body, found.shape, self.widest)
                did, open_, why = found.done, found.left, found.trouble
            else:
                mesh = mesh_mended(geometry, None if self.what == "everything" else FIXABLE[self.what])
                if mesh.done:
                    snapshot = remesh_body(snapshot, work.geometry, body, mesh.mesh)
                did, open_, why = mesh.done, mesh.left, mesh.trouble
            for code, count in did.items():
                done[code] = done.get(code, 0) + count
            left += open_
            if why and (did or len(bodies) == 1):
                warnings.append(f"{body.name} is no sound solid yet: {why}")
        if not done:
            raise EditError(self._nothing(work, warnings), self.parts, field="what")
        facts = [
            Fact(f"mended {code}", KINDS[code].one if n == 1 else KINDS[code].many, float(n), "count")
            for code, n in done.items()
        ]
        if left:
            facts.append(Fact("open", "open edges left", float(left), "count", "warning", "open edge left"))
        return Outcome(snapshot, tuple(facts), tuple(warnings))

    def _nothing(self, work: Work, warnings: list[str]) -> str:
        what = "nothing" if self.what == "everything" else f"no {self.what}"
        told = f"there is {what} to mend in {describe_nodes(work.snapshot, self.parts)}"
        return f"{told}; {warnings[0]}" if warnings else told
