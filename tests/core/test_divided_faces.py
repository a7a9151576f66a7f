"""Faces divided every way that there is, twisted ends, and holes of meshes closed: sums that have to stay, and volumes
from formulas."""

from __future__ import annotations

import math
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.mending.mesh_holes import MOST_EXACT, hole_triangles
from ravine.core.model.trimesh_body import TriangleMesh
from tests.parts import mesh_model, model_of, step_file

X, Y, Z = 40.0, 30.0, 20.0


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """A block with a round edge and a bore, and a second part whose outline can divide."""
    folder = tmp_path_factory.mktemp("divided")
    shape = build.subtract(build.box(X, Y, Z), build.cylinder(4, Z + 2, (10, 15, -1)))
    shape = build.fillet(
        shape, 3, lambda e: e.kind == "line" and abs(e.middle[1]) < 1e-6 and abs(e.middle[2] - Z) < 1e-6
    )
    model = model_of(folder, shape, "Block")[0]
    model.do("import", path=str(step_file(folder / "bar.step", build.box(8, 60, 60, (22, -10, -10)), "Bar")))
    return model


@pytest.fixture
def model(made):
    return Model(snapshot=made.snapshot, geometry=made.geometry)


def block(model):
    return next(b for b in model.bodies() if model.body(b).name == "Block")


def face(model, way):
    return model.faces(block(model), kind="plane", normal=way).highest(way).id


def corner(model, place):
    return min(model.vertices(block(model)), key=lambda v: math.dist(v.point, place)).id


def edge(model, place):
    return min(model.edges(block(model)), key=lambda e: math.dist(e.middle, place)).id


def areas(model):
    return sorted(f.area for f in model.faces(block(model)))


TOP = (0, 0, 1)
WAYS = {
    "across": ("top", {"way": "across", "share": "0.7"}, 1),
    "along": ("top", {"way": "along", "share": "0.8"}, 1),
    "by a plane through a face": ("front", {"way": "plane", "tool": lambda m: [m.faces(m.bodies()[1], normal=(1, 0, 0))
                                                                             .largest().id]}, 1),
    "between corners": ("back", {"way": "corners", "tool": lambda m: [corner(m, (0, Y, 0)), corner(m, (X, Y, Z))]}, 1),
    "square to an edge": ("back", {"way": "square", "tool": lambda m: [edge(m, (X / 2, Y, 0))], "share": "0.25"}, 1),
    "by the outline of a part": ("back", {"way": "part", "tool": lambda m: m.nodes("Bar")}, 2),
    "a round face across": ("round", {"way": "across", "share": "0.5"}, 1),
    "a bore along": ("bore", {"way": "along", "share": "0.5"}, 1),
}  # fmt: skip


def picked(model, what):
    if what == "round":
        return max((f for f in model.faces(block(model), kind="cylinder")), key=lambda f: abs(f.axis[1][0])).id
    if what == "bore":
        return max((f for f in model.faces(block(model), kind="cylinder")), key=lambda f: abs(f.axis[1][2])).id
    return face(model, {"top": TOP, "front": (0, -1, 0), "back": (0, 1, 0)}[what])


@pytest.mark.parametrize("name", WAYS)
def test_a_face_is_divided_and_nothing_else_changes(model, name):
    """Its pieces add up to it, all other areas and the volume are those of before."""
    what, values, more = WAYS[name]
    values = {k: v(model) if callable(v) else v for k, v in values.items()}
    target = picked(model, what)
    whole, others = model.face(target).area, areas(model)
    others.remove(whole)
    before, volume = {f.id for f in model.faces(block(model))}, model.measure(block(model)).volume
    model.do("split face", faces=[target], **values)
    pieces = [f for f in model.faces(block(model)) if f.id not in before or f.id == target]
    assert len(model.faces(block(model))) == len(before) + more
    assert sum(f.area for f in pieces) == pytest.approx(whole, rel=1e-9)
    rest = sorted(f.area for f in model.faces(block(model)) if f.id not in {p.id for p in pieces})
    assert rest == pytest.approx(others, rel=1e-9)
    assert model.measure(block(model)).volume == pytest.approx(volume, rel=1e-12)


@given(st.floats(0.03, 0.97))
@settings(max_examples=12, deadline=None)
def test_a_share_is_the_share_of_the_way(made, share):
    model = Model(snapshot=made.snapshot, geometry=made.geometry)
    back = face(model, (0, 1, 0))
    known = {f.id for f in model.faces(block(model))}
    model.do("split face", faces=[back], way="square", tool=[edge(model, (X / 2, Y, 0))], share=f"{share!r}")
    parts = sorted(f.area for f in model.faces(block(model)) if f.id == back or f.id not in known)
    assert parts == pytest.approx(sorted([share * X * Z, (1 - share) * X * Z]), rel=1e-6)


REFUSED = [
    ({"way": "corners", "tool": lambda m: [edge(m, (X / 2, Y, 0))]}, "takes two corners"),
    ({"way": "corners", "tool": lambda m: [corner(m, (0, Y, 0)), corner(m, (0, 0, 0))]}, "lie behind one another"),
    ({"way": "square", "tool": lambda m: [corner(m, (0, Y, 0))]}, "takes one edge"),
    ({"way": "part", "tool": lambda m: m.nodes("Block")}, "pick another part whose outline"),
    ({"way": "plane", "tool": lambda m: [face(m, (0, 1, 0))]}, "does not run across the picked faces"),
]


@pytest.mark.parametrize(("values", "words"), REFUSED, ids=[w for _, w in REFUSED])
def test_what_does_not_divide_a_face_is_refused(model, values, words):
    asked = {k: v(model) if callable(v) else v for k, v in values.items()}
    with pytest.raises(EditError, match=words):
        model.do("split face", faces=[face(model, (0, 1, 0))], **asked)


# --- twisted -----------------------------------------------------------------------------------------------------


@given(st.floats(-300, 300).filter(lambda a: abs(a) > 3))
@settings(max_examples=8, deadline=None)
def test_a_twisted_bar_keeps_its_volume_and_turns_its_end(angle):
    """Cavalieri: every section stays the same."""
    with TemporaryDirectory() as folder:
        model, body = model_of(Path(folder), build.box(14, 8, 50, (-7, -4, 0)), "Bar")
    end = model.faces(body, normal=TOP).highest().id
    model.do("twist", face=[end], angle=f"{angle!r}°")
    body = model.bodies()[0]
    assert model.measure(body).volume == pytest.approx(14 * 8 * 50, rel=1e-5)
    assert model.face(end).area == pytest.approx(14 * 8, rel=1e-9)
    turn = math.radians(angle)
    wanted = {(round(math.cos(turn) * x - math.sin(turn) * y, 4), round(math.sin(turn) * x + math.cos(turn) * y, 4))
              for x in (-7, 7) for y in (-4, 4)}  # fmt: skip
    found = {(round(v.point[0], 4), round(v.point[1], 4)) for v in model.vertices(body) if v.point[2] > 49}
    assert all(min(math.dist(w, f) for f in found) < 2e-4 for w in wanted)


def test_an_end_turns_about_an_axis_beside_it(tmp_path):
    shape = build.unite(build.box(60, 40, 6), build.box(8, 8, 20, (10, 10, 6)))
    model, body = model_of(tmp_path, build.subtract(shape, build.cylinder(3, 10, (45, 20, -1))), "Post")
    end, volume = model.faces(body, normal=TOP).highest().id, model.measure(body).volume
    bore = model.faces(body, kind="cylinder")[0].id
    model.do("twist", face=[end], angle="5°", axis=[bore])
    assert model.measure(model.bodies()[0]).volume == pytest.approx(volume, rel=1e-5)
    middle = model.face(end).centroid
    off = np.subtract((14, 14), (45, 20))
    c, s = math.cos(math.radians(5)), math.sin(math.radians(5))
    assert middle[:2] == pytest.approx((45 + c * off[0] - s * off[1], 20 + s * off[0] + c * off[1]), abs=1e-6)
    with pytest.raises(EditError, match="does not stand square"):
        model.do("twist", face=[end], angle="5°", axis=[model.edges(model.bodies()[0], direction=(1, 0, 0))[0].id])


# --- holes of meshes ---------------------------------------------------------------------------------------------


def ring_of(count, wave=0.0):
    t = np.linspace(0, 2 * math.pi, count, endpoint=False)
    return np.column_stack([np.cos(t), np.sin(t), wave * np.cos(3 * t)])


@pytest.mark.parametrize("count", [3, 4, 9, 40, MOST_EXACT, MOST_EXACT + 1, 400])
@pytest.mark.parametrize("wave", [0.0, 0.2])
def test_a_hole_is_filled_by_what_its_ring_bounds(count, wave):
    """As many triangles as a polygon has, every border edge once and run like the ring; of a flat ring, its area."""
    points, ring = ring_of(count, wave), np.arange(count)
    found = hole_triangles(points, ring)
    assert found.shape == (count - 2, 3)
    sides = [(int(t[k]), int(t[(k + 1) % 3])) for t in found for k in range(3)]
    assert len(set(sides)) == len(sides), "no edge is run twice the same way"
    border = [s for s in sides if s[::-1] not in set(sides)]
    assert sorted(border) == sorted((k, (k + 1) % count) for k in range(count))
    if not wave:
        area = np.linalg.norm(np.cross(points[found[:, 1]] - points[found[:, 0]],
                                       points[found[:, 2]] - points[found[:, 0]]), axis=1).sum() / 2  # fmt: skip
        assert area == pytest.approx(count * math.sin(2 * math.pi / count) / 2, rel=1e-9)


@pytest.mark.parametrize("subdivisions", [2, 4])
def test_a_ball_with_a_hole_is_closed_again(tmp_path, subdivisions):
    """The cap is level where the hole was cut, as the hull of what is left has it (its ring is not quite flat)."""
    ball = trimesh.creation.icosphere(subdivisions, 10)
    keep = ball.triangles_center[:, 2] < 8
    open_ = trimesh.Trimesh(ball.vertices, ball.faces[keep])
    model, _ = mesh_model(tmp_path, TriangleMesh(open_.vertices, open_.faces), "Ball")
    model.do("mend", parts=model.nodes())
    mended = model.geometry.get(next(iter(model.snapshot.bodies.values())).shape)
    closed = trimesh.Trimesh(mended.points, mended.triangles)
    assert closed.is_watertight
    assert closed.is_winding_consistent
    assert closed.volume == pytest.approx(open_.convex_hull.volume, rel=0.01)
