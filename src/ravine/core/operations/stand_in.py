"""Blocks of a board's components replaced by real parts, all with one part number at once; the next board that comes
in gets them, too."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.records import STAND_INS
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..model.stand_in import StandIn
from ..rigid import Rigid
from .take_from_shelf import Taking, item_of
from .work import Fact, Operation, Outcome, Work

PART_NUMBER = "part number"  # attribute of a place that a board's file named


@dataclass(frozen=True, kw_only=True)
class PutStandIn(Operation):
    """component: any one with the part number; item: of the shelf, or by: a part of the model, which goes from where it
    is; turn: about the component's Z, across, up, lift: along its axes, mm."""

    component: tuple[Reference, ...]
    item: str | None = None
    by: tuple[Reference, ...] | None = None
    turn: float = 0.0
    across: float = 0.0
    up: float = 0.0
    lift: float = 0.0

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        number = snapshot.nodes[self.component[0].number].attributes.get(PART_NUMBER)
        if not number:
            raise EditError("this has no part number of a board's file", self.component, field="component")
        if bool(self.item) == bool(self.by):
            raise EditError("say one of the two: an item of the shelf, or a part of the model", field="item")
        if self.by:
            body, snapshot = self._own(snapshot)
        else:
            taking = Taking(work, False)
            body = taking.body(item_of(self.item or "")).id
            snapshot = taking.snapshot
        offset = Rigid.slide((self.across, self.up, self.lift)) @ Rigid.about((0, 0, 0), (0, 0, 1), self.turn)
        rows = snapshot.kept(STAND_INS)
        snapshot, count = _put(snapshot, StandIn(number, body, offset), rows.get(number), set(snapshot.nodes))
        snapshot = snapshot.with_kept(STAND_INS, {**snapshot.kept(STAND_INS), number: StandIn(number, body, offset)})
        facts = (Fact("replaced", "components replaced", float(count), "count", one="component replaced"),)
        return Outcome(snapshot, facts)

    def _own(self, snapshot: Snapshot) -> tuple[int, Snapshot]:
        assert self.by is not None
        node = snapshot.nodes[self.by[0].number]
        if node.body is None:
            raise EditError("pick one part, not a group", self.by, field="by")
        if node.attributes.get(PART_NUMBER):
            raise EditError("that is a component itself; pick the part that is to stand in", self.by, field="by")
        kept = snapshot.without_nodes({node.id})
        return node.body, kept.with_body(snapshot.bodies[node.body])


def put_all(snapshot: Snapshot, among: Collection[int]) -> tuple[Snapshot, int]:
    """By the rules that are kept, components among these places.  The state, and how many it was."""
    done = 0
    for rule in snapshot.kept(STAND_INS).values():
        snapshot, count = _put(snapshot, rule, None, among)
        done += count
    return snapshot, done


def _put(snapshot: Snapshot, rule: StandIn, before: StandIn | None, among: Collection[int]) -> tuple[Snapshot, int]:
    """before: the rule by which those that have that body stand now."""
    count = 0
    nodes = dict(snapshot.nodes)
    for node in snapshot.nodes.values():
        if node.id not in among or node.attributes.get(PART_NUMBER) != rule.part_number:
            continue
        stood = before is not None and node.body == before.body
        frame = node.placement @ before.offset.inverse if stood and before is not None else node.placement
        nodes[node.id] = replace(node, body=rule.body, placement=frame @ rule.offset)
        count += 1
    return replace(snapshot, nodes=nodes).without_nodes(set()), count
