"""The check-up of an exact body: every flaw by kind, with where it is and how large."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np
from scipy.spatial import cKDTree

from ..kernel.analytic import analytic_surface
from ..kernel.carriers import curve_points, read_curve, read_surface
from ..kernel.classify import face_middle
from ..kernel.properties import length_properties
from ..kernel.queries import is_degenerate
from ..kernel.rebuild import rooted, tolerance_of
from ..kernel.shape_matching import twins
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.soup import facing_alike, open_edges, outline_fault, solid_of
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats, Surface
from ..local.topology import SolidTopology
from .ladder import COARSE, narrow, needless_edges, prepared, sewn, size_of, sliver_width, turned_faces, without_strays
from .patches import patches_for
from .thickness_check import uneven_walls

TOUCHING = 2e-5  # mm: borders this near meet
FAR_COARSER = 20  # times the usual tolerance
PLACES = 33  # along an open edge


@dataclass(frozen=True)
class Flaw:
    """code: as in findings.KINDS; faces, edges: numbers in the body; place: mm in the body's coordinates."""

    code: str
    place: Floats
    faces: tuple[int, ...] = ()
    edges: tuple[int, ...] = ()
    count: int = 1
    size: float | None = None


@dataclass
class _Body:
    shape: Shape
    index: ShapeIndex
    size: float
    flaws: list[Flaw] = field(default_factory=list)

    def middle(self, edge: int) -> Floats:
        curve, first, last = read_curve(self.index.get("edge", edge))
        return curve_points(curve, np.array([(first + last) / 2]))[0]


def flaws_of(shape: Shape, index: ShapeIndex | None = None) -> list[Flaw]:
    """Of a solid, an open surface or loose faces."""
    body = _Body(shape, index or ShapeIndex(shape), size_of(shape))
    faces = list(body.index.all("face"))
    gone = twins(faces)
    for number in sorted(gone):
        body.flaws.append(Flaw("duplicate face", face_middle(faces[number]), (number,)))
    bad = {n: code for n, f in enumerate(faces) if n not in gone and (code := outline_fault(f))}
    for number, code in bad.items():
        body.flaws.append(Flaw(code, face_middle(faces[number]), (number,)))
    for number, face in enumerate(faces):
        if number not in bad and number not in gone and (width := sliver_width(face)) < narrow(body.size):
            body.flaws.append(Flaw("sliver", face_middle(face), (number,), size=width))
    _short_edges(body)
    _tolerances(body)
    _borders(body, set(bad) | gone)
    _forms(body)
    for wall in uneven_walls(body.index) if parts_of(shape, "solid") else ():
        body.flaws.append(Flaw("uneven wall", wall.place, wall.faces, size=wall.thick - wall.thin))
    return body.flaws


def _short_edges(body: _Body) -> None:
    slivers = {e for f in body.flaws if f.code == "sliver" for n in f.faces for e in body.index.edges_of_faces[n]}
    for number, edge in enumerate(body.index.all("edge")):
        if number in slivers or is_degenerate(edge):
            continue
        length = length_properties(edge).amount
        if length < narrow(body.size):
            body.flaws.append(Flaw("short edge", body.middle(number), edges=(number,), size=length))


def _tolerances(body: _Body) -> None:
    claims = np.array([tolerance_of(e, "edge") for e in body.index.all("edge")])
    if not len(claims):
        return
    usual = float(np.median(claims))
    for number in np.flatnonzero(claims > max(FAR_COARSER * usual, 10 * COARSE)).tolist():
        if not is_degenerate(body.index.get("edge", number)):
            place = body.middle(number)
            body.flaws.append(Flaw("coarse tolerance", place, edges=(number,), size=float(claims[number])))


def _borders(body: _Body, left_out: set[int]) -> None:
    """Gaps, missing and turned faces, by what sewing and laying would do."""
    index = body.index
    open_ = [e for e in open_edges(index) if index.faces_of_edges[e][0] not in left_out]
    ready = prepared(body.shape, narrow(body.size))
    most = body.size / 500
    made, tolerance, count = sewn(ready.faces, most)
    if tolerance > COARSE and (apart := without_strays(ready)) is not None:
        ready = apart
        made, tolerance, count = sewn(apart.faces, COARSE)
    whole = made.shape
    missing: list[tuple[Floats, Floats, float]] = []
    if count:
        closing = patches_for(whole, ready.hints, max(1e-3, 2 * tolerance, 2 * most if "gap" in ready.dropped else 0))
        known = list(ready.hints)
        for patch in closing.patches:
            hint = next((h for h in known if _lies_on(h, patch.rim, 2 * most)), None)
            if hint is not None:
                known.remove(hint)
                continue
            missing.append((patch.place, patch.rim, patch.length))
        missing += [(x.middle, x.points, x.length) for x in closing.left]
        whole = sewn([*parts_of(whole, "face"), *(p.face for p in closing.patches)], max(most, tolerance))[0].shape
    _gaps(body, open_, np.concatenate([rim for _, rim, _ in missing]) if missing else None)
    for place, rim, length in missing:
        near = tuple(e for e in open_ if _runs_along(body, e, rim))
        body.flaws.append(Flaw("missing face", place, edges=near, size=length))
    _turned(body, whole, left_out)


def _lies_on(surface: Surface, places: Floats, within: float) -> bool:
    return bool(np.abs(surface.distance(places)[0]).max() < within)


def _samples(body: _Body, edge: int, count: int) -> Floats:
    curve, first, last = read_curve(body.index.get("edge", edge))
    return curve_points(curve, np.linspace(first, last, count))


def _runs_along(body: _Body, edge: int, rim: Floats) -> bool:
    """Whether the ends and middle of an edge are among the places of a border."""
    own = _samples(body, edge, 3)
    return bool(np.linalg.norm(rim[None] - own[:, None], axis=2).min(axis=1).max() < body.size / 500)


def _gaps(body: _Body, open_: list[int], rims: Floats | None) -> None:
    """Open edges that run beside another one."""
    if not open_:
        return
    lines = [_samples(body, e, PLACES) for e in open_]
    owner = np.repeat(np.arange(len(open_)), PLACES)
    tree = cKDTree(np.concatenate(lines))
    widths: dict[int, float] = {}
    for row, edge in enumerate(open_):
        inner = lines[row][2:-2:4]
        distance, near = tree.query(inner, k=min(PLACES + 8, len(owner)))
        other = np.where(owner[near % len(owner)] == row, np.inf, distance)
        best = other.min(axis=1)
        step = float(np.linalg.norm(np.diff(lines[row], axis=0), axis=1).max())
        if not np.isfinite(best).all() or best.max() > max(body.size / 500, step):
            continue
        exact = [_to_line(p, [lines[k] for k in set(owner[n % len(owner)].tolist()) - {row}])
                 for p, n in zip(inner, near, strict=True)]  # fmt: skip
        width = max(exact)
        if width <= body.size / 500 and not (rims is not None and width > TOUCHING and _runs_along(body, edge, rims)):
            widths[edge] = width
    loose = tuple(e for e, w in widths.items() if w <= TOUCHING)
    if loose:
        body.flaws.append(Flaw("loose border", body.middle(loose[0]), edges=loose, count=len(loose)))
    for edge, width in widths.items():
        if width > TOUCHING:
            body.flaws.append(Flaw("gap", body.middle(edge), edges=(edge,), size=width))


def _to_line(place: Floats, lines: Iterable[Floats]) -> float:
    """Distance to the nearest of some lines of places, through parabolas over three neighbours."""
    best = np.inf
    for line in lines:
        k = int(np.clip(np.argmin(np.linalg.norm(line - place, axis=1)), 1, len(line) - 2))
        a, b, c = line[k - 1], line[k], line[k + 1]
        along, bend, t = (c - a) / 2, (a + c) / 2 - b, 0.0
        for _ in range(8):
            way = along + 2 * t * bend
            t = float(np.clip(t - (b + t * along + t * t * bend - place) @ way / (way @ way), -1.0, 1.0))
        best = min(best, float(np.linalg.norm(b + t * along + t * t * bend - place)))
    return best


def _turned(body: _Body, whole: Shape, left_out: set[int]) -> None:
    alike = facing_alike(whole)
    solid = solid_of(alike)
    turned = [n for n in turned_faces(body.shape, solid or alike) if n not in left_out]
    for number in turned:
        body.flaws.append(Flaw("turned face", face_middle(body.index.get("face", number)), (number,)))
    if not turned and len(parts_of(body.shape, "solid")) == 1 and volume_properties(body.shape).amount < 0:
        body.flaws.append(Flaw("inside out", face_middle(body.index.get("face", 0))))


def _forms(body: _Body) -> None:
    """Needless edges, and spline faces that have a formula."""
    for number, face in enumerate(body.index.all("face")):
        if Surface.read(read_surface(face)).kind == "spline" and analytic_surface(face) is not None:
            body.flaws.append(Flaw("hidden form", face_middle(face), (number,)))
    if any(f.code in ("crossing outline", "unsound face") for f in body.flaws):
        return
    topology = SolidTopology(rooted(body.index))
    slivers = {n for f in body.flaws if f.code == "sliver" for n in f.faces}
    for edge in needless_edges(topology):
        if not slivers & set(topology.faces_of(edge)):
            body.flaws.append(Flaw("split face", body.middle(edge), edges=(edge,)))
