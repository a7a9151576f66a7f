"""Two picked round faces as shaft and hole: the clearance as modelled, and the fits it agrees with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..model.geometry import GeometryStore
from ..model.query import Face, things_of
from ..model.snapshot import Snapshot
from ..units import LENGTHS
from .iso286 import PRINTED, usual_fits

AS_DRAWN = 1e-6  # mm between two sizes that are one


@dataclass(frozen=True)
class FitRow:
    """One of the usual fits: least and most clearance on the diameter, mm; agrees: the modelled one lies within."""

    name: str
    words: str
    kind: str
    least: float
    most: float
    agrees: bool


@dataclass(frozen=True)
class PickedFit:
    """hole, shaft: diameters, mm; clearance: of the diameters; nominal: what the tables are read for; printed: for each
    process what the clearance would do there."""

    hole: float
    shaft: float
    clearance: float
    nominal: float
    rows: tuple[FitRow, ...]
    printed: tuple[tuple[str, str], ...]


def fit_of(snapshot: Snapshot, geometry: GeometryStore, picked: Sequence[str]) -> PickedFit:
    """Raises EditError for anything but one round hole and one round shaft."""
    faces = [t for t in things_of(snapshot, geometry, [i for i in picked if i[:1] == "f"]) if isinstance(t, Face)]
    round_ = [f for f in faces if f.kind == "cylinder" and f.radius]
    holes = [f for f in round_ if f.facts.hollow]
    shafts = [f for f in round_ if not f.facts.hollow]
    if len(picked) != 2 or len(holes) != 1 or len(shafts) != 1:
        raise EditError("a fit is between one round hole and one round shaft; pick the two faces", picked)
    unit = LENGTHS[snapshot.units]
    hole, shaft = (2 * (f.radius or 0.0) * unit for f in (holes[0], shafts[0]))
    clearance = hole - shaft
    nominal = round((hole + shaft) / 2, 1) or shaft  # only the range it lies in matters
    same = abs(clearance) < AS_DRAWN
    rows = tuple(
        FitRow(f.name, f.words, f.kind, f.least, f.most, not same and f.least - 1e-9 <= clearance <= f.most + 1e-9)
        for f in usual_fits(nominal)
    )
    return PickedFit(
        hole, shaft, clearance, nominal, rows, tuple((p, _printed(clearance, PRINTED[p])) for p in PRINTED)
    )


def _printed(clearance: float, wanted: dict[str, float]) -> str:
    if clearance < wanted["press"]:
        return f"fuses or must be forced; a press fit takes {wanted['press']:.2f} mm"
    if clearance < wanted["slide"]:
        return f"press fit; to slide it takes {wanted['slide']:.2f} mm"
    return "slides" if clearance < wanted["free"] else "runs free"
