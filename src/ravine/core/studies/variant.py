"""What the model would be with other values: whether it works, and what it weighs and measures then."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ..box import Box
from ..edits.declared import field
from ..edits.fields import RowsField
from ..errors import EditError
from ..maps import smallest_wall
from ..model import measure
from ..model.materials import mass_kg
from ..model.snapshot import Snapshot
from ..operations.work import Work
from ..rigid import Vec
from ..units import LENGTHS
from .base import Study, study

if TYPE_CHECKING:
    from ..edits.perform import Change


@study
class Variant(Study):
    name = "variant"
    help = (
        "The model as it would be with a row of values: whether it works or why not, volume, mass, smallest wall and "
        "overall size, in units of the model and kg."
    )
    lane = "row"
    seconds = 120.0

    rows: dict[str, str] = field(RowsField("the values", "Names and lengths or formulas: wall = 3 mm; reach = 40."))

    def run(self, work: Work) -> dict[str, Any]:
        try:
            after = changed(work, self.rows).after
        except EditError as error:
            return {"works": False, "why": str(error)}
        return {"works": True, "why": "", **figures(work, after)}


@study
class VariantFile(Study):
    name = "variant file"
    help = "The model as it would be with a row of values, as a STEP file."
    lane = "row"
    seconds = 120.0
    keeps = False

    rows: dict[str, str] = field(RowsField("the values", "Names and lengths or formulas: wall = 3 mm; reach = 40."))

    def run(self, work: Work) -> bytes:
        from ..edits.perform import perform  # loads the geometry library, which declaring does without

        there = Work(changed(work, self.rows).after, work.geometry)
        _, change = perform("export", {"format": "step"}, there)
        (data,) = change.files.values()
        return data


def changed(work: Work, rows: dict[str, str]) -> Change:
    """Raises EditError where a value cannot be."""
    from ..edits.perform import perform

    return perform("set values", {"rows": rows}, Work(work.snapshot, work.geometry))[1]


def figures(work: Work, snapshot: Snapshot) -> dict[str, Any]:
    """mass: None where a part has no material; wall: of solids, None without one; size: of the box around all."""
    unit = LENGTHS[snapshot.units]
    volume = 0.0
    mass: float | None = 0.0
    walls: list[float | None] = []
    corners: list[Vec] = []
    for place in snapshot.occurrences():
        geometry: Any = work.geometry.get(place.body.shape)
        own = measure.volume_mm3(geometry, place.body.kind)
        volume += own
        weight = mass_kg(own, place.body.material) if place.body.kind != "surface" else None
        mass = mass + weight if mass is not None and weight is not None else None
        if place.body.kind == "solid":
            walls.append(smallest_wall.smallest_wall(geometry))
        corners += geometry.box.moved(place.matrix)
    thin = min((w for w in walls if w is not None), default=None)
    return {
        "volume": volume / unit**3,
        "mass": mass,
        "wall": None if thin is None else thin / unit,
        "size": [v / unit for v in Box.around(corners).size] if corners else [0.0, 0.0, 0.0],
    }
