"""How the faces of a solid meet, seen past the rounds and chamfers between them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

import numpy as np

from ..local.chamfers import Chamfer, chamfer_of
from ..local.dependents import bend, rounding
from ..local.features import outer_edges
from ..local.fillets import Fillet, fillet_of, is_hub
from ..local.surfaces import Floats, Surface
from ..local.topology import SolidTopology
from ..tolerances import ONE_DIRECTION

T = TypeVar("T")
ALONG = 9  # points on each edge
ROUND_STEPS = 72  # directions about an axis that a full turn covers
SUNK = 1.4  # times its hole a cone at the mouth is wide before it holds a screw's head, and is no broken edge


@dataclass(frozen=True)
class Link:
    """bend: 1 where the body bends outwards from one face to the other, -1 inwards, 0 smoothly; inner: whether the
    border between them is an inner loop of the first face, of the other one."""

    face: int
    beside: int
    bend: int
    inner: tuple[bool, bool]

    def turned(self) -> Link:
        return Link(self.beside, self.face, self.bend, self.inner[::-1])


@dataclass(frozen=True)
class _Kept(Generic[T]):
    """blended: which faces were rounds and chamfers; borders, surfaces: as they were; found: what was made of them."""

    blended: int
    borders: list[tuple[int, Floats]]
    surfaces: list[tuple[int, Surface]]
    found: T

    def holds(self, links: Links) -> bool:
        return (
            self.blended == links.blended
            and all(links.border(f) is border for f, border in self.borders)
            and all(links.topology.surface(f) is surface for f, surface in self.surfaces)
        )


class Links:
    """Of one solid."""

    def __init__(self, topology: SolidTopology) -> None:
        self.topology = topology
        self.count = topology.index.count("face")

    @cached_property
    def fillets(self) -> dict[int, Fillet]:
        """By face; not what is a wall itself, as the end of a slot is."""
        rows = ((f, fillet_of(self.topology, f)) for f in range(self.count))
        return {f: item for f, item in rows if item is not None and not is_hub(self.topology, f)}

    @cached_property
    def chamfers(self) -> dict[int, Chamfer]:
        rows = ((f, chamfer_of(self.topology, f)) for f in range(self.count) if f not in self.fillets)
        return {f: item for f, item in rows if item is not None and not self._sinks_a_head(item)}

    def _sinks_a_head(self, item: Chamfer) -> bool:
        """A cone at the mouth of a hole, wide enough to be a countersink."""
        surface = self.topology.surface(item.face)
        if surface.kind != "cone" or self.topology.sign(item.face) > 0:
            return False
        radii = self.radii_of(item.face)
        return radii[0] > 0 and radii[1] > SUNK * radii[0]

    def radii_of(self, face: int) -> tuple[float, float]:
        """Between which the border of a face lies about its own axis, mm."""
        axis = self.topology.surface(face).axial
        off = self.border(face) - axis.origin
        away = np.linalg.norm(off - (off @ axis.z)[:, None] * axis.z, axis=1)
        return float(away.min()), float(away.max())

    # --- kept from edit to edit -------------------------------------------------------------------------------------

    @cached_property
    def blended(self) -> int:
        """Tells apart which faces are rounds and chamfers."""
        return hash((frozenset(self.fillets), frozenset(self.chamfers)))

    def remembered(self, kind: str, faces: Iterable[int], make: Callable[[], tuple[T, Iterable[int] | None]]) -> T:
        """What `make` gives for faces, with those whose form it depends on besides: made anew once one of all these has
        another border, once what they meet lies elsewhere, or other faces are rounds and chamfers.  None where it
        depends on these faces alone."""
        own, surface = tuple(sorted(faces)), self.topology.surface
        rows: dict[tuple[int, ...], _Kept[T]] = self.topology.notes.of(kind, own[0], lambda _: {})
        known = rows.get(own)
        if known is not None and known.holds(self):
            return known.found
        found, besides = make()
        watched = {*own, *(besides or ())}
        around = set() if besides is None else self._around(watched) - watched
        rows[own] = _Kept(
            self.blended, [(f, self.border(f)) for f in watched],
            [(f, surface(f)) for f in around], found,
        )  # fmt: skip
        return found

    def _around(self, faces: set[int]) -> set[int]:
        """What they meet, also past rounds and chamfers, and what bounds that outside."""
        topology = self.topology
        beside = {link.beside for f in faces for link in self.of(f)}.union(*(topology.neighbours(f) for f in faces))
        flat = [f for f in beside if topology.surface(f).kind == "plane"]
        return beside | {topology.other_face(e, f) for f in flat for e in outer_edges(topology, f)}

    def border(self, face: int) -> Floats:
        """Points (n, 3) along it."""
        found: Floats = self.topology.notes.of("border points", face, self._border)
        return found

    def _border(self, face: int) -> Floats:
        edges = [e for e in self.topology.edges_of(face) if self.topology.meeting(e) != "degenerate"]
        return np.concatenate([self.topology.samples(e, ALONG) for e in edges])

    def normal(self, face: int) -> Floats:
        """Outward (3,), where its border begins: anywhere, of a flat face."""
        found: Floats = self.topology.notes.of(
            "normal at border", face, lambda f: self.topology.outward(f, self.border(f)[:1])[0]
        )
        return found

    @cached_property
    def _links(self) -> dict[int, list[Link]]:
        found: dict[int, list[Link]] = {f: [] for f in range(self.count)}
        for link in self._all():
            found[link.face].append(link)
            found[link.beside].append(link.turned())
        return found

    def of(self, face: int) -> list[Link]:
        return self._links[face]

    def _all(self) -> Iterator[Link]:
        topology = self.topology
        for edge in range(topology.index.count("edge")):
            meeting = topology.meeting(edge)
            if meeting not in ("sharp", "smooth"):
                continue
            a, b = topology.faces_of(edge)
            if not {a, b} & (self.fillets.keys() | self.chamfers.keys()):
                way = topology.drawn_edges.of("bend", edge, self._bend) if meeting == "sharp" else 0
                yield Link(a, b, way, (self._inner(edge, a), self._inner(edge, b)))
        for face, fillet in self.fillets.items():
            if len(fillet.supports) == 2 and len(fillet.contacts) == 2:
                yield from self._past(fillet.supports, fillet.contacts, rounding(topology, face))
        for item in self.chamfers.values():
            if len(item.walls) == 2 and len(item.contacts) == 2:
                yield from self._past(tuple(w[0] for w in item.walls), item.contacts, 1 if item.corner > 0 else -1)

    def _bend(self, edge: int) -> int:
        return bend(self.topology, edge)

    def _past(self, supports: tuple[int, ...], contacts: tuple[int, ...], way: int) -> Iterator[Link]:
        """Each contact lies along one of the supports."""
        (a, b), sides = supports, []
        for support in (a, b):
            edge = next((e for e in contacts if support in self.topology.faces_of(e)), None)
            sides.append(edge is not None and self._inner(edge, support))
        yield Link(a, b, way, (sides[0], sides[1]))

    def _inner(self, edge: int, face: int) -> bool:
        return edge not in outer_edges(self.topology, face)

    # --- round things ----------------------------------------------------------------------------------------------

    def goes_round(self, faces: set[int], share: float = 1.0) -> bool:
        """Whether faces of one round surface go round its axis, at least a share of the way."""
        return self.remembered("way round", faces, lambda: (self._way_round(faces), None)) >= share

    def _way_round(self, faces: set[int]) -> float:
        """As a share of a full turn."""
        first = self.topology.surface(min(faces)).axial
        seen = np.zeros(ROUND_STEPS, bool)
        for face in faces:
            u0, u1, v0, v1 = self.topology.bounds(face)
            turns = np.linspace(u0, u1, 4 * ROUND_STEPS)
            places = self.topology.surface(face).points(np.stack([turns, np.full(len(turns), (v0 + v1) / 2)], axis=1))
            off = places - first.origin
            angles = np.arctan2(off @ first.y, off @ first.x)
            seen[((angles + np.pi) / (2 * np.pi) * ROUND_STEPS).astype(int) % ROUND_STEPS] = True
        return float(seen.mean())

    def shares_axis(self, face: int, other: int) -> bool:
        """Of two round faces, or of a flat one square to the axis of the first."""
        axis, beside = self.topology.surface(face).axial, self.topology.surface(other)
        if beside.kind == "spline" or abs(float(beside.axial.z @ axis.z)) < 1 - ONE_DIRECTION:
            return False
        off = beside.axial.origin - axis.origin
        return beside.kind == "plane" or float(np.abs(off - (off @ axis.z) * axis.z).max()) < 1e-5

    def square_to(self, faces: Iterable[int], way: Floats) -> list[int]:
        """The flat ones that look along a direction, or against it."""
        flat = (f for f in faces if self.topology.surface(f).kind == "plane")
        return [f for f in flat if abs(float(self.normal(f) @ way)) > 1 - ONE_DIRECTION]

    def span(self, faces: set[int] | tuple[int, ...], origin: Floats, way: Floats) -> tuple[float, float]:
        """How far the borders of faces reach along a direction, mm."""
        heights = np.concatenate([(self.border(f) - origin) @ way for f in faces])
        return float(heights.min()), float(heights.max())
