"""What sits on a shaft: rings in the grooves around it, knobs over its end."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..features.recogniser import features_of
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid
from ..model.references import Reference, part_of
from ..tolerances import ONE_DIRECTION
from .fitting import NEAR
from .items import Family, Item

STRETCH = (-0.01, 0.06)  # of its inner diameter by which an O-ring may be wound wider (ISO 3601-2)
BEST_STRETCH = 0.02
FILLED = (0.6, 0.95)  # of a groove's width that an O-ring takes
TIGHT = 0.02  # of its diameter by which a shaft may be smaller than the bore of a knob


@dataclass(frozen=True)
class ShaftSeat:
    """point: on the axis where it starts, way: along the axis, outwards, middle: of a groove (mm in the model); wall:
    the round face it is around; stop: the flat face that it sits against, None without; diameter: of the wall; width:
    of a groove, else how far the wall reaches, mm."""

    point: Floats
    middle: Floats
    way: Floats
    wall: Reference
    stop: Reference | None
    diameter: float
    width: float


def groove_at(geometry: GeometryStore, reference: Reference) -> ShaftSeat:
    """The groove around a shaft that a picked face or edge belongs to.  Raises EditError where it is none."""
    solid, faces = _faces(geometry, reference)
    rows = [f for f in features_of(solid.topology) if f.form == "around a shaft" and set(faces) & set(f.faces)]
    if not rows:
        raise EditError(f"{reference} is no groove around a shaft, where rings sit", [reference], field="on")
    groove, topology = rows[0], solid.topology
    way, middle = np.array(groove.way), np.array(groove.place)
    wall = next(f for f in groove.faces if topology.surface(f).kind == "cylinder")
    low = middle - groove.sizes["width"] / 2 * way
    stop = next((f for f in groove.faces if topology.surface(f).kind == "plane"
                 and float(np.array(topology.middle(f)[1]) @ way) > 0), None)  # fmt: skip
    return _seat(reference, low, middle, way, wall, stop, groove.sizes["diameter"], groove.sizes["width"])


def end_at(geometry: GeometryStore, reference: Reference) -> ShaftSeat:
    """The end of a shaft, by its wall, its end face or an edge there.  Raises EditError where it is none."""
    solid, faces = _faces(geometry, reference)
    topology = solid.topology

    def past_chamfers(face: int) -> dict[int, None]:
        beside = topology.neighbours(face)
        cones = (c for c in beside if topology.surface(c).kind == "cone")
        return dict.fromkeys((*beside, *(f for c in cones for f in topology.neighbours(c))))

    def outer(face: int) -> bool:
        return topology.surface(face).kind == "cylinder" and topology.sign(face) > 0

    walls = [f for f in faces if outer(f)]
    flat = [f for f in faces if topology.surface(f).kind == "plane"]
    for wall in walls or [f for end in flat for f in past_chamfers(end) if outer(f)]:
        axis = topology.surface(wall).axial
        heights = (np.concatenate([topology.samples(e) for e in topology.edges_of(wall)]) - axis.origin) @ axis.z
        for end in flat or [f for f in past_chamfers(wall) if topology.surface(f).kind == "plane"]:
            point, normal = (np.array(v) for v in topology.middle(end))
            side, level = float(normal @ axis.z), float((point - axis.origin) @ axis.z)
            reach = level - heights if side > 0 else heights - level
            if abs(side) > 1 - ONE_DIRECTION and reach.min() > -1e-6:
                at = axis.origin + level * axis.z
                width = 2 * topology.surface(wall).radius
                return _seat(reference, at, at, normal, wall, None, width, float(reach.max()))
    raise EditError(f"{reference} is no end of a round shaft, which a knob goes over", [reference], field="on")


SHAFT_SEATS: Mapping[str, Callable[[GeometryStore, Reference], ShaftSeat]] = {"groove": groove_at, "cap": end_at}


def depth_of(item: Item, seat: ShaftSeat) -> float:
    """mm that the end of a shaft goes into it: to the ground of its bore, or until it meets the shoulder."""
    return min(item.row["depth"], seat.width) if item.family.seat == "cap" else 0.0


def size_on(family: Family, seat: ShaftSeat) -> str:
    """The size that suits a shaft.  Raises EditError, with what there is, where none does."""
    rows, wide = family.rows, seat.diameter
    if "groove" in next(iter(rows.values())):
        fit = [s for s, row in rows.items() if abs(row["groove"] - wide) < NEAR and row["s"] < seat.width + 1e-6]
        wanted = "grooves of Ø " + ", ".join(f"{row['groove']:g}" for row in rows.values())
    elif family.seat == "groove":
        stretch = {s: wide / row["d1"] - 1 for s, row in rows.items()}
        fit = [s for s, row in rows.items() if STRETCH[0] <= stretch[s] <= STRETCH[1]
               and FILLED[0] <= row["d2"] / seat.width <= FILLED[1]]  # fmt: skip
        fit.sort(key=lambda s: abs(stretch[s] - BEST_STRETCH))
        wanted = f"grooves {1 / FILLED[1]:.2g} to {1 / FILLED[0]:.2g} times as wide as they are thick"
    else:
        fit = [s for s, row in rows.items() if -1e-6 <= row["d"] - wide <= TIGHT * row["d"]]
        wanted = "shafts of Ø " + ", ".join(f"{row['d']:g}" for row in rows.values())
    if not fit:
        found = f"Ø {wide:.4g} mm" + (f", {seat.width:.4g} mm wide" if family.seat == "groove" else "")
        raise EditError(f"no {family.title.lower()} suits {found}; there are some for {wanted}", field="item")
    return fit[0]


def _faces(geometry: GeometryStore, reference: Reference) -> tuple[Solid, Sequence[int]]:
    body, index = reference.owner
    solid = geometry.solid(body.shape)
    return solid, (solid.topology.faces_of(index) if reference.kind == "edge" else (index,))


def _seat(
    reference: Reference, point: Floats, middle: Floats, way: Floats, wall: int, stop: int | None, diameter: float,
    width: float,
) -> ShaftSeat:  # fmt: skip
    there = reference.matrix
    return ShaftSeat(
        np.array(there.point(point)), np.array(there.point(middle)), np.array(there.direction(way)),
        part_of(reference, "face", wall), None if stop is None else part_of(reference, "face", stop), diameter, width,
    )  # fmt: skip
