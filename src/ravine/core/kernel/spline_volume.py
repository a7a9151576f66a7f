"""Volume, centroid and inertia under faces on spline surfaces, or with spline edges.

The kernel integrates such a face as if it were one smooth piece, which leaves errors of percents where the surface is
rational, has several spans, or is offset from such a one, and of some 1e-4 under a bore that crosses another one.
Here the volume of the cone from the origin to the face is an integral over the face's region of the parameters, turned
into one along its border (Green's theorem), with Gauss points between the knots of both surface and border.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepGProp import BRepGProp_Domain, BRepGProp_Face, BRepGProp_Vinert
from OCP.Geom import Geom_BSplineSurface, Geom_Plane
from OCP.Geom2d import Geom2d_BSplineCurve, Geom2d_Line, Geom2d_TrimmedCurve
from OCP.GeomAbs import GeomAbs_BSplineCurve
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_FORWARD

from .carriers import is_reversed, surface_data
from .classify import parameter_box
from .extension import basis_of
from .rebuild import subshapes, wires_of
from .shapes import Shape, as_edge, as_face, parts_of
from .spline_net import SplineNet
from .turned_net import TurnedNet

Floats = NDArray[np.float64]
ALONG, INWARDS = np.polynomial.legendre.leggauss(8), np.polynomial.legendre.leggauss(10)
Net = SplineNet | TurnedNet
SHORT, MANY = np.polynomial.legendre.leggauss(4), 8  # for the pieces of a border that has many, each so much shorter
MOMENTS = 10  # 1, x, y, z, xx, yy, zz, xy, xz, yz
PAIRS = ((0, 0), (1, 1), (2, 2), (0, 1), (0, 2), (1, 2))


def cone_moments(faces: Sequence[Shape]) -> Floats | None:
    """(10,): integrals of 1, x, y, z, xx, yy, zz, xy, xz, yz over the matter that these faces bound (mm³ and up), each
    counted from the origin; None when the kernel integrates all of them well by itself."""
    nets = [hard_net(face) for face in faces]
    if not any(nets):
        return None
    total = np.zeros(MOMENTS)
    for face, net in zip(faces, nets, strict=True):
        mine = None if net is None else moments_under(face, *net)
        total += _by_kernel(face) if mine is None else mine
    return total


def cone_volume(face: Shape) -> float:
    """mm³ between the origin and a face, positive where the face looks away from it."""
    net = hard_net(face)
    found = None if net is None else moments_under(face, *net, wanted=1)
    return float(_weighed(face).Mass() if found is None else found[0])


def _weighed(face: Shape) -> BRepGProp_Vinert:
    return BRepGProp_Vinert(BRepGProp_Face(as_face(face)), BRepGProp_Domain(as_face(face)), gp_Pnt(0, 0, 0))


def _by_kernel(face: Shape) -> Floats:
    props = _weighed(face)
    mass = props.Mass()
    if mass == 0:
        return np.zeros(MOMENTS)  # the face looks along the ray from the origin: its cone is flat
    at, matrix = props.CentreOfMass(), props.MatrixOfInertia()
    middle = np.array((at.X(), at.Y(), at.Z()))
    inertia = np.array([[matrix.Value(i, j) for j in (1, 2, 3)] for i in (1, 2, 3)])
    second = np.trace(inertia) / 2 * np.eye(3) - inertia + mass * np.outer(middle, middle)
    return np.array([mass, *(mass * middle), *(second[i, j] for i, j in PAIRS)])


def hard_net(face: Shape) -> tuple[Net, float] | None:
    """The surface of a face that the kernel integrates badly, with its offset; None for all others."""
    handle, offset = basis_of(BRep_Tool.Surface_s(as_face(face)))
    if isinstance(handle, Geom_BSplineSurface):
        net = SplineNet.read(handle)
        return None if net is None else (net, offset)
    if not any(_is_spline(e) for e in parts_of(face, "edge")):
        return None
    if isinstance(handle, Geom_Plane):
        return _patch(face, handle), 0.0
    data = surface_data(handle)
    return None if offset or data.frame is None else (TurnedNet(data.kind, data.frame, data.numbers), 0.0)


def _is_spline(edge: Shape) -> bool:
    return BRepAdaptor_Curve(as_edge(edge)).GetType() == GeomAbs_BSplineCurve


def _patch(face: Shape, plane: Geom_Plane) -> SplineNet:
    """A plane as a net over the parameters of a face on it, a little wide."""
    u0, u1, v0, v1 = parameter_box(face)
    slack = 0.01 * max(u1 - u0, v1 - v0)
    u, v = (u0 - slack, u1 + slack), (v0 - slack, v1 + slack)
    poles = np.ones((2, 2, 4))
    for i in range(2):
        for j in range(2):
            place = plane.Value(u[i], v[j])
            poles[i, j, :3] = (place.X(), place.Y(), place.Z())
    return SplineNet(poles, (np.repeat(u, 2), np.repeat(v, 2)), (1, 1), (0.0, 0.0))


def moments_under(face: Shape, net: Net, offset: float, wanted: int = MOMENTS) -> Floats | None:
    """(10,): integrals of 1, x, y, z, xx, yy, zz, xy, xz, yz over the cone from the origin to the face, positive where
    the face looks away from it; or the first `wanted` of them.  None where an edge has no curve on the surface."""
    forward = as_face(face.Oriented(TopAbs_FORWARD))
    nodes, weights = [], []
    for wire in wires_of(forward):
        for edge in subshapes(wire):
            found = _border(edge, forward, net)
            if found is None:
                return None
            nodes.append(found[0])
            weights.append(-found[1] if is_reversed(wire) else found[1])
    uv, dv = np.concatenate(nodes), np.concatenate(weights)
    counts = np.abs(dv) > 1e-15 * np.abs(dv).max(initial=0.0)  # not where a border runs straight across
    uv, dv = uv[counts], dv[counts]
    if not len(uv):
        return np.zeros(wanted)
    total = (_inwards(net, offset, uv, wanted) * dv[:, None]).sum(axis=0)
    return -total if is_reversed(face) else total


def _border(edge: Shape, face: Shape, net: Net) -> tuple[Floats, Floats] | None:
    """Gauss points (n, 2) along an edge as the face runs it, and dv with their weights (n,)."""
    first, last = BRep_Tool.Range_s(as_edge(edge))
    curve = BRep_Tool.CurveOnSurface_s(as_edge(edge), face, 0.0, 0.0)
    if curve is None:
        return None
    cuts = {first, last}
    basis = curve.BasisCurve() if isinstance(curve, Geom2d_TrimmedCurve) else curve
    if isinstance(basis, Geom2d_BSplineCurve):
        cuts |= {k for k in (basis.Knot(i + 1) for i in range(basis.NbKnots())) if first < k < last}
    else:
        ends = [curve.Value(t).Y() for t in (first, last)]
        if abs(ends[1] - ends[0]) > 1e-12:  # straight in the parameters: where it passes the knots across
            passed = (np.unique(net.knots[1]) - ends[0]) / (ends[1] - ends[0])
            cuts |= {first + s * (last - first) for s in passed if 1e-9 < s < 1 - 1e-9}
        cuts.add((first + last) / 2)
    rows = np.array(sorted(cuts))
    a, b = rows[:-1, None], rows[1:, None]
    gauss, shares = ALONG if len(rows) <= MANY else SHORT
    t = ((a + b) / 2 + (b - a) / 2 * gauss).reshape(-1)
    weight = ((b - a) / 2 * shares).reshape(-1)
    if isinstance(basis, Geom2d_Line):
        start, end = curve.Value(first), curve.Value(last)
        step = np.array((end.X() - start.X(), end.Y() - start.Y())) / (last - first)
        uv = np.array((start.X(), start.Y())) + (t - first)[:, None] * step
        return uv, weight * step[1] * (-1.0 if is_reversed(edge) else 1.0)
    uv, slope = np.empty((len(t), 2)), np.empty(len(t))
    for i, value in enumerate(t.tolist()):
        place, way = curve.Value(value), curve.DN(value, 1)
        uv[i] = (place.X(), place.Y())
        slope[i] = way.Y()
    return uv, weight * slope * (-1.0 if is_reversed(edge) else 1.0)


def _inwards(net: Net, offset: float, uv: Floats, wanted: int) -> Floats:
    """(n, wanted): integrals over u from the surface's lower bound to each point, at its v."""
    knots = np.unique(net.knots[0])
    period = net.periods[0]
    low = float(knots[0])
    if period:
        low += period * np.floor((uv[:, 0].min() - low) / period + 1e-9)
        turns = int(np.ceil((uv[:, 0].max() - low) / period + 1e-9))
        knots = np.unique(np.concatenate([knots + low - knots[0] + k * period for k in range(max(turns, 1))]))
    total = np.zeros((len(uv), wanted))
    for start, end in itertools.pairwise(knots):
        a, b = np.full(len(uv), start), np.clip(uv[:, 0], start, end)
        live = np.flatnonzero(b - a > 1e-14)
        if not len(live):
            continue
        half = (b[live] - a[live])[:, None] / 2
        u = (a[live] + b[live])[:, None] / 2 + half * INWARDS[0]
        spots = np.column_stack([u.reshape(-1), np.repeat(uv[live, 1], u.shape[1])])
        values = _density(net, offset, spots, wanted).reshape(*u.shape, wanted)
        total[live] += (values * (half * INWARDS[1])[..., None]).sum(axis=1)
    return total


def _density(net: Net, offset: float, uv: Floats, wanted: int) -> Floats:
    """(n, wanted), by unit of the parameters."""
    place, du, dv, *bent = net.at(uv, 2 if offset else 1)
    across = np.cross(du, dv)
    if offset:
        duu, duv, dvv = bent
        size = np.linalg.norm(across, axis=1, keepdims=True)
        normal = across / np.maximum(size, 1e-300)
        e, f, g = (np.einsum("ni,ni->n", *pair) for pair in ((du, du), (du, dv), (dv, dv)))
        bends = [np.einsum("ni,ni->n", second, normal) for second in (duu, duv, dvv)]
        det = np.maximum(e * g - f * f, 1e-300)
        mean = (bends[0] * g - 2 * bends[1] * f + bends[2] * e) / (2 * det)
        gauss = (bends[0] * bends[2] - bends[1] ** 2) / det
        place = place + offset * normal
        across = across * (1 - 2 * offset * mean + offset**2 * gauss)[:, None]
    cone = np.einsum("ni,ni->n", place, across)
    if wanted == 1:
        return cone[:, None] / 3
    second = np.stack([place[:, i] * place[:, j] for i, j in PAIRS], axis=1)
    return np.column_stack([cone / 3, place * cone[:, None] / 4, second * cone[:, None] / 5])
