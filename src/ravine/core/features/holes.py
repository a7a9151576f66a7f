"""Round holes, each with its counterbore, countersink, steps and tip, and turned grooves."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial

import numpy as np

from ..local.surfaces import Floats
from ..rigid import vec_of
from .feature import Drive, Feature
from .links import Links
from .screw_sizes import screw_note

KEYED = 0.7  # of the way round that a bore goes where a keyway or a slit interrupts it
SAME = 1e-5  # mm, within which two lengths along an axis are one


@dataclass(frozen=True)
class Stretch:
    """Part of a hole or shaft along its axis: faces of one round surface, and its radii at low and high (mm)."""

    faces: frozenset[int]
    kind: str
    low: float
    high: float
    radii: tuple[float, float]


def find_holes(links: Links) -> tuple[list[Feature], list[Feature]]:
    """Holes, and the grooves turned into them."""
    holes, grooves, used = [], [], set[int]()
    for start in _bores(links):
        if used & start:
            continue
        members, own, turned = links.remembered("bore", start, partial(_bore, links, start))
        used |= members
        holes += own
        grooves += turned
    return holes, grooves


def _bore(links: Links, start: set[int]) -> tuple[tuple[set[int], list[Feature], list[Feature]], set[int]]:
    """All faces along its axis, the holes and the grooves; and once more the faces, on which that depends."""
    members = _along(links, start)
    found = _Bore(links, members)
    grooves = [g for k in range(len(found.stretches)) if (g := found.groove(k)) is not None]
    return (members, found.holes(), grooves), members


def find_turned_grooves(links: Links) -> list[Feature]:
    """Around a shaft: lower between two shoulders that look at one another."""
    found = []
    for start in _rounds(links, 1.0):
        beside = {f: None for face in start for link in links.of(face) if link.bend < 0 for f in (link.beside,)}
        shoulders = [f for f in beside if links.topology.surface(f).kind in ("plane", "cone")
                     and all(links.shares_axis(s, f) for s in list(start)[:1])]  # fmt: skip
        if len(shoulders) == 2 and _face_one_another(links, start, shoulders):
            groove = _groove(links, start, shoulders)
            if groove is not None:
                found.append(groove)
    return found


def _face_one_another(links: Links, ground: set[int], shoulders: list[int]) -> bool:
    """Whether a groove opens between them: the lower one looks up along the axis, the upper one down."""
    axis = links.topology.surface(min(ground)).axial
    low, high = links.span(tuple(ground), axis.origin, axis.z)
    looks = {}
    for face in shoulders:
        heights = (links.border(face) - axis.origin) @ axis.z
        looks[abs(float(heights.min()) - low) > abs(float(heights.max()) - high)] = float(links.normal(face) @ axis.z)
    return looks.get(False, -1.0) > 0 > looks.get(True, 1.0)


def _rounds(links: Links, sign: float, share: float = 1.0) -> list[set[int]]:
    """Cylinders that go round, at least a share of the way, with the faces that each is split into."""
    topology, found, seen = links.topology, [], set[int]()
    for face in range(links.count):
        if face in seen or face in links.fillets or topology.surface(face).kind != "cylinder":
            continue
        if topology.sign(face) != sign:
            continue
        whole = set(topology.one_surface(face))
        seen |= whole
        if links.goes_round(whole, share):
            found.append(whole)
    return found


def _bores(links: Links) -> list[set[int]]:
    return _rounds(links, -1.0, KEYED)


def _along(links: Links, start: set[int]) -> set[int]:
    """What goes on along the axis: bores and cones of the same axis, and flat faces between or below them."""
    topology, first = links.topology, min(start)
    found, waiting = set(start), list(start)
    while waiting:
        face = waiting.pop()
        for beside in topology.neighbours(face):
            if beside in found or not _belongs(links, first, beside):
                continue
            whole = set(topology.one_surface(beside))
            found |= whole
            waiting += whole
    return found


def _belongs(links: Links, first: int, face: int) -> bool:
    topology = links.topology
    surface = topology.surface(face)
    if surface.kind == "spline" or not links.shares_axis(first, face):
        return False
    if surface.kind in ("cylinder", "cone"):
        return topology.sign(face) < 0 and face not in links.chamfers
    if surface.kind == "plane":  # a floor or a shoulder: what bounds it outside is this hole
        outer = {e for e, _ in topology.wires(face)[0]}
        walls = {topology.other_face(e, face) for e in outer}
        return all(
            topology.surface(w).kind in ("cylinder", "cone", "torus")
            and topology.sign(w) < 0
            and links.shares_axis(first, w)
            for w in walls
        )
    return surface.kind == "torus" and face in links.fillets and topology.sign(face) < 0


class _Bore:
    """Stretches along one axis, in order, and how its ends are closed."""

    def __init__(self, links: Links, faces: set[int]) -> None:
        self.links, self.faces = links, faces
        topology = links.topology
        self.round_ = [f for f in faces if topology.surface(f).kind in ("cylinder", "cone")]
        axis = topology.surface(next(f for f in self.round_ if topology.surface(f).kind == "cylinder")).axial
        self.origin, self.way = axis.origin, axis.z
        self.flat = {
            f: links.span((f,), self.origin, self.way)[0] for f in faces if topology.surface(f).kind == "plane"
        }
        self.stretches = sorted(self._stretches(), key=lambda s: (s.low, s.high))

    def _stretches(self) -> list[Stretch]:
        topology, found, seen = self.links.topology, [], set[int]()
        for face in self.round_:
            if face in seen:
                continue
            whole = frozenset(topology.one_surface(face) & self.faces)
            seen |= whole
            low, high = self.links.span(tuple(whole), self.origin, self.way)
            surface = topology.surface(face)
            if surface.kind == "cylinder":
                found.append(Stretch(whole, "cylinder", low, high, (surface.radius, surface.radius)))
            else:
                found.append(Stretch(whole, "cone", low, high, self._cone_radii(face, low, high)))
        return found

    def _cone_radii(self, face: int, low: float, high: float) -> tuple[float, float]:
        points = self.links.border(face)
        off = points - self.origin
        heights = off @ self.way
        away = np.linalg.norm(off - heights[:, None] * self.way, axis=1)
        at_low, at_high = heights < low + SAME, heights > high - SAME
        wide = float(np.tan(abs(self.links.topology.surface(face).numbers[1]))) * (high - low)
        if not at_low.any() or not at_high.any() or abs(away[at_low].mean() - away[at_high].mean()) < SAME:
            known = float(away.max())
            return (known, max(known - wide, 0.0)) if at_low.any() else (max(known - wide, 0.0), known)
        return float(away[at_low].mean()), float(away[at_high].mean())

    # --- grooves in it ---------------------------------------------------------------------------------------------

    def groove(self, at: int) -> Feature | None:
        """Where it is wider than on both sides."""
        if not self._is_groove(at):
            return None
        stretch = self.stretches[at]
        shoulders = [
            f
            for f, height in self.flat.items()
            if abs(height - stretch.low) < SAME or abs(height - stretch.high) < SAME
        ]
        return _groove(self.links, set(stretch.faces), shoulders)

    def _is_groove(self, at: int) -> bool:
        if not 0 < at < len(self.stretches) - 1:
            return False
        before, here, after = self.stretches[at - 1 : at + 2]
        wider = here.radii[0] > before.radii[1] + SAME and here.radii[1] > after.radii[0] + SAME
        return here.kind == "cylinder" and wider and before.kind == after.kind == "cylinder"

    # --- the hole itself -------------------------------------------------------------------------------------------

    def holes(self) -> list[Feature]:
        """One; its grooves are told for themselves, and a bore goes on beyond them."""
        kept = [s for k, s in enumerate(self.stretches) if not self._is_groove(k)]
        rows: list[Stretch] = []
        for stretch in kept:
            last = rows[-1] if rows else None
            if (
                last is not None
                and last.kind == stretch.kind == "cylinder"
                and abs(last.radii[0] - stretch.radii[0]) < SAME
            ):
                rows[-1] = Stretch(last.faces | stretch.faces, "cylinder", last.low, stretch.high, last.radii)
            else:
                rows.append(stretch)
        floors = [f for f in self.flat if len(self.links.topology.wires(f)) == 1]
        low, high = rows[0].low, rows[-1].high
        shut_low = any(abs(self.flat[f] - low) < SAME for f in floors) or rows[0].radii[0] < SAME
        shut_high = any(abs(self.flat[f] - high) < SAME for f in floors) or rows[-1].radii[1] < SAME
        if shut_low and shut_high:
            return []  # a hollow within
        upwards = shut_low or (not shut_high and rows[-1].radii[1] >= rows[0].radii[0])
        way = self.way if upwards else -self.way
        if not upwards:
            rows = [Stretch(s.faces, s.kind, -s.high, -s.low, s.radii[::-1]) for s in reversed(rows)]
        gone = {f for k, s in enumerate(self.stretches) if self._is_groove(k) for f in s.faces}
        faces = tuple(sorted(self.faces - gone))
        return [_told(self.links, rows, faces, self.origin, way, through=not (shut_low or shut_high))]


def _told(
    links: Links, rows: list[Stretch], faces: tuple[int, ...], origin: Floats, way: Floats, *, through: bool
) -> Feature:
    """rows: from the inner end to the mouth, along `way`."""
    tip = None if through or rows[0].radii[0] > SAME else rows.pop(0)
    bores = [s for s in rows if s.kind == "cylinder"]
    if not bores:
        bores = rows
    inner, mouth = bores[0], rows[-1]
    top = mouth.high
    sizes = {"diameter": 2 * inner.radii[0], "depth": top - inner.low}
    form = "through" if through else "blind"
    end = "" if through else ", conical end" if tip is not None else ", flat end"
    drives = {"diameter": _wider(inner.faces)}
    if tip is not None:
        drives["depth"] = Drive(slides={f: vec_of(-way) for f in tip.faces})
        sizes["tip_angle"] = 2 * math.degrees(math.atan2(tip.radii[1], tip.high - tip.low))
    if mouth.kind == "cone" and len(rows) == 2:
        form = f"countersunk, {form}"
        sizes["countersink_diameter"] = 2 * mouth.radii[1]
        sizes["countersink_angle"] = 2 * math.degrees(
            math.atan2(mouth.radii[1] - mouth.radii[0], mouth.high - mouth.low)
        )
    elif len(bores) == 2 and len(rows) == 2 and bores[1].radii[0] > bores[0].radii[0]:
        form = f"counterbored, {form}"
        sizes["counterbore_diameter"] = 2 * bores[1].radii[0]
        sizes["counterbore_depth"] = bores[1].high - bores[1].low
        drives["counterbore_diameter"] = _wider(bores[1].faces)
        drives["counterbore_depth"] = _deeper(links, faces, origin, way, bores[1].low)
    elif len(bores) > 1:
        form = f"stepped, {form}"
        inner = min(bores, key=lambda s: s.radii[0])
        drives["diameter"] = _wider(inner.faces)
        sizes["diameter"] = 2 * inner.radii[0]
        for k, stretch in enumerate(bores, 1):
            sizes[f"diameter_{k}"], sizes[f"depth_{k}"] = 2 * stretch.radii[0], stretch.high - stretch.low
            drives[f"diameter_{k}"] = _wider(stretch.faces)
    if not through and tip is None:
        drives["depth"] = _deeper(links, faces, origin, way, inner.low)
    place = origin + top * way
    note = screw_note(sizes["diameter"])
    mouths = {link.beside for f in mouth.faces for link in links.of(f) if link.bend > 0 and link.beside not in faces}
    return Feature(
        "hole",
        form + end,
        faces,
        sizes,
        vec_of(place),
        vec_of(way),
        tuple(sorted(mouths)),
        notes=(note,) if note else (),
        drives=drives,
    )


def _wider(faces: Iterable[int]) -> Drive:
    """The diameter of what is hollow: half of it on each side."""
    return Drive(dict.fromkeys(faces, -0.5))


def _deeper(links: Links, faces: Iterable[int], origin: Floats, way: Floats, level: float) -> Drive:
    """The flat face at a height along the axis goes down."""
    flat = (f for f in faces if links.topology.surface(f).kind == "plane")
    return Drive({f: -1.0 for f in flat if abs(links.span((f,), origin, way)[0] - level) < SAME})


def _groove(links: Links, ground: set[int], shoulders: list[int]) -> Feature | None:
    """ground: its round bottom; shoulders: what bounds it to both sides."""
    topology = links.topology
    surface = topology.surface(min(ground))
    axis = surface.axial
    low, high = links.span(tuple(ground), axis.origin, axis.z)
    inside = topology.sign(min(ground)) < 0
    reach = [r for s in shoulders for r in links.radii_of(s)]
    others = [r for r in reach if (r < surface.radius - SAME if inside else r > surface.radius + SAME)]
    if not others:
        return None
    depth = surface.radius - max(others) if inside else min(others) - surface.radius
    sizes = {"diameter": 2 * surface.radius, "width": high - low, "depth": depth}
    lower = -1.0 if not inside else 1.0
    drives = {
        "diameter": Drive(dict.fromkeys(ground, 0.5 * -lower)),
        "depth": Drive(dict.fromkeys(ground, -1.0)),
        "width": Drive(dict.fromkeys(shoulders, -0.5)),
    }
    form = "in a bore" if inside else "around a shaft"
    return Feature(
        "groove",
        form,
        tuple(sorted({*ground, *shoulders})),
        sizes,
        vec_of(axis.origin + (low + high) / 2 * axis.z),
        vec_of(axis.z),
        drives=drives,
    )
