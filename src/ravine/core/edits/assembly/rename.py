"""Rename a part, group or body."""

from __future__ import annotations

from dataclasses import replace

from ...model.references import Reference
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import PickField, TextField
from ..registry import edit


@edit
class Rename(Edit):
    name = "rename"
    title = "Rename"
    also = ("name", "title")
    sentence = "Rename {part} to {to}"
    past = "Renamed {part} to {to}"
    help = "Gives a part or group another name.  A part used in several places is renamed in all of them."
    offered_for = "node"
    rank = 60
    drawing = drawings.LABEL

    part: tuple[Reference, ...] = field(
        PickField("the part", "The part or group to rename.", element="node", places=True, maximum=1)
    )
    to: str = field(TextField("the new name", "Up to 120 letters."))

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict:
        node = work.snapshot.nodes[picked[0].number]
        return {"part": list(picked[:1]), "to": node.name}

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        node = snapshot.nodes[self.part[0].number]
        if node.body is None:
            return Outcome(snapshot.with_node(replace(node, name=self.to)))
        snapshot = snapshot.with_body(replace(snapshot.bodies[node.body], name=self.to))
        for found in snapshot.occurrences(node.body):
            snapshot = snapshot.with_node(replace(found.node, name=self.to))
        return Outcome(snapshot)
