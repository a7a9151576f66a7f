"""How parts are drawn apart, step by step, under a name.  Where they stand in the model is not touched by it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..rigid import Vec

FIRST = "Exploded"  # the name, where none is given


@dataclass(frozen=True)
class ExplosionStep:
    """nodes: places in the tree that go together, with all below them; shift: mm in the model."""

    nodes: tuple[int, ...]
    shift: Vec


@dataclass(frozen=True)
class Explosion:
    """steps: one after the other, counted from where the parts stand."""

    steps: tuple[ExplosionStep, ...]

    def to_json(self) -> list[Any]:
        return [[step.nodes, step.shift] for step in self.steps]

    @classmethod
    def from_json(cls, data: list[Any]) -> Explosion:
        return cls(tuple(ExplosionStep(tuple(nodes), tuple(shift)) for nodes, shift in data))

    def shifts(self, below: Mapping[int, list[int]]) -> list[dict[int, Vec]]:
        """For each step how far (mm) it takes each place that shows a body; below: those in each place of the tree.
        Places that are no more are passed over."""
        return [{leaf: step.shift for node in step.nodes for leaf in below.get(node, ())} for step in self.steps]
