"""Room between parts, and fits."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..clearance import assembly_fits, pairs, picked_fit, standing
from ..edits.declared import field
from ..edits.fields import IdsField, LengthField
from ..operations.work import Work
from .base import Study, study
from .sections import HIDDEN


@study
class Clearance(Study):
    name = "clearance"
    help = "Gaps and overlaps between parts nearer than a distance, and what could not be told."
    seconds = 300.0
    follows = True

    within: float = field(LengthField("the distance", "Pairs farther apart are left out.", default=1.0))
    hidden: tuple[str, ...] = field(HIDDEN)

    def run(self, work: Work) -> dict[str, Any]:
        within = max(0.0, self.within)
        found, failed = pairs.gaps_between(work.snapshot, work.geometry, within, self.hidden, work.progress)
        return {"pairs": [asdict(p) for p in found], "failed": failed}


@study
class StandingCheck(Study):
    name = "standing check"
    help = "What is not right with how parts stand together: overlaps, narrow gaps, screws that do not hold or fit."
    seconds = 300.0
    lane = "job"
    follows = True

    least: float = field(LengthField("the gap", "Parts that do not touch keep at least this apart.", default=0.2))
    hidden: tuple[str, ...] = field(HIDDEN)

    def run(self, work: Work) -> dict[str, Any]:
        found, failed = standing.findings(work.snapshot, work.geometry, self.least, self.hidden, work.progress)
        return {"findings": [asdict(f) for f in found], "failed": failed}


@study
class AssemblyFits(Study):
    name = "fits of all"
    help = "Every shaft in a hole of another part: both diameters, the clearance, the fits of ISO 286 it agrees with."
    lane = "job"

    def run(self, work: Work) -> list[dict[str, Any]]:
        return [asdict(f) for f in assembly_fits.assembly_fits(work.snapshot, work.geometry)]


@study
class Overlap(Study):
    name = "overlap"
    help = "Corners, float32 (n × 9), of the matter that two parts share."

    nodes: tuple[str, ...] = field(IdsField("the parts", "Two places in the tree."))

    def run(self, work: Work) -> bytes:
        return pairs.shared_volume(work.snapshot, work.geometry, self.nodes).astype("<f4").tobytes()


@study
class Fits(Study):
    name = "fits"
    help = "How a picked shaft sits in a picked hole."

    picked: tuple[str, ...] = field(IdsField("the pick", "A hole's wall and a shaft's."))

    def run(self, work: Work) -> dict[str, Any]:
        return asdict(picked_fit.fit_of(work.snapshot, work.geometry, self.picked))
