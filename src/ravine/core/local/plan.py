"""What an edit is to do: steps asked of faces, and the plan of new surfaces for every face that changes with them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from ..rigid import IDENTITY, Rigid
from .canal import Ball
from .failure import LocalFailure
from .fillets import Fillet
from .rolling import Rolled
from .surfaces import Surface
from .topology import SolidTopology


@dataclass(frozen=True)
class Offset:
    """Parallel to itself by `distance` mm along the outward normal."""

    distance: float


@dataclass(frozen=True)
class Radius:
    """A round, with its chain, gets another radius in mm."""

    radius: float


Step = Offset | Rigid | Radius


@dataclass
class Plan:
    """surfaces: new one of every face that changes; motions: how the face moved as a whole, where it did so rigidly
    (a plane pushed square to itself slid); followed: fillets that came along; chamfers: those that did; stayed:
    chamfers that could not; recast: faces whose new surface counts its parameters in another way than the old one;
    rolled: fillets that were rolled along two supports; grown: spline faces that stay where they are on a surface
    carried on, since an edge has come to lie beyond its border; imprints: edges that lie on a changed face's surface
    without being its own, and that face."""

    surfaces: dict[int, Surface] = field(default_factory=dict)
    motions: dict[int, Rigid] = field(default_factory=dict)
    followed: set[int] = field(default_factory=set)
    chamfers: set[int] = field(default_factory=set)
    stayed: set[int] = field(default_factory=set)
    recast: set[int] = field(default_factory=set)
    grown: set[int] = field(default_factory=set)
    imprints: dict[int, int] = field(default_factory=dict)
    rolled: dict[int, Rolled] = field(default_factory=dict)

    def set(self, face: int, surface: Surface, motion: Rigid | None) -> None:
        self.surfaces[face] = surface
        if motion is not None:
            self.motions[face] = motion

    def roll(self, item: Fillet, found: Rolled, motion: Rigid | None) -> None:
        self.set(item.face, found.surface, motion)
        if found.ball is not None:
            self.rolled[item.face] = found
        if found.recast:
            self.recast.add(item.face)

    def sign(self, topology: SolidTopology, face: int) -> float:
        """As SolidTopology.sign, of the face on its new surface."""
        new = self.surfaces.get(face)
        return topology.sign(face) if new is None else topology.sign_on(face, new)

    def touching(self, topology: SolidTopology, edge: int) -> tuple[int, Ball, int] | None:
        """The round whose touch an edge is, with its ball, and which of the two supports that touches there."""
        for face in topology.faces_of(edge):
            item = self.rolled.get(face)
            if item is not None and item.ball is not None:
                other = topology.other_face(edge, face)
                beside = self.surfaces.get(other, topology.surface(other))
                for side, support in enumerate(item.ball.supports):
                    if support is beside or support.same(beside, 1.0):
                        return face, item.ball, side
        return None

    def one_path(self, topology: SolidTopology, edge: int) -> bool:
        """Whether both faces beside an edge are rolled along the same two supports, so that it lies anywhere."""
        items = [self.rolled.get(f) for f in topology.faces_of(edge)]
        balls = [item.ball for item in items if item is not None and item.ball is not None]
        if len(balls) < 2 or topology.meeting(edge) != "smooth":
            return False
        return all(any(s.same(other, 1.0) for other in balls[1].supports) for s in balls[0].supports)

    def grow(self, topology: SolidTopology, faces: Iterable[int]) -> None:
        for face in faces:
            self.set(face, topology.surface(face), IDENTITY)
            self.grown.add(face)

    def change(self, topology: SolidTopology, face: int, step: Step) -> None:
        """Raises LocalFailure where a radius would vanish."""
        old = topology.surface(face)
        if isinstance(step, Rigid):
            self.set(face, old.moved(step), step)
            return
        assert isinstance(step, Offset)
        moved = old.parallel(topology.sign(face) * step.distance)
        if moved is None:
            raise LocalFailure(f"its radius of {old.radius:.6g} mm would vanish", [face])
        motion = None
        if old.kind == "plane":
            motion = Rigid.slide(topology.sign(face) * step.distance * old.axial.z)
        self.set(face, moved, motion)
