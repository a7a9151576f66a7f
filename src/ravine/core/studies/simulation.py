"""Simulations: how far parts bend, what stresses them, how they swing."""

from __future__ import annotations

from typing import Any

from ..bill import masses
from ..edits.declared import field
from ..edits.fields import CountField, FactorField, RowsField, TextField
from ..errors import EditError
from ..model.simulation import Simulation
from ..operations import simulations
from ..operations.work import Work
from ..simulate import answer, packed
from ..units import LENGTHS
from . import variant
from .base import Study, study

MOST_ROUNDS = 5
MOST_MODES = 12
FIGURES = ("displacement", "von_mises", "margin")
CALLED = TextField("the study", "By its name; may be left out where there is one.", limit=60, default="")


def _called(work: Work, name: str) -> Simulation:
    return simulations.study_called(work.snapshot, name)


@study
class Simulate(Study):
    name = "simulate"
    help = (
        "A study solved: displacement, stress, margin against yield, reactions, packed as simulate/packed.py says.  "
        "Small displacements, linear material; contacts that are free to open are solved in rounds."
    )
    seconds = 900.0
    lane = "job"
    follows = True

    called: str = field(CALLED)
    scale: float = field(FactorField("the scale", "Of all element sizes.", default=1.0))
    rounds: int = field(
        CountField(
            "the rounds",
            "Solutions, each with a mesh that is finer where it matters; small ones take up to three by themselves.",
            default=1,
        )
    )

    def run(self, work: Work) -> bytes:
        if self.rounds > MOST_ROUNDS:
            raise EditError(f"up to {MOST_ROUNDS} rounds", field="rounds", nearest=str(MOST_ROUNDS))
        found = answer.answered(
            work.snapshot, work.geometry, _called(work, self.called), self.scale, self.rounds - 1, work.progress,
            settle=self.rounds == 1 and self.scale == 1.0,
        )  # fmt: skip
        return packed.packed_answer(found, LENGTHS[work.snapshot.units])


@study
class SimulatedFigures(Study):
    name = "simulated figures"
    help = "The figures of a study alone: largest displacement, stress, least margin, reactions, error."
    seconds = 900.0
    lane = "job"
    follows = True

    called: str = field(CALLED)
    scale: float = field(FactorField("the scale", "Of all element sizes.", default=1.0))

    def run(self, work: Work) -> dict[str, Any]:
        found = answer.answered(work.snapshot, work.geometry, _called(work, self.called), self.scale, 0, work.progress)
        return packed.answer_head(found, LENGTHS[work.snapshot.units])


@study
class Frequencies(Study):
    name = "frequencies"
    help = "Natural frequencies of a study's parts as they are held, and the shape of one of them, packed."
    seconds = 900.0
    lane = "job"
    follows = True

    called: str = field(CALLED)
    count: int = field(CountField("the count", "How many, the lowest first.", default=6))
    which: int = field(CountField("which", "Whose shape is shown.", default=1))

    def run(self, work: Work) -> bytes:
        if not 1 <= self.which <= self.count <= MOST_MODES:
            raise EditError(f"up to {MOST_MODES} frequencies, and one of them is shown", field="count")
        study = _called(work, self.called)
        setup, modes = answer.modes_of(work.snapshot, work.geometry, study, self.count, work.progress)
        return packed.packed_modes(setup, study.name, modes, self.which - 1)


@study
class LooseMotion(Study):
    name = "loose motion"
    help = "How a study's parts can still move, as they are held, and one of these motions, packed."
    seconds = 300.0
    lane = "job"
    follows = True

    called: str = field(CALLED)
    which: int = field(CountField("which", "Whose motion is shown.", default=1))

    def run(self, work: Work) -> bytes:
        study = _called(work, self.called)
        setup, found = answer.loose_of(work.snapshot, work.geometry, study, work.progress)
        if not found:
            raise EditError(f"{study.name} is held against every motion")
        if self.which > len(found):
            raise EditError(f"there are {len(found)} loose motions", field="which", nearest=str(len(found)))
        return packed.packed_loose(setup, study.name, found, self.which - 1)


@study
class SimulatedVariant(Study):
    name = "simulated variant"
    help = "The figures of a study as they would be with a row of values; why not, where it cannot be."
    lane = "row"
    seconds = 600.0

    called: str = field(CALLED)
    rows: dict[str, str] = field(RowsField("the values", "Names and lengths or formulas: wall = 3 mm; reach = 40."))

    def run(self, work: Work) -> dict[str, Any]:
        try:
            after = variant.changed(work, self.rows).after if self.rows else work.snapshot
            found = answer.answered(after, work.geometry, simulations.study_called(after, self.called))
        except EditError as error:
            return {"works": False, "why": str(error)}
        head = packed.answer_head(found, LENGTHS[work.snapshot.units])
        weights = masses.part_masses(after, work.geometry)
        mass = sum(weights.get(n) or 0.0 for n in found.study.nodes)
        return {
            "works": True,
            "why": "",
            "mass": mass,
            **{k: head[k]["value"] for k in FIGURES},
            "error": head["error"],
        }
