"""Where the vertices go: the place where all carriers around a vertex meet again.

Gauss-Newton on the signed distances, from the old place (moved along, where a face moved as a whole).  Where two
carriers touch instead of crossing, the distances say nothing about the place along the touch, so there the
difference of their normals across the common edge must vanish, too.  What is still free (a vertex on the split of
one surface, or on a seam) stays in the plane that stood square to the edge.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np

from ..kernel.carriers import cross
from ..rigid import Rigid
from ..tolerances import SAME_PLACE
from .canal import Ball
from .failure import LocalFailure
from .plan import Plan
from .surfaces import Floats, Surface
from .topology import SolidTopology

STEP = 1e-4  # mm, for differences of normals

Touch = Callable[[Floats], tuple[float, Floats]]  # how far a place (3,) is from the touch, and the gradient (3,)


def affected_vertices(topology: SolidTopology, faces: Iterable[int]) -> list[int]:
    return list(dict.fromkeys(v for f in faces for v in topology.vertices_of(f)))


def move_corners(topology: SolidTopology, plan: Plan, carried: Carried) -> dict[int, Floats]:
    """New place (3,) of every vertex on a changed face.  Raises LocalFailure where the carriers do not meet."""
    places: dict[int, Floats] = {}
    across = _across_sections(topology, plan)
    along = (v for e in plan.imprints for v in topology.ends(e))
    waiting = dict.fromkeys([*affected_vertices(topology, plan.surfaces), *along])
    for vertex in sorted(waiting, key=lambda v: v in across):
        motion = carried.motion(topology.faces_at(vertex))
        if motion is not None:
            places[vertex] = motion.points(topology.point(vertex))
            continue
        corner = _Corner(topology, plan, vertex)
        firm, ball = across.get(vertex, (vertex, None))
        place = corner.opposite(places[firm], ball) if ball is not None and firm in places else None
        places[vertex] = corner.solve() if place is None else place
    return places


def _across_sections(topology: SolidTopology, plan: Plan) -> dict[int, tuple[int, Ball]]:
    """Where a rolled round goes on in another, the arc between them is square to the ball's path.  Its end where the
    supports change says where, exactly; the other one, on a support that both share, says so only by how the path
    bends.  Between two pieces of one path either end will do.  By such a vertex: the one across, and the ball."""
    found: dict[int, tuple[int, Ball]] = {}
    for edge in dict.fromkeys(e for f in plan.rolled for e in topology.edges_of(f)):
        balls = [plan.rolled[f].ball for f in topology.faces_of(edge) if f in plan.rolled]
        ends = sorted(set(topology.ends(edge)), key=lambda v: len(topology.faces_at(v)))
        if len(balls) != 2 or balls[0] is None or topology.meeting(edge) != "smooth" or len(ends) != 2:
            continue
        loose, firm = ends
        known = plan.one_path(topology, edge) or len(topology.faces_at(loose)) != len(topology.faces_at(firm))
        if known and firm not in found:
            found.setdefault(loose, (firm, balls[0]))
    return found


class Carried:
    """Whether things simply move along: one rigid motion lays the old carriers of all faces around on the new ones.
    A wall along a push and a face that a hole slides over lie on themselves."""

    def __init__(self, topology: SolidTopology, plan: Plan) -> None:
        self.topology, self.plan = topology, plan
        self._motions: list[Rigid] = []
        self._of_face: dict[int, int] = {}
        for face, motion in plan.motions.items():
            known = next((i for i, m in enumerate(self._motions) if m is motion or m.same(motion)), None)
            if known is None:
                known = len(self._motions)
                self._motions.append(motion)
            self._of_face[face] = known
        self._arrives: dict[tuple[int, int], bool] = {}

    def motion(self, faces: Iterable[int]) -> Rigid | None:
        faces = list(faces)
        for number in dict.fromkeys(self._of_face[f] for f in faces if f in self._of_face):
            if all(self._arrived(f, number) for f in faces):
                return self._motions[number]
        return None

    def _arrived(self, face: int, number: int) -> bool:
        known = self._arrives.get((face, number))
        if known is None:
            old = self.topology.surface(face)
            new = self.plan.surfaces.get(face, old)
            known = self._of_face.get(face) == number or old.arrives(new, self._motions[number])
            self._arrives[face, number] = known
        return known


def touch_slope(a: Surface, b: Surface, sign: float, points: Floats, across: Floats) -> tuple[Floats, Floats]:
    """Across a touch of two carriers: the difference of their normals along `across` (n, 3), and its gradient (n, 3)
    by central differences."""
    shifts = np.concatenate([np.zeros((1, 3)), STEP * np.eye(3), -STEP * np.eye(3)])
    spots = (points[:, None, :] + shifts[None]).reshape(-1, 3)
    gap = (a.distance(spots)[1] - sign * b.distance(spots)[1]).reshape(-1, 7, 3)
    along = np.einsum("nkj,nj->nk", gap, across)
    return along[:, 0], (along[:, 1:4] - along[:, 4:7]) / (2 * STEP)


def normals_meet(a: Surface, b: Surface, sign: float, across: Floats, scale: float) -> Touch:
    """sign: between their gradients; across: direction (3,) across the touch; scale: in mm."""

    def touch(place: Floats) -> tuple[float, Floats]:
        value, slope = touch_slope(a, b, sign, place[None], across[None])
        return float(value[0]) * scale, slope[0] * scale

    return touch


def _ball_touches(ball: Ball, side: int) -> Touch:
    shifts = np.concatenate([np.zeros((1, 3)), STEP * np.eye(3), -STEP * np.eye(3)])

    def touch(place: Floats) -> tuple[float, Floats]:
        off = ball.off_contact(place + shifts, side)
        return float(off[0]), (off[1:4] - off[4:7]) / (2 * STEP)

    return touch


class _Corner:
    def __init__(self, topology: SolidTopology, plan: Plan, vertex: int) -> None:
        self.topology, self.plan, self.vertex = topology, plan, vertex
        self.faces = topology.faces_at(vertex)
        self.old = topology.point(vertex)

    def surface(self, face: int) -> Surface:
        return self.plan.surfaces.get(face, self.topology.surface(face))

    def start(self) -> Floats:
        """Moved along with the faces that moved as a whole."""
        moves = [self.plan.motions[f] for f in self.faces if f in self.plan.motions]
        turned = [m for m in moves if not m.is_slide]
        if turned:
            return turned[0].points(self.old)
        for ball, side in self._rolls().values():
            place = ball.contact(self.old[None], side)
            if place is not None:
                return place[0]
        return self.old

    def _rolls(self) -> dict[int, tuple[Ball, int]]:
        """Rolled fillets that touch a support at this vertex, by face."""
        edges = self.topology.edges_at(self.vertex)
        rolls = (self.plan.touching(self.topology, e) for e in edges if self.topology.meeting(e) == "smooth")
        return {roll[0]: roll[1:] for roll in rolls if roll is not None}

    def opposite(self, firm: Floats, ball: Ball) -> Floats | None:
        """Where a ball touches its other support when it touches one at a place (3,); None where that is not on all
        carriers of this corner."""
        centre = ball.centre_of_touch(firm)
        if centre is None:
            return None
        for support, distance in zip(ball.supports, ball.distances, strict=True):
            place = centre - distance * support.distance(centre[None])[1][0]
            if all(abs(float(s.distance(place[None])[0][0])) < SAME_PLACE for s in self._distinct()):
                return place
        return None

    def solve(self) -> Floats:
        apex = self._apex()
        if apex is not None:
            return apex
        surfaces = self._distinct()
        touches = self._touches()
        place = self._newton(surfaces, touches)
        if place is None:
            raise LocalFailure("its neighbours no longer meet in one corner", self.faces)
        return place

    def _distinct(self) -> list[Surface]:
        """Carriers around the vertex, without fillets on splines whose ball touches here, which says the same."""
        found: list[Surface] = []
        rolls = self._rolls()
        imprints = self.plan.imprints
        walls = (imprints[e] for e in self.topology.edges_at(self.vertex) if e in imprints)
        for face in dict.fromkeys([*self.faces, *walls]):
            surface = self.surface(face)
            if face in rolls and surface.kind == "spline":
                continue
            if not any(surface is s or surface.same(s, 1.0) for s in found):
                found.append(surface)
        return found

    def _apex(self) -> Floats | None:
        """Tip of a cone or pole of a sphere, where an edge is shrunk to a point."""
        for edge in self.topology.edges_at(self.vertex):
            if self.topology.meeting(edge) != "degenerate":
                continue
            face = self.topology.faces_of(edge)[0]
            new = self.surface(face)
            if new.kind == "cone":
                radius, angle = new.numbers
                return new.axial.origin - radius / np.tan(angle) * new.axial.z
            if new.kind == "sphere":
                old = new if face in self.plan.recast else self.topology.surface(face)
                sense = float(np.sign((self.old - old.axial.origin) @ old.axial.z))
                return new.axial.origin + sense * new.radius * new.axial.z
            changed = self.plan.surfaces.keys() - self.plan.recast
            if face in self.plan.surfaces or not changed.isdisjoint(self.faces):
                raise LocalFailure("an edge shrunk to a point on it cannot follow", [face])
            return self.old
        return None

    def _touches(self) -> list[Touch]:
        """Of each smooth edge at the vertex."""
        found = []
        for edge in self.topology.edges_at(self.vertex):
            if self.topology.meeting(edge) != "smooth" or self._became_one(edge):
                continue
            a, b = self.topology.faces_of(edge)
            normal = self.topology.outward(a, self.old[None])[0]
            across = cross(normal, self.topology.direction(edge, self.vertex))
            size = float(np.linalg.norm(across))
            if size < 0.5:
                continue
            turned = next((self.plan.motions[f] for f in (a, b) if f in self.plan.motions), None)
            across = across / size if turned is None else turned.turn @ across / size
            scale = min((s.radius for s in (self.surface(a), self.surface(b)) if s.numbers), default=1.0)
            sign = self.plan.sign(self.topology, a) * self.plan.sign(self.topology, b)
            rolled = self.plan.touching(self.topology, edge)
            if rolled is None:
                found.append(normals_meet(self.surface(a), self.surface(b), sign, across, scale))
            else:
                found.append(_ball_touches(*rolled[1:]))
        return found

    def _became_one(self, edge: int) -> bool:
        """Faces that meet smoothly and have come to lie on one surface."""
        if self.topology.meeting(edge) != "smooth":
            return False
        a, b = (self.surface(f) for f in self.topology.faces_of(edge))
        return a.same(b, 1.0) or self.plan.one_path(self.topology, edge)

    def _pins(self, start: Floats) -> tuple[Floats, Floats]:
        """Planes across the splits of one surface and seams at this vertex: normals (k, 3) and heights (k,)."""
        normals = []
        for edge in self.topology.edges_at(self.vertex):
            if self.topology.meeting(edge) not in ("same", "seam") and not self._became_one(edge):
                continue
            face = self.topology.faces_of(edge)[0]
            across = np.cross(
                self.topology.outward(face, self.old[None])[0], self.topology.direction(edge, self.vertex)
            )
            motion = self.plan.motions.get(face)
            normals.append(across if motion is None else motion.turn @ across)
        rows = np.array(normals).reshape(-1, 3)
        return rows, rows @ start

    def _newton(self, surfaces: list[Surface], touches: list[Touch]) -> Floats | None:
        start = self.start()
        return meet(start, surfaces, touches, *self._pins(start))


def meet(start: Floats, surfaces: list[Surface], touches: list[Touch], pins: Floats, heights: Floats) -> Floats | None:
    """The place (3,) near `start` where carriers meet; None where they do not.  Pins (k, 3) with heights (k,) are
    planes that count only as far as the carriers leave a freedom."""
    place = start
    for _ in range(40):
        found = [s.distance(place[None]) for s in surfaces]
        miss = [float(d[0]) for d, _ in found]
        rows = [g[0] for _, g in found]
        for touch in touches:
            value, slope = touch(place)
            miss.append(value)
            rows.append(slope)
        system = np.array(rows)
        inverse = np.linalg.pinv(system, rcond=1e-5)
        step = inverse @ np.array(miss)
        if len(pins):
            free = np.eye(3) - inverse @ system
            across = pins @ free
            if np.abs(across).max() > 1e-4:  # less is rounding
                step = step + free @ np.linalg.pinv(across, rcond=1e-4) @ (pins @ (place - step) - heights)
        place = place - step
        if not np.isfinite(place).all():
            return None
        if np.abs(step).max() < 1e-12:
            break
    off = max((abs(float(s.distance(place[None])[0][0])) for s in surfaces), default=0.0)
    return place if off < SAME_PLACE else None
