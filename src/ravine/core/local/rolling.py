"""Where fillets go when their supports move.

The spine of a round, the path of the ball's centre, lies at a fixed signed distance from every support; so with the
supports moved the spine is found again as the place where these distances hold, whatever the supports are.  Keeping
the signed distance, not the radius, also covers balls that roll on the inside.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..kernel.carriers import Frame, copied
from ..rigid import Rigid
from .canal import STRAIGHT, Ball, canal, circle_fit, settle
from .facing import facing
from .fillets import Fillet, fillet_of, is_of_size
from .surfaces import Floats, Surface
from .topology import SolidTopology


@dataclass(frozen=True)
class Rolled:
    """A round's new surface; the ball where it was rolled along two supports; on a spline its first parameter along
    either of them; and whether its parameters are counted in another way than the old one's."""

    surface: Surface
    ball: Ball | None = None
    contacts: tuple[float, float] | None = None
    recast: bool = False


def rolled(
    topology: SolidTopology,
    item: Fillet,
    new: Mapping[int, Surface],
    radius: float | None = None,
    earlier: Mapping[int, Rolled] | None = None,
) -> Rolled | None:
    """A round on its supports' new surfaces, with its old radius or another one; None where the ball finds no place.
    earlier: fillets that were rolled before; further pieces of one path get the same surface."""
    if item.kind == "canal":
        return _rolled_freely(topology, item, new, radius, earlier or {})
    old = topology.surface(item.face)
    pairs = [(topology.surface(f), new.get(f, topology.surface(f))) for f in item.supports]
    start = _spine(topology, item, old)
    share = 1.0 if radius is None else radius / item.radius
    targets = [was.distance(start)[0] * share for was, _ in pairs]
    place = settle(start, [now for _, now in pairs], targets)
    result = item.radius if radius is None else radius
    if place is None and radius is None and len(pairs) == 2:
        place, result = _settle_between(start, [now for _, now in pairs], targets, item.radius)
    if place is None:
        return None
    ball = None
    if item.kind != "sphere":
        now_a, now_b = (now for _, now in pairs)
        ratio = result / item.radius / share
        ball = Ball((now_a, now_b), (ratio * float(targets[0][0]), ratio * float(targets[1][0])),
                    -topology.sign(item.face) * item.radius)  # fmt: skip
    step = place - start
    if np.ptp(step, axis=0).max() < 1e-10 and abs(result - item.radius) < 1e-12 and item.kind != "cylinder":
        return Rolled(old.moved(Rigid.slide(step.mean(axis=0))), ball)
    found = _around(old, place, result)
    if found is not None or ball is None:
        return None if found is None else Rolled(found, ball)
    return _rolled_freely(topology, item, new, result, {})


def _rolled_freely(
    topology: SolidTopology,
    item: Fillet,
    new: Mapping[int, Surface],
    radius: float | None,
    earlier: Mapping[int, Rolled],
) -> Rolled | None:
    """Along any path: on a canal surface; without another radius, with the one that is known best of all pieces."""
    pieces = _pieces(topology, item)
    if radius is None:
        radius = min(pieces, key=lambda piece: (piece.unsure, piece.face)).radius
    path, way, closed = _joined_path([_path(topology, piece) for piece in pieces])
    supports = [new.get(f, topology.surface(f)) for f in item.supports]
    a, b = (way * radius * topology.sign_on(f, s) for f, s in zip(item.supports, supports, strict=True))
    ball = Ball((supports[0], supports[1]), (a, b), way * item.radius)
    known = next((earlier[piece.face] for piece in pieces if piece.face in earlier), None)
    if known is not None and known.ball is not None and abs(known.ball.radius - radius) < 1e-7:
        own = replace(known.surface, handle=known.surface.handle and copied(known.surface.handle))
        found: tuple[Surface, tuple[float, float] | None] | None = (own, known.contacts)
    else:
        ends = [(v, f) for p in pieces for v in topology.vertices_of(p.face) for f in topology.faces_at(v) if f in new]
        reach = max((abs(float(new[f].distance(topology.point(v)[None])[0][0])) for v, f in ends), default=0.0)
        found = canal(ball, path, closed, 2 * reach)
    middle = None if found is None else ball.settle(path[len(path) // 2 :][:1])
    if found is None or middle is None:
        return None
    surface, contacts = found
    touches = ball.touches(middle)
    out = touches[0][0] + touches[1][0]
    out = out / np.linalg.norm(out)
    natural = -way * out * (-1.0 if topology.is_reversed(item.face) else 1.0)
    turned = facing(topology, item.face, surface, middle[0] + radius * out, natural)
    if contacts and turned is not surface:
        contacts = (contacts[1], contacts[0])  # they lie as far from either end
    return Rolled(turned, ball, contacts, recast=True)


def _pieces(topology: SolidTopology, item: Fillet) -> list[Fillet]:
    """A canal with those that continue it along the same supports, in order; of another round just itself."""
    if item.kind != "canal":
        return [item]
    supports = [topology.surface(f) for f in item.supports]
    found, waiting = {item.face: item}, [item.face]
    while waiting:
        for beside in topology.neighbours(waiting.pop(), "smooth", "same"):
            other = None if beside in found else fillet_of(topology, beside)
            if other is not None and other.kind == "canal" and is_of_size(other, item.radius):
                theirs = [topology.surface(f) for f in other.supports]
                if all(any(s.same(t, 1.0) for t in theirs) for s in supports):
                    found[beside] = other
                    waiting.append(beside)
    return list(found.values())


def _joined_path(paths: list[tuple[Floats, float, bool]]) -> tuple[Floats, float, bool]:
    """Paths laid end to end, whichever way round each of them runs."""
    points, way, closed = paths[0]
    waiting = [row for row, _, _ in paths[1:]]
    near = 0.1 * float(np.linalg.norm(points[1] - points[0]))
    while waiting:
        rows = [(k, row) for k, r in enumerate(waiting) for row in (r, r[::-1])]
        after = next(((k, row) for k, row in rows if np.linalg.norm(row[0] - points[-1]) < near), None)
        before = next(((k, row) for k, row in rows if np.linalg.norm(row[-1] - points[0]) < near), None)
        if after is not None:
            points = np.concatenate([points, after[1][1:]])
            del waiting[after[0]]
        elif before is not None:
            points = np.concatenate([before[1][:-1], points])
            del waiting[before[0]]
        else:
            break
    closed = closed or (len(paths) > 1 and bool(np.linalg.norm(points[-1] - points[0]) < near))
    return points, way, closed


def _path(topology: SolidTopology, item: Fillet) -> tuple[Floats, float, bool]:
    """Places (n, 3) of the ball's centre along the first support's contact, in order; which way it lies from the face,
    along the outward normal; and whether the path is closed, with the first place again as the last."""
    face = item.face
    support = topology.surface(item.supports[0])
    contact = {e for e in item.contacts if support.same(topology.surface(topology.other_face(e, face)), 1.0)}
    for wire in topology.wires(face):
        if not any(e in contact for e, _ in wire):
            continue
        begin = next((k for k in range(len(wire)) if wire[k][0] in contact and wire[k - 1][0] not in contact), 0)
        uses = [use for use in (*wire[begin:], *wire[:begin]) if use[0] in contact]
        rows = [topology.samples(e, 9)[::-1] if against else topology.samples(e, 9) for e, against in uses]
        points = np.concatenate([rows[0], *(r[1:] for r in rows[1:])])
        ends = [topology.ends(e)[::-1] if against else topology.ends(e) for e, against in uses]
        closed = ends[0][0] == ends[-1][1]
        outward = topology.outward(face, points)
        way = item.way if item.kind == "canal" else -topology.sign(face)
        return points + way * item.radius * outward, way, closed
    raise ValueError("a round without rails")


def _spine(topology: SolidTopology, item: Fillet, old: Surface) -> Floats:
    """Points (5, 3) of the ball's centre over the length of the face; one for a corner."""
    frame = old.axial
    if item.kind == "sphere":
        return frame.origin[None]
    points = np.concatenate([topology.samples(e, 5) for e in item.contacts])
    if item.kind == "cylinder":
        heights = (points - frame.origin) @ frame.z
        return frame.origin + np.linspace(heights.min(), heights.max(), 5)[:, None] * frame.z
    turns = np.concatenate([old.parameters(topology.samples(e, 9))[:, 0] for e in item.contacts[:1]])
    turns = np.linspace(turns.min(), turns.max(), 5)[:, None]
    return frame.origin + old.numbers[0] * (np.cos(turns) * frame.x + np.sin(turns) * frame.y)


def _settle_between(
    start: Floats, surfaces: list[Surface], targets: list[Floats], radius: float
) -> tuple[Floats | None, float]:
    """Between parallel supports the radius has to follow: it is one more unknown."""
    unknown = np.append(start.mean(axis=0), radius)
    shape = [float(t[0]) / radius for t in targets]
    for _ in range(30):
        found = [s.distance(unknown[None, :3]) for s in surfaces]
        miss = np.array([d[0] - k * unknown[3] for (d, _), k in zip(found, shape, strict=True)])
        slopes = np.array([np.append(g[0], -k) for (_, g), k in zip(found, shape, strict=True)])
        if np.abs(miss).max() < 1e-11:
            break
        unknown = unknown - np.linalg.pinv(slopes, rcond=1e-7) @ miss
    else:
        return None, radius
    if unknown[3] <= 1e-6:
        return None, radius
    return start + (unknown[:3] - start.mean(axis=0)), float(unknown[3])


def _around(old: Surface, spine: Floats, radius: float) -> Surface | None:
    """The cylinder, torus or sphere of this radius about a spine."""
    frame = old.axial
    if old.kind == "sphere":
        return replace(old, frame=replace(frame, origin=spine[0]), numbers=(radius,), handle=None)
    if old.kind == "cylinder":
        along = spine[-1] - spine[0]
        size = float(np.linalg.norm(along))
        if size < 1e-9:
            return None
        along = along / size
        if along @ frame.z < 0:
            along = -along
        off = spine - spine[0]
        off = off - (off @ along)[:, None] * along
        if np.abs(off).max() > STRAIGHT:
            return None
        if along @ frame.z > 1 - 1e-13:
            along = frame.z
        origin = spine[0] + ((frame.origin - spine[0]) @ along) * along
        return replace(old, frame=_turned(frame, origin, along), numbers=(radius,), handle=None)
    return _torus_around(old, spine, radius)


def _torus_around(old: Surface, spine: Floats, radius: float) -> Surface | None:
    frame = old.axial
    heights = (spine - frame.origin) @ frame.z
    if np.ptp(heights) > STRAIGHT:
        return None
    flat = np.column_stack([(spine - frame.origin) @ frame.x, (spine - frame.origin) @ frame.y])
    fitted = circle_fit(flat)
    if fitted is None or old.side < 0 or fitted[1] < 1e-6:
        return None
    centre, major = fitted
    origin = frame.origin + centre[0] * frame.x + centre[1] * frame.y + heights.mean() * frame.z
    return replace(old, frame=replace(frame, origin=origin), numbers=(major, radius), handle=None)


def _turned(frame: Frame, origin: Floats, along: Floats) -> Frame:
    """The frame with another axis, turned as little as need be."""
    if along is frame.z:
        return replace(frame, origin=origin)
    x = frame.x - (frame.x @ along) * along
    x = x / np.linalg.norm(x)
    y = np.cross(along, x)
    return Frame(origin, x, y if frame.direct else -y, along)
