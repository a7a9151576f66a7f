"""Where the edges go: tracked, then recognised.

Samples of the old edge are carried on to the crossing of the two new carriers (Gauss-Newton, least step).  If they
lie on a line, circle or ellipse, the edge is one; else a cubic spline runs through them, with more samples until it
lies on both carriers.  So no table of surface pairs is needed, and no intersector.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..kernel import carriers
from ..kernel.carriers import CurveData, Frame, GeomHandle
from ..rigid import Rigid
from ..tolerances import SAME_PLACE
from .canal import Ball
from .corners import Carried, touch_slope
from .failure import LocalFailure
from .plan import Plan
from .surfaces import Floats, Surface, moved_frame
from .topology import SolidTopology

SAMPLES = 13
FITS = 2e-6  # mm by which a spline may leave its carriers
LOOSEST = 1e-3  # mm, beyond which a spline edge is given up


@dataclass
class EdgeCurve:
    """A new edge curve over [first, last]; tolerance in mm; kept: the old curve with a new range; contact: of a line
    of a face's own surface, the face, the place (2,) in its parameters at `first`, and how the second one runs, 1 or
    -1; moved: the motion that took the old curve here."""

    curve: CurveData
    first: float
    last: float
    tolerance: float
    kept: bool = False
    contact: tuple[int, Floats, float] | None = None
    moved: Rigid | None = None

    def points(self, count: int) -> Floats:
        return carriers.curve_points(self.curve, self.parameters(count))

    @property
    def kernel(self) -> GeomHandle:
        return carriers.make_curve(self.curve)

    def parameters(self, count: int) -> Floats:
        return np.linspace(self.first, self.last, count)


class EdgeCurves:
    def __init__(self, topology: SolidTopology, plan: Plan, places: dict[int, Floats], carried: Carried) -> None:
        self.topology, self.plan, self.places, self.carried = topology, plan, places, carried

    def affected(self) -> list[int]:
        """Edges on changed faces, and those that end where a vertex moved."""
        moved = [v for v, p in self.places.items() if np.abs(p - self.topology.point(v)).max() > 1e-12]
        edges = [e for f in self.plan.surfaces for e in self.topology.edges_of(f)]
        return list(
            dict.fromkeys([*edges, *self.plan.imprints, *(e for v in moved for e in self.topology.edges_at(v))])
        )

    def surface(self, face: int) -> Surface:
        return self.plan.surfaces.get(face, self.topology.surface(face))

    def place(self, vertex: int) -> Floats:
        found = self.places.get(vertex)
        return self.topology.point(vertex) if found is None else found

    def new(self, edge: int) -> EdgeCurve | None:
        """None for an edge shrunk to a point.  Raises LocalFailure where the edge would vanish or turn round."""
        faces = self.topology.faces_of(edge)
        curve, first, last = self.topology.curve(edge)
        if self.topology.meeting(edge) == "degenerate" or curve.kind == "none":
            return None
        motion = self.carried.motion(dict.fromkeys(faces))
        ends = self.topology.ends(edge)
        if motion is not None and all(
            v < 0 or np.abs(motion.points(self.topology.point(v)) - self.place(v)).max() < 1e-9 for v in ends
        ):
            return EdgeCurve(_moved(curve, motion), first, last, 1e-7, moved=motion)
        if edge in self.plan.imprints:
            border = None
        elif not any(f in self.plan.surfaces for f in faces):
            border = self._trimmed(edge, curve, first, last)
        else:
            border = self._contact(edge) or self._section(edge)
        return border or self._tracked(edge)

    # --- both carriers stay ----------------------------------------------------------------------------------------

    def _trimmed(self, edge: int, curve: CurveData, first: float, last: float) -> EdgeCurve | None:
        """The old curve with another range; None where it does not reach."""
        ends = [self.place(v) for v in self.topology.ends(edge)]
        low, high = (carriers.curve_parameter(curve, p, t) for p, t in zip(ends, (first, last), strict=True))
        reached = carriers.curve_points(curve, np.array([low, high]))
        miss = float(np.linalg.norm(reached - ends, axis=1).max())
        if miss > 1e-5 or (curve.kind == "spline" and not carriers.covers(curve.handle, low, high)):
            return None
        if high - low < 1e-7:
            raise LocalFailure("an edge beside it would vanish", self.topology.faces_of(edge))
        if curve.kind in ("circle", "ellipse") and high - low > 2 * np.pi + 1e-9:
            raise LocalFailure("an arc beside it would close", self.topology.faces_of(edge))
        return EdgeCurve(curve, low, high, max(1e-7, 1.1 * miss), kept=True)

    # --- of fillets that were rolled ----------------------------------------------------------------------------------

    def _contact(self, edge: int) -> EdgeCurve | None:
        """Along a support of a canal: the line on which its surface was laid.  None for other edges."""
        found = self.plan.touching(self.topology, edge) if self.topology.meeting(edge) == "smooth" else None
        contacts = self.plan.rolled[found[0]].contacts if found else None
        if found is None or contacts is None:
            return None
        handle = self.plan.surfaces[found[0]].handle
        ends = self.topology.ends(edge)
        start, end = (self.place(v) for v in ends)
        line = CurveData("spline", None, (), carriers.iso_curve(handle, contacts[found[2]]))
        first, last = (carriers.curve_parameter(line, p, 0.0) for p in (start, end))
        period = carriers.period(line)
        if period:  # the way the old edge went
            way = self.topology.samples(edge, SAMPLES)
            ahead = carriers.curve_points(line, np.array([first, first + 0.1 * period]))
            forward = float((ahead[1] - ahead[0]) @ (way[len(way) // 8 + 1] - way[0])) > 0
            last = first + (last - first) % period if forward else first - (first - last) % period
            if ends[0] == ends[1]:
                last = first + (period if forward else -period)
        contact = (found[0], np.array([contacts[found[2]], first]), 1.0 if last > first else -1.0)
        if last < first:
            line, (first, last) = carriers.backwards(line, (first, last))
        reached = carriers.curve_points(line, np.array([first, last]))
        miss = float(np.linalg.norm(reached - [start, end], axis=1).max())
        if miss > FITS or last - first < 1e-9:
            return None
        return EdgeCurve(line, first, last, max(1e-7, 1.1 * miss), contact=contact)

    def _section(self, edge: int) -> EdgeCurve | None:
        """Where one rolled round goes on in another of the same radius: an arc about the ball's centre there."""
        if self.topology.meeting(edge) != "smooth":
            return None
        balls = [self.plan.rolled[f].ball for f in self.topology.faces_of(edge) if f in self.plan.rolled]
        places = [self.place(v) for v in self.topology.ends(edge)]
        if len(balls) != 2 or np.abs(places[1] - places[0]).max() < 1e-9:
            return None
        centres = np.array([c for b in balls if b for p in places if (c := b.centre_of_touch(p)) is not None])
        if len(centres) < 4 or np.abs(centres - centres[0]).max() > FITS:
            return None
        centre = centres.mean(axis=0)
        a, b = (p - centre for p in places)
        turns = np.linspace(0, 1, SAMPLES)[:, None]
        angle = float(np.arctan2(np.linalg.norm(carriers.cross(a, b)), a @ b))
        points = centre + (np.sin((1 - turns) * angle) * a + np.sin(turns * angle) * b) / np.sin(angle)
        axis = carriers.cross(a, b)
        return _conic(points, False, centre, axis / np.linalg.norm(axis), within=FITS)

    # --- tracked ---------------------------------------------------------------------------------------------------

    def _tracked(self, edge: int) -> EdgeCurve:
        faces = self.topology.faces_of(edge)
        settle = self._settler(edge)
        closed = len(set(self.topology.ends(edge))) == 1
        start, end = (self.place(v) for v in self.topology.ends(edge))
        old = self.topology.samples(edge, SAMPLES)
        motion = next((self.plan.motions[f] for f in faces if f in self.plan.motions), None)
        points = old if motion is None else motion.points(old)
        if not closed:
            share = np.linspace(0, 1, SAMPLES)[:, None]
            points = points + (1 - share) * (start - points[0]) + share * (end - points[-1])
        points = settle(self._first_guess(edge, points))
        points[0], points[-1] = start, end
        found = recognise(points, closed, [self.surface(f) for f in dict.fromkeys(faces)])
        if found is None:
            found = spline_border(points, [self.surface(f) for f in dict.fromkeys(faces)], settle, faces)
        self._same_way(edge, old, found)
        return found

    def _first_guess(self, edge: int, points: Floats) -> Floats:
        """On to the changed carriers first: an arc that shrinks a lot starts far off them."""
        for face in dict.fromkeys(self.topology.faces_of(edge)):
            if face in self.plan.surfaces:
                for _ in range(2):
                    distance, slope = self.surface(face).distance(points)
                    points = points - distance[:, None] * slope
        return points

    def _settler(self, edge: int) -> Callable[[Floats], Floats]:
        faces = self.topology.faces_of(edge)
        meeting = self.topology.meeting(edge)
        surfaces = [self.surface(f) for f in dict.fromkeys(faces)]

        def fail() -> LocalFailure:
            return LocalFailure("two neighbours no longer meet along their edge", faces)

        if meeting in ("seam", "same") or (len(surfaces) == 2 and surfaces[0].same(surfaces[1], 1.0)):
            wall = [self.plan.surfaces[f] for f in (self.plan.imprints.get(edge),) if f is not None]
            return lambda points: _settle(points, [surfaces[0], *wall], None, fail)
        if meeting != "smooth":
            return lambda points: _settle(points, surfaces, None, fail)
        rolled = self.plan.touching(self.topology, edge)
        if rolled is not None:
            return lambda points: _on_contact(*rolled[1:], points, fail)
        sign = self.plan.sign(self.topology, faces[0]) * self.plan.sign(self.topology, faces[1])
        scale = min((s.radius for s in surfaces if s.numbers), default=1.0)

        def touch(points: Floats) -> tuple[Floats, Floats]:
            along = np.gradient(points, axis=0)
            across = np.cross(surfaces[0].distance(points)[1], along)
            across = across / (np.linalg.norm(across, axis=1, keepdims=True) + 1e-300)
            value, slope = touch_slope(surfaces[0], surfaces[1], sign, points, across)
            # nothing is known about the place along the touch: leave that direction out
            return value * scale, np.einsum("ni,ni->n", slope, across)[:, None] * across * scale

        return lambda points: _settle(points, surfaces, touch, fail)

    def _same_way(self, edge: int, old: Floats, new: EdgeCurve) -> None:
        """An edge that turned round, or shrank to nothing, tells that faces passed each other."""
        points = new.points(SAMPLES)
        length = float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
        if length < 1e-6:
            raise LocalFailure("an edge beside it would vanish", self.topology.faces_of(edge))
        if new.curve.kind == "line" and (points[-1] - points[0]) @ (old[-1] - old[0]) < 0:
            raise LocalFailure("it would pass the far end of a neighbour", self.topology.faces_of(edge))


def spline_border(
    points: Floats,
    surfaces: list[Surface],
    settle: Callable[[Floats], Floats],
    faces: tuple[int, ...],
    within: float = 0.0,
) -> EdgeCurve:
    """A cubic spline along the crossing of two carriers, with samples added until it lies on both."""
    while True:
        lengths = np.linalg.norm(np.diff(points, axis=0), axis=1)
        if lengths.min() < 1e-9:
            raise LocalFailure("an edge beside it would vanish", faces)
        values = np.append(0.0, np.cumsum(lengths))
        curve = CurveData("spline", None, (), carriers.spline_through(points, values))
        middles = carriers.curve_points(curve, (values[1:] + values[:-1]) / 2)
        miss = max(float(np.abs(s.distance(middles)[0]).max()) for s in surfaces)
        if miss < max(FITS, within) or (len(points) > 150 and miss < LOOSEST):
            return EdgeCurve(curve, 0.0, float(values[-1]), max(1e-7, 1.5 * miss))
        if len(points) > 150:
            raise LocalFailure("the new edge is too rough to follow", faces)
        finer = np.empty((2 * len(points) - 1, 3))
        finer[::2], finer[1::2] = points, middles
        settled = settle(finer)
        settled[0], settled[-1] = points[0], points[-1]
        points = settled


def crossing(
    points: Floats, surfaces: list[Surface], closed: bool, faces: tuple[int, ...], within: float = SAME_PLACE
) -> EdgeCurve:
    """The edge where two carriers cross, near ordered points (n, 3) whose ends are exact; within: mm that it may miss
    them, where they are known no better."""

    def settle(spots: Floats) -> Floats:
        return _settle(spots, surfaces, None, lambda: LocalFailure("two neighbours do not meet", faces), within)

    start, end = points[0].copy(), points[-1].copy()
    points = settle(points)
    points[0], points[-1] = start, end
    return recognise(points, closed, surfaces, within) or spline_border(points, surfaces, settle, faces, within)


def _moved(curve: CurveData, motion: Rigid) -> CurveData:
    frame = None if curve.frame is None else moved_frame(motion, curve.frame)
    handle = carriers.moved_geometry(carriers.make_curve(curve), motion)
    return CurveData(curve.kind, frame, curve.numbers, handle)


def _on_contact(ball: Ball, side: int, points: Floats, fail: Callable[[], LocalFailure]) -> Floats:
    found = ball.contact(points, side)
    if found is None:
        raise fail()
    return found


def _settle(
    points: Floats,
    surfaces: list[Surface],
    touch: Callable[[Floats], tuple[Floats, Floats]] | None,
    fail: Callable[[], LocalFailure],
    within: float = SAME_PLACE,
) -> Floats:
    """Gauss-Newton with the least step.  Two carriers that touch count once: their distances say the same."""
    for _ in range(40):
        found = [s.distance(points) for s in (surfaces if touch is None else surfaces[:1])]
        if touch is not None:
            found.append(touch(points))
        miss = np.stack([d for d, _ in found], axis=1)
        slopes = np.stack([g for _, g in found], axis=1)
        step = np.einsum("nij,nj->ni", np.linalg.pinv(slopes, rcond=1e-5), miss)
        points = points - step
        if not np.isfinite(points).all():
            raise fail()
        if np.abs(step).max() < 1e-11:
            break
    if max(float(np.abs(s.distance(points)[0]).max()) for s in surfaces) > within:
        raise fail()
    return points


# --- recognition ---------------------------------------------------------------------------------------------------


def recognise(points: Floats, closed: bool, surfaces: list[Surface], within: float = SAME_PLACE) -> EdgeCurve | None:
    """The line, circle or ellipse through ordered points (n, 3) on these carriers; None when it is none of them."""
    if not closed:
        chord = points[-1] - points[0]
        size = float(np.linalg.norm(chord))
        if size > 1e-9:
            along = chord / size
            off = points - points[0]
            if np.abs(off - (off @ along)[:, None] * along).max() < within:
                frame = Frame(points[0], along, along, along)
                return EdgeCurve(CurveData("line", frame, ()), 0.0, size, 1e-7)
    for centre, axis in _circle_guesses(points, closed, surfaces):
        found = _conic(points, closed, centre, axis, within=within)
        if found is not None:
            return found
    return _section_ellipse(points, closed, surfaces, within)


def _circle_guesses(points: Floats, closed: bool, surfaces: list[Surface]) -> list[tuple[Floats, Floats]]:
    guesses = []
    for surface in surfaces:
        if surface.kind in ("cylinder", "cone", "torus", "sphere"):
            frame = surface.axial
            height = float(((points - frame.origin) @ frame.z).mean())
            guesses.append((frame.origin + height * frame.z, frame.z))
    if surfaces[0].kind == "sphere" or surfaces[-1].kind == "sphere":
        plane = next((s for s in surfaces if s.kind == "plane"), None)
        ball = next(s for s in surfaces if s.kind == "sphere")
        if plane is not None:
            lift = (plane.axial.origin - ball.axial.origin) @ plane.axial.z
            guesses.append((ball.axial.origin + lift * plane.axial.z, plane.axial.z))
    for surface in surfaces:
        if surface.kind == "torus":  # the tube's own circle about a place on the spine
            frame = surface.axial
            out = points[len(points) // 2] - frame.origin
            out = out - (out @ frame.z) * frame.z
            size = float(np.linalg.norm(out))
            if size > 1e-9:
                out = surface.side * out / size
                guesses.append((frame.origin + surface.numbers[0] * out, carriers.cross(frame.z, out)))
    fitted = _through_three(points, closed)
    if fitted is not None:
        guesses.append(fitted)
    return guesses


def _through_three(points: Floats, closed: bool) -> tuple[Floats, Floats] | None:
    last = len(points) - 1
    a, b, c = points[0], points[last // 3 if closed else last // 2], points[2 * last // 3 if closed else last]
    normal = carriers.cross(b - a, c - a)
    square = float(normal @ normal)
    if square < 1e-18:
        return None
    lift = float((b - a) @ (b - a)) * carriers.cross(c - a, normal) + float((c - a) @ (c - a)) * carriers.cross(
        normal, b - a
    )
    return a + lift / (2 * square), normal / np.sqrt(square)


def _conic(
    points: Floats,
    closed: bool,
    centre: Floats,
    axis: Floats,
    axes: tuple[Floats, float, float] | None = None,
    within: float = SAME_PLACE,
) -> EdgeCurve | None:
    """Circle about an axis (or ellipse with given major direction and radii), started at the first point, run the
    way the points go."""
    w = points - centre
    if np.abs(w @ axis).max() > within:
        return None
    if axes is None:
        sizes = np.linalg.norm(w, axis=1)
        major = minor = float(sizes.mean())
        if major < 1e-7 or np.abs(sizes - major).max() > within:
            return None
        x = w[0] / sizes[0]
    else:
        x, major, minor = axes
    y = carriers.cross(axis, x)
    turns = np.unwrap(np.arctan2((w @ y) / minor, (w @ x) / major))
    if turns[len(turns) // 2] < turns[0]:
        y, turns = -y, -turns
    if axes is not None:
        ideal = centre + major * np.cos(turns)[:, None] * x + minor * np.sin(turns)[:, None] * y
        if np.abs(ideal - points).max() > within:
            return None
    first = float(turns[0])
    last = first + 2 * np.pi if closed else float(turns[-1])
    if last - first > 2 * np.pi + 1e-9 or last <= first:
        return None
    frame = Frame(centre, x, y, carriers.cross(x, y))
    numbers = (major,) if axes is None else (major, minor)
    return EdgeCurve(CurveData("circle" if axes is None else "ellipse", frame, numbers), first, last, 1e-7)


def _section_ellipse(
    points: Floats, closed: bool, surfaces: list[Surface], within: float = SAME_PLACE
) -> EdgeCurve | None:
    """Plane across a cylinder: centre where the axis pierces, minor radius that of the cylinder."""
    plane = next((s for s in surfaces if s.kind == "plane"), None)
    round_ = next((s for s in surfaces if s.kind == "cylinder"), None)
    if plane is None or round_ is None:
        return None
    normal, frame = plane.axial.z, round_.axial
    lean = float(normal @ frame.z)
    if abs(lean) < 1e-6:
        return None
    centre = frame.origin + ((plane.axial.origin - frame.origin) @ normal) / lean * frame.z
    major = frame.z - lean * normal
    size = float(np.linalg.norm(major))
    if size < 1e-9:
        return None
    radius = round_.radius
    return _conic(points, closed, centre, normal, (major / size, radius / abs(lean), radius), within)
