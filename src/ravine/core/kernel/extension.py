"""B-spline surfaces carried on beyond their borders.

The last polynomial pieces simply run on: parameters and places inside the old bounds stay exactly what they were, and
no new knot is needed.  New poles are values of the pieces' polar forms (blossoms), see L. Ramshaw, "Blossoms are
polar forms", Computer Aided Geometric Design 6 (1989), evaluated with de Boor's scheme.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from OCP.Geom import Geom_BSplineSurface, Geom_OffsetSurface, Geom_RectangularTrimmedSurface

from .carriers import Floats, GeomHandle
from .spline_net import SplineNet

Box = tuple[float, float, float, float]

BENDS_TOO_MUCH = 0.5  # cosine between the normals at the old border and the new one
HALVINGS = 4


def basis_of(handle: GeomHandle) -> tuple[GeomHandle, float]:
    """A surface offset from another one: that one, and how far it runs along its natural normal."""
    offset = 0.0
    while isinstance(handle, Geom_OffsetSurface | Geom_RectangularTrimmedSurface):
        offset += handle.Offset() if isinstance(handle, Geom_OffsetSurface) else 0.0
        handle = handle.BasisSurface()
    return handle, offset


def extended(handle: GeomHandle, box: Box, length: float) -> GeomHandle:
    """The surface with room of about `length` mm around a face that takes up `box` (u, u, v, v) of its parameters.

    The very handle where nothing is wanting, where it is no B-spline, and along closed, periodic or collapsed
    borders.  A border that would curl up when carried on gets less room.
    """
    net = SplineNet.read(handle) if isinstance(handle, Geom_BSplineSurface) else None
    if net is None:
        return handle
    changed = False
    for along, closed in enumerate((handle.IsUClosed(), handle.IsVClosed())):
        for end in (0, 1) if not closed and not net.periods[along] else ():
            step = _wanted(net, along, end, box, length)
            for _ in range(HALVINGS if step > 0 else 0):
                longer = _carried_on(net, along, end, step)
                if longer is not None and _is_tame(net, longer, along, end):
                    net, changed = longer, True
                    break
                step /= 2
    return net.surface() if changed else handle


def _border(net: SplineNet, along: int, end: int) -> Floats:
    """Parameters (5, 2) of spots along a border."""
    uv = np.empty((5, 2))
    uv[:, along] = net.bounds[2 * along + end]
    uv[:, 1 - along] = np.linspace(net.bounds[2 - 2 * along], net.bounds[3 - 2 * along], 5)
    return uv


def _wanted(net: SplineNet, along: int, end: int, box: Box, length: float) -> float:
    """In parameters; 0 where there is room, or where the border has shrunk to a point."""
    places, *slopes = net.at(_border(net, along, end), 1)
    speed = float(np.linalg.norm(slopes[along], axis=1).mean())
    if speed < 1e-9 or float(np.ptp(places, axis=0).max()) < 1e-6:
        return 0.0
    room = abs(net.bounds[2 * along + end] - box[2 * along + end])
    return max(length / speed - room, 0.0) if room < 0.5 * length / speed else 0.0


def _carried_on(net: SplineNet, along: int, end: int, step: float) -> SplineNet | None:
    """None where a weight would vanish."""
    rows = np.moveaxis(net.poles, along, 0)
    knots, degree = net.knots[along], net.degrees[along]
    if end == 0:  # as the far end of the surface read backwards
        rows, knots = rows[::-1], -knots[::-1]
    longer = knots.copy()
    longer[-degree - 1 :] += step
    span = len(rows) - 1
    found = rows.copy()
    for i in range(len(rows) - degree, len(rows)):
        found[i] = _blossom(rows, knots, degree, span, longer[i + 1 : i + 1 + degree])
    if found[..., 3].min() < 1e-3 * found[..., 3].max():
        return None
    if end == 0:
        found, longer = found[::-1], -longer[::-1]
    both = (longer, net.knots[1]) if along == 0 else (net.knots[0], longer)
    return replace(net, poles=np.moveaxis(found, 0, along), knots=both)


def _is_tame(before: SplineNet, after: SplineNet, along: int, end: int) -> bool:
    """Whether the normals at the new border still look about where those at the old one do."""
    old, new = (net.normals(_border(net, along, end))[1] for net in (before, after))
    return bool(np.einsum("ij,ij->i", old, new).min() > BENDS_TOO_MUCH)


def _blossom(poles: Floats, knots: Floats, degree: int, span: int, arguments: Floats) -> Floats:
    """Polar form of the piece of poles span-degree … span, at `degree` arguments (de Boor with one each stage)."""
    work = poles[span - degree : span + 1].copy()
    for r, u in enumerate(arguments, 1):
        for j in range(degree, r - 1, -1):
            i = span - degree + j
            share = (u - knots[i]) / (knots[i + degree + 1 - r] - knots[i])
            work[j] = (1 - share) * work[j - 1] + share * work[j]
    result: Floats = work[degree]
    return result
