"""Put a damaged body right: everything at once, or one kind of fault."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..mending.findings import KINDS
from ..mending.ladder import EVERYTHING, mended
from ..mending.mesh_mending import mesh_mended
from ..mending.report import flaw_counts
from ..model.derive import remesh_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Snapshot
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
            raise EditError(self._nothing(work, {b.id for b in bodies}, warnings), self.parts, field="what")
        facts, more = self._told(work, snapshot, {b.id for b in bodies}, done)
        if left:
            facts.append(Fact("open", "open edges left", float(left), "count", "warning", "open edge left"))
        return Outcome(snapshot, tuple(facts), (*warnings, *more))

    def _told(
        self, work: Work, after: Snapshot, bodies: set[int], done: dict[str, int]
    ) -> tuple[list[Fact], list[str]]:
        """What was mended, what could not be, and in words what mending brought: by a check-up before and after."""
        had = flaw_counts(work.snapshot, work.geometry, bodies)
        has = flaw_counts(after, work.geometry, bodies)
        fixes = {KINDS[code].fix for code in had}
        facts = [
            Fact(f"mended {code}", KINDS[code].one if n == 1 else KINDS[code].many, float(n), "count")
            for code, n in done.items()
            if KINDS[code].fix in fixes  # other steps only tidied up what mending itself had made
        ]
        for code, n in has.items():
            if code in had:
                facts.append(Fact(f"left {code}", f"{KINDS[code].many} left", float(n), "count", "warning",
                                  f"{KINDS[code].one} left"))  # fmt: skip
        brought = [_counted(code, n) for code, n in has.items() if code not in had]
        return facts, [f"mending brought {', '.join(brought)}"] if brought else []

    def _nothing(self, work: Work, bodies: set[int], warnings: list[str]) -> str:
        what = "nothing" if self.what == "everything" else f"no {self.what}"
        told = f"there is {what} to mend in {describe_nodes(work.snapshot, self.parts)}"
        if warnings:
            return f"{told}; {warnings[0]}"
        left = flaw_counts(work.snapshot, work.geometry, bodies) if self.what == "everything" else {}
        rest = [_counted(code, n) for code, n in left.items()]
        return f"{told} by itself; a person decides about {', '.join(rest)}" if rest else told


def _counted(code: str, number: int) -> str:
    return f"{number} {KINDS[code].one if number == 1 else KINDS[code].many}"
