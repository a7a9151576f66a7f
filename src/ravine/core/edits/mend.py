"""Put a damaged body right: everything at once, or one kind of fault."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..kernel.kin import matched
from ..kernel.properties import area_properties
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..mending.findings import KINDS
from ..mending.ladder import EVERYTHING, Mended, mended, size_of
from ..mending.mesh_mending import mesh_mended
from ..model.derive import remesh_body, reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, split_id
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, Context, LengthGap, PickGap

WHAT = {"everything": "everything", **{k.fix: k.fix for k in KINDS.values() if k.fix}}
FIXABLE: dict[str, set[str]] = {}
for _code, _kind in KINDS.items():
    if _kind.fix:
        FIXABLE.setdefault(_kind.fix, set()).add(_code)


@edit
class Mend(Edit):
    name = "mend"
    title = "Mend"
    sentence = "Mend {what} of {parts} , gaps up to {widest}"
    past = "Mended {what} of {parts}"
    help = (
        "Drops twins and slivers, sews borders that run beside one another, lays missing faces on the surface that "
        "their borders tell, turns faces to one side, draws loose edges anew where their faces cross, merges faces "
        "split for no reason.  On a mesh: holes, turned and doubled triangles, needles, crumbs.  What stays open is "
        "told."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 60
    drawing = "mend"

    what: str = gap(ChoiceGap("what", "All that is wrong, or one kind.", default="everything", options=WHAT))
    parts: tuple[str, ...] = gap(PickGap("the parts", "Parts or groups.", element="node"))
    widest: float | None = gap(LengthGap("the widest gap", "That may be sewn.", minimum=1e-6, default=None,
                                         blank="a 500th of the size"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.locked

    def told(self, context: Context) -> str:
        parts = self.word("parts", context)
        return f"Mended {parts}" if self.what == "everything" else f"Mended {self.what} of {parts}"

    def apply(self, work: Work) -> Outcome:
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
        told = f"there is {what} to mend in {self.word('parts', work.context())}"
        return f"{told}; {warnings[0]}" if warnings else told


def bodies_of(work: Work, parts: tuple[str, ...]) -> list[Body]:
    """The bodies below picked places, each once.  Raises EditError for locked ones."""
    leaves = dict.fromkeys(leaf for p in parts for leaf in work.snapshot.leaves_below(split_id(p)[1]))
    bodies = {b: work.snapshot.bodies[b] for n in leaves if (b := work.snapshot.nodes[n].body) is not None}
    locked = next((b for b in bodies.values() if b.locked), None)
    if locked:
        raise EditError(f"{locked.name} is locked, so it is not changed; unlock it first", parts, field="parts")
    return list(bodies.values())


def taken_over(work: Work, snapshot: Snapshot, body: Body, shape: Shape, within: float | None = None) -> Snapshot:
    """The body with a mended shape: what lies where it lay keeps its id; a solid where it is one now."""
    index = ShapeIndex(shape)
    old = work.geometry.solid(body.shape).index
    near = matched(old, index, max(0.05, within or size_of(shape) / 250))
    known = body.ids()
    ids = {kind: [None if k is None else known[kind][k] for k in row] for kind, row in near.items()}
    kind = "solid" if parts_of(shape, "solid") else "surface"
    return reshape_body(snapshot, work.geometry, replace(body, kind=kind), Solid(shape), ids)


def sheet_facts(found: Mended) -> tuple[Fact, ...]:
    """Of a body that was sewn: its area, how many edges stay open, and with what tolerance it was sewn."""
    facts = (
        Fact("open", "open edges", float(found.left), "count", tone="warning" if found.left else "plain"),
        Fact("tolerance", "sewn within", found.tolerance, "length"),
    )
    if parts_of(found.shape, "solid"):
        return (Fact("solid", "", "now a solid"), *facts)
    return (*facts, Fact("area", "area", abs(area_properties(found.shape).amount), "area"))
