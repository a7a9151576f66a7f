"""Whether parts print: what will not come out, which way up, what a layer looks like."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from .. import formats
from ..edits.declared import field
from ..edits.fields import ChoiceField, CountField, PickField
from ..errors import EditError
from ..model.print_data import PrintData
from ..model.records import PRINTS
from ..model.references import Reference
from ..operations import printing
from ..operations.work import Work
from ..printing import estimate, machines, of_model, orientation, views
from ..units import LENGTHS
from ..view import layer_drawing
from .base import Study, study

PART = PickField("the part", "A solid or a mesh.", element="node", maximum=1, changes=False)


def _job(work: Work, part: tuple[Reference, ...], process: str | None = None, nozzle: str | None = None) -> Any:
    (body, *more) = printing.bodies_of(work.snapshot, part)
    if more:
        raise EditError("pick one part", part, field="part")
    data = None
    if process is not None or nozzle is not None:
        wide = float(nozzle.replace("mm", "").replace(",", ".").strip()) if nozzle else None
        machine = machines.machine_for(process or "filament", nozzle=wide)
        known = work.snapshot.kept(PRINTS).get(body.id)
        data = PrintData(body.id, machine.name, known.down if known else (0.0, 0.0, -1.0))
    return of_model.job_of(work.snapshot, work.geometry, body, data)


@study
class PrintCheck(Study):
    name = "print check"
    help = "What of a part will not print on its machine, each with place, size and the nearest that prints; estimate."
    seconds = 120.0
    lane = "job"

    part: tuple[Reference, ...] = field(PART)
    process: str | None = field(ChoiceField("the process", "In place of the part's machine.", default=None,
                                            options={p: p for p in ("filament", "resin", "powder")}))  # fmt: skip

    def run(self, work: Work) -> dict[str, Any]:
        job = _job(work, self.part, self.process)
        (leaf, *_) = work.snapshot.leaves_below(self.part[0].number)
        stands = next(o.matrix for o in work.snapshot.occurrences() if o.node.id == leaf)
        rows, layers = views.view_findings(work.snapshot, work.geometry, job, stands)
        unit = LENGTHS[work.snapshot.units]
        support = 0.0
        if job.machine.overhang:
            limit = math.sin(math.radians(job.machine.overhang))
            support = orientation.room_below(job.part.corners, job.part.normals[:, 2], limit)
        return {
            "machine": job.machine.name, "process": job.machine.process,
            "findings": [{**asdict(r), "has": r.size, "place": list(r.place), "faces": list(r.faces)} for r in rows],
            "size": [v / unit for v in job.part.size.tolist()], "layers": len(layers.heights), "off": job.off / unit,
            "estimate": asdict(estimate.estimated(layers, job.machine, support)),
        }  # fmt: skip


@study
class Orientations(Study):
    name = "orientations"
    help = "The best ways up for a part on its machine: direction that is down, height, support, area on the bed."
    seconds = 120.0
    lane = "job"

    part: tuple[Reference, ...] = field(PART)
    count: int = field(CountField("the count", "How many.", default=5))
    clean: tuple[Reference, ...] = field(
        PickField("faces kept clean", "That want no support.", element="face", minimum=0, default=(), changes=False)
    )

    def run(self, work: Work) -> list[dict[str, Any]]:
        job = _job(work, self.part)
        clean = frozenset(r.at for r in self.clean if r.owner[0].id == job.body.id)
        unit = LENGTHS[work.snapshot.units]
        return [
            {"down": list(o.down), "height": o.height / unit, "support": o.support / unit**3, "bed": o.bed / unit**2,
             "score": o.score}
            for o in orientation.orientations(job.part, job.machine, min(self.count, 12), clean)
        ]  # fmt: skip


@study
class PrintLayer(Study):
    name = "print layer"
    help = (
        "One layer of a part as it is printed: outlines, wall lines, fill and support as paths (mm on the bed, y down)."
    )
    seconds = 60.0

    part: tuple[Reference, ...] = field(PART)
    layer: int = field(CountField("the layer", "From 1 up.", default=1))

    def run(self, work: Work) -> dict[str, Any]:
        job = _job(work, self.part)
        layers = work.geometry.remembered(
            ("layers", job.body.shape, job.data), lambda: job.part.layers(job.machine.layer)
        )
        at = min(self.layer, len(layers.heights)) - 1
        high = (at + 1) * layers.thick / LENGTHS[work.snapshot.units]
        return {
            "layer": at + 1, "layers": len(layers.heights), "height": high,
            "bed": [job.machine.long, job.machine.wide],
            **layer_drawing.layer_drawing(estimate.layer_view(layers, at, job.machine)),
        }  # fmt: skip


@study
class PrintMesh(Study):
    name = "print mesh"
    help = "A part as a print service takes it: binary STL in mm, as it lies on the bed."
    seconds = 120.0
    lane = "job"

    part: tuple[Reference, ...] = field(PART)

    def run(self, work: Work) -> bytes:
        return bytes(formats.writer("stl")(_job(work, self.part).part.corners))
