"""Findings as scripts and pages see them: ids, lengths in units of the model, places where the part stands."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..model.geometry import GeometryStore
from ..model.snapshot import Body, Snapshot, text_id
from ..rigid import Rigid
from ..units import LENGTHS, format_length
from .findings import KINDS, PrintFinding
from .layers import Layers
from .of_model import Job, checked

IN_MM = ("size", "wall", "gap", "lettering", "hole", "bridge", "nozzle", "tips")


@dataclass(frozen=True)
class PrintView:
    """kind: of findings.KINDS; size, least: in units of the model, degrees of an overhang; place: mm in the model; fix:
    an edit that would help, empty where none does."""

    kind: str
    size: float
    least: float
    words: str
    place: tuple[float, float, float]
    faces: tuple[str, ...]
    fix: str


def view_findings(
    snapshot: Snapshot, geometry: GeometryStore, job: Job, stands: Rigid
) -> tuple[list[PrintView], Layers]:
    rows, layers = checked(snapshot, geometry, job)
    unit = LENGTHS[snapshot.units]
    found = []
    for row in rows:
        scale = unit if row.kind in IN_MM else 1.0
        place = stands.point(job.part.back(np.array([row.place]))[0])
        faces = tuple(text_id("face", job.body.faces[k]) for k in row.faces if k < len(job.body.faces))
        found.append(PrintView(row.kind, row.has / scale, row.least / scale, words(row, snapshot.units), place, faces,
                               row.fix))  # fmt: skip
    return found, layers


def words(found: PrintFinding, units: str) -> str:
    """What it is, by how much, and what prints."""
    told = KINDS[found.kind]
    if found.kind in IN_MM and found.kind != "tips":
        return f"{told}: {format_length(found.has, units, decimals=2)}, {format_length(found.least, units)} prints"
    if found.kind == "overhang":
        return f"{told}: leans {found.has:.0f}°, {found.least:.0f}° stands by itself"
    return told


def stands_at(snapshot: Snapshot, body: Body) -> Rigid:
    """Where a body is first shown."""
    return snapshot.occurrences(body.id)[0].matrix
