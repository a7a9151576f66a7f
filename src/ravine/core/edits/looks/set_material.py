"""Say what parts are made of, so that they have a mass."""

from __future__ import annotations

from dataclasses import replace

from ...model.materials import MATERIALS
from ...model.references import Reference
from ...operations import facts
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, PickField
from ..registry import edit


@edit
class SetMaterial(Edit):
    name = "set material"
    title = "Material"
    also = ("material", "density")
    sentence = "Make {parts} of {material}"
    past = "Made {parts} of {material}"
    help = "Sets the material, and with it the density that masses are computed from."
    offered_for = "node"
    rank = 50
    drawing = '<path d="M2 11 8 3h9l-3 11H4z"/><path class="hot" d="M7 8h6M6 11h7"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "The parts or groups.", element="node"))
    material: str = field(
        ChoiceField("the material", "One of the materials table.", default="cast aluminium",
                  options={name: name for name in MATERIALS})
    )  # fmt: skip

    def apply(self, work: Work) -> Outcome:
        snapshot, bodies = work.snapshot, set()
        for ident in self.parts:
            for leaf in snapshot.leaves_below(ident.number):
                body = snapshot.bodies[snapshot.nodes[leaf].body or 0]
                bodies.add(body.id)
                snapshot = snapshot.with_body(replace(body, material=self.material))
        mass = [f for f in facts.change_facts(work, snapshot, bodies) if f.code == "mass_change"]
        return Outcome(snapshot, tuple(mass))
