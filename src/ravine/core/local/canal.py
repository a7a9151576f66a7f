"""Canal surfaces: what a ball leaves behind whose centre runs along a path that is no line or circle, like the fillets
between a drafted wall and a boss.

The path is where both supports lie at the ball's distance.  Sections square to it are arcs between the points where
the ball touches, notes exactly as rational quadratics; from section to section the homogeneous poles are interpolated
by splines of degree 7, with more sections until the surface is near enough to the ball.  Where the path is a line or
circle after all, the surface is a cylinder or torus.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BSpline, CubicSpline, make_interp_spline

from ..kernel.carriers import Frame
from ..kernel.spline_net import SplineNet
from .surfaces import Floats, Surface

STRAIGHT = 1e-7  # mm by which a path may miss the line or circle it is taken for
MARGIN = 0.12  # of its length, by which a canal is carried on beyond its ends
OVERLAP = 0.25  # rad by which its arcs run on beyond the places of touch
ONE_ARC = np.radians(150.0)  # notes in one piece: where two meet, edge_curves across need many more knots
WIDEST = np.radians(176.0)  # a face that turns further is a wall of its own: a slot's end, a lug
CLOSE = 1e-7  # mm by which the surface may miss the ball
FEWEST, MOST = 12, 140  # sections
PLACES = 36  # on the path, spread evenly before sections are laid
DEGREE = 7


@dataclass(frozen=True)
class Ball:
    """Rolls along two supports at these signed distances (mm) of its centre from them, of one size.

    before: how far its centre was from the old face, along the outward normal.
    """

    supports: tuple[Surface, Surface]
    distances: tuple[float, float]
    before: float

    @property
    def radius(self) -> float:
        return abs(self.distances[0])

    def settle(self, points: Floats) -> Floats | None:
        return settle(points, list(self.supports), [np.full(len(points), d) for d in self.distances])

    def carried(self, points: Floats, outward: Floats) -> Floats | None:
        """About where places of the old face come to lie, by its outward normals there."""
        centres = self.settle(points + self.before * outward)
        return None if centres is None else centres - np.sign(self.before) * self.radius * outward

    def contact(self, points: Floats, side: int) -> Floats | None:
        """Where it touches a support, from places (n, 3) near by."""
        centres = self.settle(points)
        if centres is None:
            return None
        return centres - self.distances[side] * self.supports[side].distance(centres)[1]

    def off_contact(self, points: Floats, side: int) -> Floats:
        """How far (n,) the ball that touches a support at these places is from touching the other one, in mm."""
        here, there = self.supports[side], self.supports[1 - side]
        centres = points + self.distances[side] * here.distance(points)[1]
        return there.distance(centres)[0] - self.distances[1 - side]

    def side_at(self, place: Floats) -> int | None:
        """Which of the supports a place (3,) lies on."""
        return next((k for k in (0, 1) if abs(self.supports[k].distance(place[None])[0][0]) < 1e-6), None)

    def centre_of_touch(self, place: Floats) -> Floats | None:
        """Of the ball that touches one of the supports at a place (3,) on it; None where it lies on neither."""
        side = self.side_at(place)
        if side is None:
            return None
        return np.asarray(place + self.distances[side] * self.supports[side].distance(place[None])[1][0])

    def touches(self, centres: Floats) -> tuple[Floats, Floats]:
        """Unit vectors (n, 3) from the centres to where the ball touches either support."""
        a, b = (-np.sign(d) * s.distance(centres)[1] for s, d in zip(self.supports, self.distances, strict=True))
        return a, b


def settle(start: Floats, surfaces: list[Surface], targets: list[Floats]) -> Floats | None:
    """Points moved until they lie at the targets' distances from the surfaces (Gauss-Newton, least step)."""
    points = start.copy()
    for _ in range(30):
        found = [s.distance(points) for s in surfaces]
        miss = np.stack([d - t for (d, _), t in zip(found, targets, strict=True)], axis=1)
        if np.abs(miss).max() < 1e-11:
            return points
        slopes = np.stack([g for _, g in found], axis=1)
        step = np.einsum("nij,nj->ni", np.linalg.pinv(slopes, rcond=1e-7), miss)
        points = points - step
        if not np.isfinite(points).all():
            return None
        if np.abs(step).max() < 1e-13:
            break
    left = [s.distance(points)[0] - t for s, t in zip(surfaces, targets, strict=True)]
    return points if max(float(np.abs(f).max()) for f in left) < 1e-8 else None


def canal(ball: Ball, path: Floats, closed: bool, reach: float) -> tuple[Surface, tuple[float, float] | None] | None:
    """The surface of a ball along a path; and, of one on a spline, its first parameter where the ball touches either
    support.

    path: ordered places (n, 3) of its centre, about; of a closed one the first again as the last.  reach: mm by which
    an open one is carried on beyond its ends, besides a share of its length, as far as the ball can roll.
    None where it finds no place, or turns as far as its supports face each other.
    """
    settled = ball.settle(path)
    if settled is None:
        return None
    if closed:
        settled[-1] = settled[0]
    else:
        settled = _carried_on(ball, settled, reach)
    steps = np.linalg.norm(np.diff(settled, axis=0), axis=1)
    if steps.min() < 1e-9:
        return None
    a, b = ball.touches(settled)
    if np.einsum("ni,ni->n", a, b).min() < np.cos(WIDEST):
        return None
    plain = _line_or_circle(settled, ball.radius)
    if plain is not None:
        return plain, None
    even = _evenly(ball, settled, closed)
    if even is None:
        return None
    curve, length = even
    count = FEWEST
    while True:
        values = np.linspace(0.0, length, count)
        sections = _sections(ball, curve(values), closed)
        if sections is None or count > MOST:
            return None
        spline = _through(values, sections, closed)
        between = (values[1:] + values[:-1]) / 2
        if _miss(ball, spline(between).reshape(count - 1, -1, 4), curve(between)) < CLOSE:
            break
        count = count * 3 // 2
    poles = np.moveaxis(spline.c.reshape(len(spline.c), -1, 4), 0, 1)
    arcs = (poles.shape[0] - 1) // 2
    across = np.repeat(np.arange(arcs + 1.0), [3, *[2] * (arcs - 1), 3])
    net = SplineNet(poles, (across, spline.t), (2, DEGREE), (0.0, length if closed else 0.0))
    return Surface("spline", None, (), net.surface()), (1.0, arcs - 1.0)


def _evenly(ball: Ball, path: Floats, closed: bool) -> tuple[Callable[[Floats], Floats], float] | None:
    """A curve near the path by its length, and the length.  Places are spread evenly again and again, and a smooth
    curve laid through them at last, since sections can be interpolated only as smoothly as their places follow."""
    for _ in range(3):
        along = _lengths(path)
        curve = CubicSpline(along, path, bc_type="periodic" if closed else "not-a-knot")
        found = ball.settle(curve(np.linspace(0.0, along[-1], PLACES)))
        if found is None:
            return None
        if closed:
            found[-1] = found[0]
        path = found
    along = _lengths(path)
    return _through(along, path, closed), float(along[-1])


def _lengths(path: Floats) -> Floats:
    return np.append(0.0, np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1)))


def _carried_on(ball: Ball, path: Floats, reach: float) -> Floats:
    for _ in range(2):  # beyond its end, and, turned round, beyond its beginning
        rows = list(path)
        step = float(np.linalg.norm(np.diff(path, axis=0), axis=1).mean())
        wanted, gone = MARGIN * step * (len(path) - 1) + reach, 0.0
        step = max(step, wanted / 12)
        while gone < wanted:
            way = rows[-1] - rows[-2]
            way = way / np.linalg.norm(way)
            before = rows[-2] - rows[-3] if len(rows) > 2 else way
            bend = way - before / np.linalg.norm(before)
            found = ball.settle((rows[-1] + step * (way + bend))[None])
            if found is None:
                break
            gap = found[0] - rows[-1]
            size = float(np.linalg.norm(gap))
            if not 0.3 * step < size < 3 * step or gap @ way < 0.5 * size:
                break
            rows.append(found[0])
            gone += size
        path = np.array(rows[::-1])
    return path


def _sections(ball: Ball, path: Floats, closed: bool) -> Floats | None:
    """Homogeneous poles (n, 4 k) of an arc about each place; None where the ball has no place, or does not touch in
    two."""
    centres = ball.settle(path)
    if centres is None:
        return None
    if closed:
        centres[-1] = centres[0]
    a, b = ball.touches(centres)
    axis = np.cross(a, b)
    sine = np.linalg.norm(axis, axis=1)
    turn = np.arctan2(sine, np.einsum("ni,ni->n", a, b))
    if sine.min() < 1e-6 or turn.max() > WIDEST:  # between the places, too
        return None
    side = np.cross(axis / sine[:, None], a)
    arcs = int(np.ceil(turn.max() / ONE_ARC))
    inner = [turn * k / arcs for k in range(arcs + 1)]
    starts = [np.full(len(turn), -OVERLAP), *inner, turn + OVERLAP]
    rows = []
    for k in range(2 * len(starts) - 1):
        here, then = starts[k // 2], starts[(k + 1) // 2]
        weight = np.cos((then - here) / 2)  # 1 at either end of an arc
        angle = (here + then) / 2
        out = np.cos(angle)[:, None] * a + np.sin(angle)[:, None] * side
        pole = centres + ball.radius / weight[:, None] * out
        rows.append(np.column_stack([pole * weight[:, None], weight]))
    return np.concatenate(rows, axis=1)


def _miss(ball: Ball, poles: Floats, centres: Floats) -> float:
    """mm between arcs of homogeneous poles (n, k, 4) and the ball near places of its centre."""
    middles = (poles[:, :-2:2] + 2 * poles[:, 1::2] + poles[:, 2::2]) / 4
    spots = np.concatenate([poles[:, ::2], middles], axis=1)
    places = spots[..., :3] / spots[..., 3:]
    count = places.shape[1]
    flat, nearest = places.reshape(-1, 3), np.repeat(centres, count, axis=0)
    for _ in range(3):
        a, b = ball.touches(nearest)
        way = np.cross(a, b)
        way = way / np.linalg.norm(way, axis=1, keepdims=True)
        found = ball.settle(nearest + np.einsum("ni,ni->n", flat - nearest, way)[:, None] * way)
        if found is None:
            return np.inf
        nearest = found
    return float(np.abs(np.linalg.norm(flat - nearest, axis=1) - ball.radius).max())


def _through(values: Floats, rows: Floats, closed: bool) -> BSpline:
    """Spline (scipy's) through rows, clamped; of a closed path as smooth over its ends as elsewhere."""
    if not closed:
        return make_interp_spline(values, rows, k=DEGREE)
    more, turn = DEGREE + 1, values[-1] - values[0]
    wide = np.concatenate([values[-1 - more : -1] - turn, values, values[1 : 1 + more] + turn])
    spline = make_interp_spline(wide, np.concatenate([rows[-1 - more : -1], rows, rows[1 : 1 + more]]), k=DEGREE)
    for end in (values[0], values[-1]):
        spline = spline.insert_knot(end, DEGREE)
    first, last = (int(np.argmin(np.abs(spline.t - end))) for end in (values[0], values[-1]))
    return BSpline(spline.t[first : last + DEGREE + 1], spline.c[first:last], DEGREE)


def _line_or_circle(path: Floats, radius: float) -> Surface | None:
    """The cylinder or torus that a path leads to, with its frame anyhow about the axis."""
    middle = path.mean(axis=0)
    _, _, ways = np.linalg.svd(path - middle)
    if np.abs((path - middle) @ ways[1:].T).max() < STRAIGHT:
        return Surface("cylinder", Frame(middle, ways[1], np.cross(ways[0], ways[1]), ways[0]), (radius,))
    if np.abs((path - middle) @ ways[2]).max() > STRAIGHT:
        return None
    fitted = circle_fit((path - middle) @ ways[:2].T)
    if fitted is None or fitted[1] < 1e-3 * radius:  # next to a ball
        return None
    centre, major = fitted
    frame = Frame(middle + centre @ ways[:2], ways[0], ways[1], np.cross(ways[0], ways[1]))
    return Surface("torus", frame, (major, radius))


def circle_fit(flat: Floats) -> tuple[Floats, float] | None:
    """Centre (2,) and radius of the circle through places (n, 2) of a plane, by least squares (the linear form of
    Kåsa); None where they miss it."""
    system = np.column_stack([2 * flat, np.ones(len(flat))])
    found, *_ = np.linalg.lstsq(system, (flat**2).sum(axis=1), rcond=None)
    centre = found[:2] if np.abs(found[:2]).max() > 1e-9 else np.zeros(2)
    sizes = np.linalg.norm(flat - centre, axis=1)
    return (centre, float(sizes.mean())) if np.ptp(sizes) <= STRAIGHT else None
