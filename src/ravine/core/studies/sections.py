"""A state cut open by a plane."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..edits.declared import field
from ..edits.fields import IdsField, NumbersField, PickField
from ..model.references import Reference
from ..operations import planes
from ..operations.work import Work
from ..section import cut, exact, width
from .base import Study, study

PLANE = NumbersField("the plane", "A point on it, mm, and the direction square to it.", count=6)
HIDDEN = IdsField("what is hidden", "Places that are not cut.", default=())


@study
class CutOpen(Study):
    name = "cut"
    help = "What a section shows, packed as section/cut.py says."
    keeps = False

    plane: tuple[float, ...] = field(PLANE)
    hidden: tuple[str, ...] = field(HIDDEN)

    def run(self, work: Work) -> bytes:
        return cut.cut_of(work.snapshot, work.geometry, cut.section_plane(self.plane), self.hidden).packed()


@study
class PlaneThrough(Study):
    name = "plane through"
    help = "The plane that picked things give: a point, mm, and the direction square to it."

    picked: tuple[Reference, ...] = field(
        PickField("the pick", "Faces, edges, corners or a sketch.", element="face",
                  also=("edge", "vertex", "sketch", "curve", "point", "area", "node"), changes=False)
    )  # fmt: skip

    def run(self, work: Work) -> list[float]:
        plane = planes.plane_through(work, self.picked)
        return [*plane.origin, *plane.normal]


@study
class SectionFacts(Study):
    name = "section facts"
    help = "Exact area mm² and perimeter mm of every part that the plane cuts."

    plane: tuple[float, ...] = field(PLANE)
    hidden: tuple[str, ...] = field(HIDDEN)

    def run(self, work: Work) -> list[dict[str, Any]]:
        found = figures(work, self.plane, self.hidden)
        return [{"node": f.node, "name": f.name, "area": f.area, "perimeter": f.perimeter} for f in found]


@study
class SectionWidth(Study):
    name = "section width"
    help = "The gap or wall at a place in the section; null where nothing lies opposite."

    plane: tuple[float, ...] = field(PLANE)
    hidden: tuple[str, ...] = field(HIDDEN)
    at: tuple[float, ...] = field(NumbersField("the place", "Two numbers in the plane, mm.", count=2))

    def run(self, work: Work) -> dict[str, Any] | None:
        found = width.width_at(figures(work, self.plane, self.hidden), self.at)
        return None if found is None else asdict(found)


def figures(work: Work, plane: tuple[float, ...], hidden: tuple[str, ...]) -> list[exact.Figure]:
    """The exact section; the pointer asks for it again and again, so the last ones stay with the geometry."""
    key = (work.snapshot.key(), plane, tuple(sorted(hidden)))
    return work.geometry.remembered(
        key, lambda: exact.figures_of(work.snapshot, work.geometry, cut.section_plane(plane), hidden)
    )
