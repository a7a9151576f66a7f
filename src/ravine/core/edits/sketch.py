"""Begin a sketch: on a plane of the model, a flat face, or a plane through what is picked."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel.queries import curve_frame, vertex_point
from ..local.surfaces import Floats
from ..model import placement
from ..model.snapshot import split_id
from ..sketch.entities import Plane, Sketch
from .axes import face_middle, picked_axis
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .shaping import matrix_of, triple, vector

STANDARD = {
    "xy": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "xz": ((1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
    "yz": ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
}
TAKES = (
    "a sketch stands on a flat face, midway between two parallel ones, through three corners, through two straight "
    "or round edges, square to an edge at a corner, or through an edge at an angle to a face"
)


@edit
class NewSketch(Edit):
    name = "sketch"
    title = "Sketch"
    sentence = "Sketch on {on} or the plane {plane} , {offset} off, turned by {angle}"
    past = "Began a sketch on {plane}"
    help = (
        "Begins a drawing in a plane: one of the model, a flat face, midway between two parallel faces, through three "
        "corners or two edges, square to an edge at a corner, or through an edge at an angle to a face.  The offset "
        "goes along the plane's normal."
    )
    stages = ("Bring in", "Shape")
    rank = 26
    drawing = "sketch"

    on: tuple[str, ...] | None = gap(
        PickGap("what it stands on", "Faces, edges or corners that give the plane.", element="face",
                also=("edge", "vertex"), maximum=3, changes=False, default=None, empty="nothing picked")
    )  # fmt: skip
    plane: str = gap(ChoiceGap("the plane", "Of the model, where nothing is picked.", default="xy",
                               options={"xy": "XY", "xz": "XZ", "yz": "YZ"}))  # fmt: skip
    offset: float = gap(LengthGap("the offset", "Along the normal of the plane.", default=0.0))
    angle: float = gap(AngleGap("the angle", "About the picked edge, from the picked face.", default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex") and not pick.mesh and pick.count <= 3

    def told(self, context: Context) -> str:
        words = "Began a sketch on "
        words += self.word("on", context) if self.on else f"the plane {self.word('plane', context)}"
        return words + (f", {self.word('offset', context)} off" if self.offset else "")

    def apply(self, work: Work) -> Outcome:
        plane = plane_through(work, self.on, self.angle) if self.on else Plane((0.0, 0.0, 0.0), *STANDARD[self.plane])
        if self.offset:
            shift = np.array(plane.origin) + self.offset * np.array(plane.normal)
            plane = Plane(triple(shift), plane.x, plane.y)
        (number,), snapshot = work.snapshot.fresh(1)
        name = f"Sketch {1 + max((_count(s.name) for s in snapshot.sketches.values()), default=0)}"
        return Outcome(snapshot.with_sketch(Sketch(number, name, plane)))


def _count(name: str) -> int:
    last = name.rsplit(" ", 1)[-1]
    return int(last) if last.isdecimal() and len(last) < 9 else 0


def plane_through(work: Work, picked: tuple[str, ...], angle: float = 0.0) -> Plane:
    """Raises EditError for picks that give no plane."""
    kinds = sorted(split_id(p)[0] for p in picked)
    faces = [p for p in picked if p[0] == "f"]
    edges = [p for p in picked if p[0] == "e"]
    corners = [_corner(work, p) for p in picked if p[0] == "v"]
    if kinds == ["face"]:
        return _upright(*_flat_face(work, faces[0]))
    if kinds == ["face", "face"]:
        (p, n), (q, m) = (_flat_face(work, f) for f in faces)
        if abs(float(n @ m)) < 1 - 1e-9:
            raise EditError("the two faces are not parallel, so there is no plane midway", picked, field="on")
        return _upright((p + (p + float((q - p) @ n) * n)) / 2, n)
    if kinds == ["vertex"] * 3:
        a, b, c = corners
        normal = np.cross(b - a, c - a)
        if np.linalg.norm(normal) < 1e-9:
            raise EditError("the three corners lie on one line", picked, field="on")
        return _along(a, b - a, normal)
    if kinds == ["edge", "edge"]:
        (p, u), (q, v) = (_line(work, e) for e in edges)
        normal = np.cross(u, v)
        if np.linalg.norm(normal) < 1e-9:
            normal = np.cross(u, q - p)
        size = float(np.linalg.norm(normal))
        if size < 1e-9 or abs(float((q - p) @ normal)) > 1e-6 * size:
            raise EditError("no plane runs through the two edges", picked, field="on")
        return _along(p, u, normal)
    if kinds == ["edge", "vertex"]:
        body, index = work.snapshot.owner_of("edge", split_id(edges[0])[1])
        matrix = matrix_of(work.snapshot, body)
        inside = placement.point(placement.inverse(matrix), corners[0].tolist())
        at, along = curve_frame(work.geometry.solid(body.shape).index.get("edge", index), inside)
        return _upright(vector(placement.point(matrix, at)), vector(placement.direction(matrix, along)))
    if kinds == ["edge", "face"]:
        point, way = _line(work, edges[0])
        _, normal = _flat_face(work, faces[0])
        if abs(float(way @ normal)) > 1e-6:
            raise EditError("the edge does not lie in the face", picked, field="on")
        turned = math.cos(angle) * normal + math.sin(angle) * np.cross(way, normal)
        return _along(point, way, turned)
    raise EditError(TAKES, picked, field="on")


def _corner(work: Work, ident: str) -> Floats:
    body, index = work.snapshot.owner_of("vertex", split_id(ident)[1])
    place = vertex_point(work.geometry.solid(body.shape).index.get("vertex", index))
    return vector(placement.point(matrix_of(work.snapshot, body), place))


def _line(work: Work, edge: str) -> tuple[Floats, Floats]:
    """A point and the direction of a straight edge, or of the axis of a round one."""
    found = picked_axis(work, edge)
    assert found.direction is not None  # only a corner has none
    return found.point, found.direction


def _flat_face(work: Work, ident: str) -> tuple[Floats, Floats]:
    body, index = work.snapshot.owner_of("face", split_id(ident)[1])
    if work.geometry.solid(body.shape).fabric.surface(index).kind != "plane":
        raise EditError(f"face {ident} is not flat; {TAKES}", [ident], field="on")
    return face_middle(work, ident)


def _upright(point: Floats, normal: Floats) -> Plane:
    """Its x level, where that says anything; the origin of the model, dropped on to it, in its middle."""
    z = normal / np.linalg.norm(normal)
    level = np.cross([0.0, 0.0, 1.0], z)
    x = level / np.linalg.norm(level) if np.linalg.norm(level) > 1e-9 else np.array([1.0, 0.0, 0.0])
    origin = float(point @ z) * z
    return Plane(triple(origin), triple(x), triple(np.cross(z, x)))


def _along(point: Floats, x: Floats, normal: Floats) -> Plane:
    x, z = x / np.linalg.norm(x), normal / np.linalg.norm(normal)
    return Plane(triple(point), triple(x), triple(np.cross(z, x)))
