"""Delete parts from the model."""

from __future__ import annotations

from ...model import measure
from ...model.references import Reference
from ...operations.work import Fact, Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class DeleteBody(Edit):
    name = "delete body"
    title = "Delete"
    also = ("delete part", "discard")
    sentence = "Delete {parts}"
    past = "Deleted {parts}"
    help = "Takes parts or groups out of the model.  Other places that show the same part keep it."
    offered_for = "node"
    rank = 90
    drawing = '<path d="M4 3h11v10H4z" stroke-dasharray="1.6 1.4"/><path class="hot" d="M2 14 17 2"/>'

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "The parts or groups to delete.", element="node", places=True)
    )

    def apply(self, work: Work) -> Outcome:
        doomed = {i.number for i in self.parts}
        leaves = {leaf for node in doomed for leaf in work.snapshot.leaves_below(node)}
        volume = 0.0
        for leaf in leaves:
            body = work.snapshot.bodies[work.snapshot.nodes[leaf].body or 0]
            volume -= measure.volume_mm3(work.geometry.get(body.shape), body.kind)
        return Outcome(work.snapshot.without_nodes(set(doomed)), (Fact("volume_change", "volume", volume, "volume"),))
