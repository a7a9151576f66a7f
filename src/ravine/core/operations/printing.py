"""How parts are printed, said; and the files that a printer or a print service takes."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from .. import formats
from ..errors import EditError
from ..formats.reading import TriangleWrite
from ..model.finishes import colour_of
from ..model.print_data import PrintData
from ..model.records import PRINTS
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..printing import estimate, of_model, orientation
from ..printing.machines import machine_for
from ..rigid import Rigid
from .work import Fact, Operation, Outcome, Work

FORMATS = ("3mf", "stl")


def bodies_of(snapshot: Snapshot, parts: tuple[Reference, ...]) -> list[Body]:
    """Each once, in the order picked."""
    numbers = [snapshot.nodes[n].body for p in parts for n in snapshot.leaves_below(p.number)]
    return [snapshot.body(n) for n in dict.fromkeys(numbers) if n is not None]


@dataclass(frozen=True, kw_only=True)
class SetPrint(Operation):
    """machine: as the table has it; down: a flat face that lies on the bed; best: which of the best orientations
    (from 1), 0 to leave it as it is."""

    parts: tuple[Reference, ...]
    machine: str = ""
    down: tuple[Reference, ...] = ()
    best: int = 0

    def do(self, work: Work) -> Outcome:
        snapshot, rows = work.snapshot, dict(work.snapshot.kept(PRINTS))
        machine = machine_for(name=self.machine)
        for body in bodies_of(snapshot, self.parts):
            known = rows.get(body.id) or PrintData(body.id, machine.name)
            down = known.down
            own = [d for d in self.down if d.owner[0].id == body.id]
            if own:
                x, y, z = work.geometry.solid(body.shape).topology.middle(own[0].at)[1]
                down = (x, y, z)
            elif self.best:
                job = of_model.job_of(snapshot, work.geometry, body, PrintData(body.id, machine.name, down))
                found = orientation.orientations(job.part, machine)
                if self.best > len(found):
                    raise EditError(f"there are {len(found)} orientations", field="best", nearest=str(len(found)))
                down = found[self.best - 1].down
            rows[body.id] = PrintData(body.id, machine.name, down)
        return Outcome(snapshot.with_kept(PRINTS, rows))


@dataclass(frozen=True, kw_only=True)
class SavePrint(Operation):
    """All parts on beds of one machine, as many as it takes, as they lie there; 3MF with names and colours, or STL."""

    parts: tuple[Reference, ...]
    format: str = "3mf"
    file_name: str = ""

    def do(self, work: Work) -> Outcome:
        if self.format not in FORMATS:
            raise EditError(f"prints are saved as {', '.join(FORMATS)}", field="format")
        snapshot = work.snapshot
        bodies = [
            snapshot.body(snapshot.nodes[n].body or 0)
            for p in self.parts for n in snapshot.leaves_below(p.number) if snapshot.nodes[n].body
        ]  # fmt: skip
        jobs = [of_model.job_of(snapshot, work.geometry, b) for b in bodies]
        machine = jobs[0].machine
        if any(j.machine != machine for j in jobs):
            raise EditError("these parts are for different machines; save them one after the other", self.parts)
        places = estimate.packed([(float(j.part.size[0]), float(j.part.size[1])) for j in jobs], machine)
        large = [j.body.name for j, place in zip(jobs, places, strict=True) if place[0] < 0]
        if large:
            raise EditError(f"{large[0]} is larger than the bed of {machine.name}", self.parts, field="parts")
        beds = max(bed for bed, _, _ in places) + 1
        stem = re.sub(r"[^\w.() -]+", "_", self.file_name or bodies[0].name).strip(". ") or "print"
        files = {}
        for bed in range(beds):
            rows = [(j, x, y) for j, (at, x, y) in zip(jobs, places, strict=True) if at == bed]
            name = f"{stem}.{self.format}" if beds == 1 else f"{stem} bed {bed + 1}.{self.format}"
            files[name] = self._file(rows)
        off = max(j.off for j in jobs)
        facts = (Fact("parts", "parts", float(len(jobs)), "count"), Fact("beds", "beds", float(beds), "count"),
                 Fact("off", "within the surface", off, "length"))  # fmt: skip
        return Outcome(snapshot, facts, files=files)

    def _file(self, rows: list[tuple[of_model.Job, float, float]]) -> bytes:
        parts = []
        for job, x, y in rows:
            half = job.part.size / 2
            place = Rigid.slide((x + half[0], y + half[1], 0.0))
            corners = job.part.corners.reshape(-1, 3)
            triangles = np.arange(len(corners)).astype(np.int32).reshape(-1, 3)
            parts.append(
                TriangleWrite(job.body.name, job.body.id, corners, triangles, place, colour_of(job.body.finish))
            )
        if self.format == "3mf":
            return bytes(formats.writer("3mf")(parts, "mm"))
        soup = [Rigid(p.matrix).points(p.points)[p.triangles] for p in parts]
        return bytes(formats.writer("stl")(np.concatenate(soup)))
