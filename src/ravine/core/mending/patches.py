"""Faces laid into open borders."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..kernel.carriers import read_surface
from ..kernel.shapes import Shape, ShapeIndex
from ..kernel.soup import bent_into, border_loops, face_over, face_within
from ..local.surfaces import Floats, Surface
from ..sketch.regions import covers
from .loops import Loop, Lost, Search, read_loop, winding

TURN = 2 * np.pi


@dataclass(frozen=True)
class Patch:
    """kind: of its surface; place: its middle (mm); rim: places (n, 3) along its border; length: of that (mm)."""

    face: Shape
    kind: str
    place: Floats
    rim: Floats
    length: float


@dataclass(frozen=True)
class Closing:
    """patches: one for each face that was missing; left: loops that nothing fits into."""

    patches: tuple[Patch, ...]
    left: tuple[Loop, ...]


def patches_for(shape: Shape, hints: Sequence[Surface] = (), close: float = 1e-3) -> Closing:
    """What closes the open borders of sewn faces."""
    index = ShapeIndex(shape)
    closed, broken = border_loops(shape)
    loops = [read_loop(index, w) for w in closed]
    surfaces = [Surface.read(read_surface(f)) for f in index.all("face")]
    search = Search(surfaces, hints, close)
    odd = search.assign(loops)
    patches: list[Patch] = []
    left = [read_loop(index, w) for w in broken]
    for lost in search.lost:
        for group in regions_within(lost):
            face = laid(lost.surface, group)
            if face is None:
                odd += group
            else:
                patches.append(_told(face, lost.surface.kind, group))
    for loop in odd:
        sides = [(e, index.get("face", b) if b >= 0 else None) for e, b in zip(loop.edges, loop.beside, strict=True)]
        face = bent_into(sides) or bent_into([(e, None) for e, _ in sides])
        if face is None:
            left.append(loop)
        else:
            patches.append(_told(face, "spline", [loop]))
    return Closing(tuple(patches), tuple(left))


def _told(face: Shape, kind: str, loops: Sequence[Loop]) -> Patch:
    return Patch(face, kind, loops[0].middle, np.concatenate([x.points for x in loops]), sum(x.length for x in loops))


def regions_within(lost: Lost) -> list[list[Loop]]:
    """Loops of one surface by the faces that they bound: the outer one first, or the two ends of a band."""
    surface = lost.surface
    if surface.kind == "plane":
        return _nested(surface, list(lost.loops))
    around = [x for x in lost.loops if winding(surface, x) != (0, 0)]
    apart = [x for x in lost.loops if winding(surface, x) == (0, 0)]
    rows = _nested(surface, apart)
    way = 1 if not around or winding(surface, around[0])[0] else 0
    around.sort(key=lambda x: float(surface.parameters(x.points)[:, way].mean()))
    if surface.kind == "torus" and len(around) == 2:
        return [around, *rows]
    return [around[i : i + 2] for i in range(0, len(around), 2)] + rows


def _nested(surface: Surface, loops: list[Loop]) -> list[list[Loop]]:
    """Outer loops, each with the holes right inside it."""
    flat = [_outline(surface, x) for x in loops]
    sizes = [abs(_area(f)) for f in flat]
    inside = [
        [k for k in range(len(loops)) if k != i and sizes[k] > sizes[i] and covers(flat[k], flat[i][0])]
        for i in range(len(loops))
    ]
    found = []
    for i, around in enumerate(inside):
        if len(around) % 2 == 0:
            holes = [k for k in range(len(loops)) if i in inside[k] and len(inside[k]) == len(around) + 1]
            found.append([loops[i], *(loops[k] for k in holes)])
    return found


def _outline(surface: Surface, loop: Loop) -> Floats:
    """Parameters (n, 2) along the loop, in its order."""
    rows = list(loop.rows)
    line = [rows.pop(0)]
    while rows:
        tip = line[-1][-1]
        k, turned = min(
            ((k, t) for k in range(len(rows)) for t in (False, True)),
            key=lambda o: float(np.linalg.norm(rows[o[0]][-1 if o[1] else 0] - tip)),
        )
        row = rows.pop(k)
        line.append(row[::-1] if turned else row)
    uv = surface.parameters(np.concatenate(line))
    return uv


def _area(ring: Floats) -> float:
    x, y = ring.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def laid(surface: Surface, loops: Sequence[Loop]) -> Shape | None:
    """The face of a surface inside loops, the outer one first, or all around between two."""
    if surface.kind != "plane" and len(loops) <= 2 and all(_level(surface, x) is not None for x in loops):
        return _band(surface, loops)
    surface = _seam_beside(surface, loops)
    bounds = _rectangle(surface, loops[0]) if len(loops) == 1 else None
    if bounds is not None:
        return face_over(surface.kernel, bounds)
    return face_within(surface.kernel, [x.wire for x in loops], max(x.on(surface) for x in loops))


def _rectangle(surface: Surface, loop: Loop) -> tuple[float, float, float, float] | None:
    """Lowest and highest parameters of a loop that runs along them all the way."""
    if surface.kind in ("plane", "spline"):
        return None
    uv = _outline(surface, loop)
    low, high = uv.min(axis=0), uv.max(axis=0)
    off = np.minimum(np.abs(uv - low), np.abs(uv - high)).min(axis=1)
    return (low[0], high[0], low[1], high[1]) if off.max() < 1e-6 and (high - low).min() > 1e-6 else None


def _seam_beside(surface: Surface, loops: Sequence[Loop]) -> Surface:
    """The same surface, its parameters counted so that the seam lies opposite the loops."""
    if surface.kind in ("plane", "spline"):
        return surface
    u = _outline(surface, loops[0])[:, 0]
    if np.ptp(u) > TURN - 1e-6:
        return surface
    middle, frame = (u.min() + u.max()) / 2 + np.pi, surface.axial
    x = np.cos(middle) * frame.x + np.sin(middle) * frame.y
    y = np.cos(middle) * frame.y - np.sin(middle) * frame.x
    return replace(surface, frame=replace(frame, x=x, y=y), handle=None)


def _level(surface: Surface, loop: Loop) -> float | None:
    """The second parameter of a loop that runs all around along a circle of the surface."""
    if winding(surface, loop) == (0, 0) or winding(surface, loop)[1]:
        return None
    v = surface.parameters(loop.points)[:, 1]
    v = np.unwrap(v, period=surface.periods[1]) if surface.periods[1] else v
    return float(v.mean()) if np.ptp(v) < 1e-4 else None


def _band(surface: Surface, loops: Sequence[Loop]) -> Shape | None:
    """All around between two circles, or from one to the pole or tip."""
    levels = sorted(level for x in loops if (level := _level(surface, x)) is not None)
    if len(levels) == 1:
        if surface.kind == "sphere":
            levels = [levels[0], np.pi / 2] if levels[0] > 0 else [-np.pi / 2, levels[0]]
        elif surface.kind == "cone":
            tip = -surface.numbers[0] / np.sin(surface.numbers[1])
            levels = sorted([levels[0], tip])
        else:
            return None
    low, high = levels
    if surface.kind == "torus" and high - low > np.pi:
        low, high = high, low + TURN
    return face_over(surface.kernel, (0, TURN, low, high))
