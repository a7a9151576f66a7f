"""Studies of a model: begun, held, loaded, meshed more finely, taken away.  Nothing is computed here."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ..errors import EditError
from ..model.records import SIMULATIONS
from ..model.references import Reference
from ..model.simulation import CONTACTS, LOADS, SUPPORTS, Condition, ContactRule, Simulation
from ..model.snapshot import Snapshot
from .work import Fact, Operation, Outcome, Work

AXES = ("x", "y", "z")
# numbers that a kind has to have; of those in brackets one at least
NEEDED: Mapping[str, tuple[str, ...]] = {"pressure": ("amount",), "rotation": ("speed",), "elastic": ("ground",)}
EVERYWHERE = ("weight", "rotation", "warmth")


@dataclass(frozen=True, kw_only=True)
class BeginStudy(Operation):
    """parts: places in the tree, all solids when left out."""

    parts: tuple[Reference, ...] = ()
    called: str = ""

    def do(self, work: Work) -> Outcome:
        snapshot, rows = work.snapshot, dict(work.snapshot.kept(SIMULATIONS))
        if self.parts:
            nodes = list(dict.fromkeys(n for p in self.parts for n in snapshot.leaves_below(p.number)))
        else:
            nodes = [o.node.id for o in snapshot.occurrences() if o.body.kind == "solid"]
        solids = {o.node.id: o.body for o in snapshot.occurrences() if o.body.kind == "solid"}
        odd = [n for n in nodes if n not in solids]
        if odd or not nodes:
            names = ", ".join(snapshot.nodes[n].name for n in odd[:3]) or "the model"
            raise EditError(f"only solids are simulated; {names} is none", self.parts, field="parts")
        bare = sorted({solids[n].name for n in nodes if solids[n].material is None})
        if bare:
            raise EditError(f"say what it is made of first: {', '.join(bare[:4])}", self.parts, field="parts")
        name = self.called or next(n for k in range(1, 10**6) if (n := f"Study {k}") not in rows)
        if name in rows:
            raise EditError(f"there is a study {name} already", field="called")
        rows[name] = Simulation(name, tuple(nodes))
        facts = (Fact("parts", "parts", float(len(nodes)), "count"),)
        return Outcome(snapshot.with_kept(SIMULATIONS, rows), facts)


def study_called(snapshot: Snapshot, called: str) -> Simulation:
    """The only one, where no name is said.  Raises EditError."""
    rows = snapshot.kept(SIMULATIONS)
    if not called and len(rows) == 1:
        return next(iter(rows.values()))
    if called in rows:
        found: Simulation = rows[called]
        return found
    if not rows:
        raise EditError("no study is begun yet; begin one with its parts", field="study")
    names = ", ".join(rows)
    raise EditError(f"say which study: {names}" if not called else f"there is no study {called}; there is {names}",
                    field="study", nearest=next(iter(rows)))  # fmt: skip


def with_study(snapshot: Snapshot, study: Simulation) -> Snapshot:
    return snapshot.with_kept(SIMULATIONS, {**snapshot.kept(SIMULATIONS), study.name: study})


@dataclass(frozen=True, kw_only=True)
class AddCondition(Operation):
    """A support or a load; on: faces of the study's parts; numbers: as in model.simulation.Condition, in N, MPa, mm."""

    kind: str
    on: tuple[Reference, ...] = ()
    numbers: Mapping[str, float] = field(default_factory=dict)
    study: str = ""
    called: str = ""

    def do(self, work: Work) -> Outcome:
        study = study_called(work.snapshot, self.study)
        words = {**SUPPORTS, **LOADS}
        if self.kind not in words:
            raise EditError(f"there is no {self.kind}; there is {', '.join(words)}", field="kind")
        self._check(work, study)
        known = {c.name for c in study.conditions}
        first = "Support" if self.kind in SUPPORTS else "Load"
        name = self.called or next(n for k in range(1, 10**6) if (n := f"{first} {k}") not in known)
        if name in known:
            raise EditError(f"{study.name} has {name} already", field="called")
        placed = tuple(dict.fromkeys(r.placed for r in self.on))
        new = replace(study, conditions=(*study.conditions, Condition(name, self.kind, placed, dict(self.numbers))))
        return Outcome(with_study(work.snapshot, new))

    def _check(self, work: Work, study: Simulation) -> None:
        if not self.on and self.kind not in EVERYWHERE:
            raise EditError("pick the faces that it acts on", field="on")
        for reference in self.on:
            if reference.node not in study.nodes:
                raise EditError(f"{reference} is of no part of {study.name}", [reference], field="on")
        for name in NEEDED.get(self.kind, ()):
            if not self.numbers.get(name):
                raise EditError(f"say how much: {name} is missing", field=name)
        vector = [self.numbers.get(a) for a in AXES]
        if self.kind in ("force", "bearing", "remote", "weight", "rotation", "moment") and not any(vector):
            raise EditError("it has no direction yet: say how much of it is along X, Y or Z", field="x")
        if self.kind == "displacement" and all(v is None for v in vector):
            raise EditError("say in which directions it is held, and where", field="x")
        if self.kind in ("cylindrical", "bearing"):
            for reference in self.on:
                body, index = reference.owner
                if work.geometry.solid(body.shape).topology.surface(index).kind != "cylinder":
                    raise EditError(f"{reference} is not cylindrical", [reference], field="on")


@dataclass(frozen=True, kw_only=True)
class DropCondition(Operation):
    called: str
    study: str = ""

    def do(self, work: Work) -> Outcome:
        study = study_called(work.snapshot, self.study)
        left = tuple(c for c in study.conditions if c.name != self.called)
        if len(left) == len(study.conditions):
            names = ", ".join(c.name for c in study.conditions) or "nothing"
            raise EditError(f"{study.name} has no {self.called}; it has {names}", field="called")
        return Outcome(with_study(work.snapshot, replace(study, conditions=left)))


@dataclass(frozen=True, kw_only=True)
class SetContact(Operation):
    """parts: two of the study, or none for all that touch; gap: mm up to which it is closed."""

    kind: str = "bonded"
    parts: tuple[Reference, ...] = ()
    gap: float = 0.0
    study: str = ""

    def do(self, work: Work) -> Outcome:
        study = study_called(work.snapshot, self.study)
        if self.kind not in CONTACTS:
            raise EditError(f"parts are {', '.join(CONTACTS)}", field="kind")
        if not self.parts:
            return Outcome(with_study(work.snapshot, replace(study, contact=self.kind)))
        nodes = sorted({n for p in self.parts for n in work.snapshot.leaves_below(p.number)})
        if len(nodes) != 2 or not set(nodes) <= set(study.nodes):
            raise EditError("pick two parts of the study", self.parts, field="parts")
        pair = (nodes[0], nodes[1])
        rules = (*(r for r in study.rules if r.nodes != pair), ContactRule(pair, self.kind, self.gap))
        return Outcome(with_study(work.snapshot, replace(study, rules=rules)))


@dataclass(frozen=True, kw_only=True)
class SetMesh(Operation):
    """size: mm of elements, as fits when None; on: faces that it is said for, none for all."""

    size: float | None = None
    on: tuple[Reference, ...] = ()
    study: str = ""

    def do(self, work: Work) -> Outcome:
        study = study_called(work.snapshot, self.study)
        if not self.on:
            return Outcome(with_study(work.snapshot, replace(study, size=self.size)))
        finer = {k: v for k, v in study.finer.items() if k not in {r.placed for r in self.on}}
        if self.size is not None:
            finer |= {r.placed: self.size for r in self.on}
        return Outcome(with_study(work.snapshot, replace(study, finer=finer)))


@dataclass(frozen=True, kw_only=True)
class DropStudy(Operation):
    study: str = ""

    def do(self, work: Work) -> Outcome:
        gone = study_called(work.snapshot, self.study)
        rows = {k: s for k, s in work.snapshot.kept(SIMULATIONS).items() if k != gone.name}
        return Outcome(work.snapshot.with_kept(SIMULATIONS, rows))
