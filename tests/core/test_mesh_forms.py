"""Meshes told apart into the forms they were made from, and turned back into exact solids."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape, ShapeIndex
from ravine.core.kernel.tessellate import mesh_afresh, whole_mesh
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.topology import SolidTopology
from ravine.core.mending.from_forms import solid_from
from ravine.core.mending.mesh_regions import forms_of, regions_of
from ravine.core.model.trimesh_body import TriangleMesh
from tests.parts import mesh_model, step_file


def facetted(shape: Shape, deflection: float = 0.05, angle: float = 0.2) -> TriangleMesh:
    """As a file of single numbers brings it."""
    mesh_afresh(shape, deflection, angle)
    points, triangles = whole_mesh(shape)
    return TriangleMesh.from_soup(points.astype(np.float32).astype(float)[triangles])


def kinds_of(shape: Shape) -> Counter:
    topology = SolidTopology(ShapeIndex(shape))
    return Counter(topology.surface(f).kind for f in range(topology.index.count("face")))


PARTS = {
    "rounded block": lambda: build.fillet(build.box(40, 30, 20), 3, lambda e: True),
    "countersunk": lambda: build.subtract(
        build.box(40, 30, 20), build.cylinder(5, 50, (20, 15, -5)), build.cone(5, 9, 4, (20, 15, 16))
    ),
    "boss with rings": lambda: build.fillet(
        build.unite(build.box(60, 60, 10), build.cylinder(12, 30, (30, 30, 0))), 2, lambda e: e.kind == "circle"
    ),
    "ring": lambda: build.torus(20, 5),
    "ball": lambda: build.sphere(12),
    "turned over": lambda: build.moved(
        build.fillet(build.box(30, 20, 10), 2, lambda e: e.kind == "line" and abs(e.length - 10) < 1e-6),
        (0.36, 0.48, -0.8, 7, -0.8, 0.6, 0, 3, 0.48, 0.64, 0.6, -5),
    ),
}


@pytest.mark.parametrize("name", PARTS)
def test_a_mesh_of_a_part_is_that_part_again(name: str) -> None:
    shape = PARTS[name]()
    mesh = facetted(shape)
    parted = regions_of(mesh, forms_of(mesh, None))
    assert parted.free == 0
    assert Counter(f.surface.kind for f in parted.forms if f.surface) == kinds_of(shape)
    found = solid_from(parted.divided(mesh))
    assert found.trouble is None
    assert found.shape is not None
    assert volume_properties(found.shape).amount == pytest.approx(volume_properties(shape).amount, rel=1e-5)
    assert kinds_of(found.shape) == kinds_of(shape)


@settings(max_examples=12, deadline=None)
@given(st.floats(20, 60), st.floats(3, 8), st.floats(0.05, 0.4))
def test_a_bored_plate_comes_back_with_its_own_numbers(length: float, radius: float, angle: float) -> None:
    length, radius = round(length, 2), round(radius, 2)
    shape = build.subtract(build.box(length, 25, 10), build.cylinder(radius, 20, (length / 2, 12.5, -5)))
    mesh = facetted(shape, angle=angle)
    found = solid_from(regions_of(mesh, forms_of(mesh, None)).divided(mesh))
    exact = length * 250 - np.pi * radius**2 * 10
    assert found.shape is not None
    assert volume_properties(found.shape).amount == pytest.approx(exact, rel=1e-9)


def test_faces_of_a_mesh_are_kept_with_it() -> None:
    mesh = facetted(PARTS["boss with rings"]())
    parted = regions_of(mesh, forms_of(mesh, None)).divided(mesh)
    again = TriangleMesh.from_bytes(parted.to_bytes())
    assert [f.surface and f.surface.numbers for f in again.forms] == [
        f.surface and f.surface.numbers for f in parted.forms
    ]
    assert sum(again.face_area(f) for f in range(again.face_count)) == pytest.approx(mesh.area)
    assert TriangleMesh.from_bytes(mesh.to_bytes()).face_count == 1


def test_the_edit_makes_a_solid_that_can_be_pushed(tmp_path) -> None:
    model, body = mesh_model(tmp_path, facetted(PARTS["countersunk"]()))
    change = model.do("mesh to solid", parts=model.nodes("Part"))
    assert model.body(body).kind == "solid"
    assert change.fact("off") < 1e-5
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest()
    before = model.measure(body).volume
    model.do("push", faces=[top.id], distance=2.0)
    assert model.measure(body).volume == pytest.approx(before + 2 * top.area, rel=0.05)
    model.undo()
    model.undo()
    assert model.body(body).kind == "mesh"


def test_what_follows_no_form_is_told_with_its_place(tmp_path) -> None:
    rng = np.random.default_rng(3)
    ball = facetted(build.sphere(20), 0.5, 0.4)
    lumpy = TriangleMesh(ball.points * (1 + rng.uniform(-0.2, 0.2, (len(ball.points), 1))), ball.triangles)
    model, body = mesh_model(tmp_path, lumpy)
    with pytest.raises(EditError, match=r"follows no plane.*sections"):
        model.do("mesh to solid", parts=model.nodes("Part"))
    assert model.body(body).kind == "mesh"


def test_pushing_until_a_facet_and_until_a_face_of_a_mesh(tmp_path) -> None:
    ramp = build.extrude(build.outline([(50, 0, 0), (90, 0, 0), (90, 0, 30), (50, 0, 12)]), (0, 20, 0))
    model, mesh_body = mesh_model(tmp_path, facetted(ramp))
    mesh, face = model.geometry.get(model.body(mesh_body).shape), model.body(mesh_body).faces[0]
    block = model.do("import", path=str(step_file(tmp_path / "block.step", build.box(20, 20, 4)))).added[0]
    top = model.faces(block, kind="plane", normal=(0, 0, 1)).highest()
    slanted = [k for k, t in enumerate(mesh.corners) if np.ptp(t[:, 2]) > 1 and t[:, 2].min() > 1]
    height = float(mesh.corners[slanted[0]][:, 2].mean())
    model.do("push", faces=[top.id], until=[f"t{face}:{slanted[0]}"])
    assert model.measure(block).volume == pytest.approx(400 * height)
    with pytest.raises(EditError, match="free face of a mesh"):
        model.do("push", faces=[top.id], until=[f"f{face}"])
    with pytest.raises(EditError, match="no such facet"):
        model.do("push", faces=[top.id], until=[f"t{face}:999999"])
    model.do("recognise", parts=model.nodes("Part")[:1])
    mesh = model.geometry.get(model.body(mesh_body).shape)
    faces = dict(zip(model.body(mesh_body).faces, mesh.forms, strict=True))
    planes = {f: form.surface.axial for f, form in faces.items()}
    right = next(f for f, frame in planes.items() if abs(frame.z[0]) > 0.9 and frame.origin[0] > 80)
    wall = model.faces(block, kind="plane", normal=(1, 0, 0)).highest()
    model.do("push", faces=[wall.id], until=[f"f{right}"])
    assert model.measure(block).size[0] == pytest.approx(90)
    slope = next(f for f, frame in planes.items() if 0.1 < abs(frame.z[0]) < 0.9)
    with pytest.raises(EditError, match=r"not parallel.*facet"):
        model.do("push", faces=[wall.id], until=[f"f{slope}"])


def two_bores(lean: float, apart: float) -> Shape:
    """A fork whose bores in two cheeks should share an axis along y and do not."""
    fork = build.subtract(build.box(60, 40, 50), build.box(70, 20, 40, (-5, 10, 15)))
    axis = (0.0, np.cos(lean), np.sin(lean))
    return build.subtract(
        fork, build.cylinder(6, 12, (30, -1, 35), (0, 1, 0)), build.cylinder(6, 14, (30 + apart, 29, 35), axis)
    )


@settings(max_examples=8, deadline=None)
@given(st.floats(-0.02, 0.02), st.floats(0.05, 0.8))
def test_two_nearly_equal_axes_become_one(tmp_path_factory, lean: float, apart: float) -> None:
    folder = tmp_path_factory.mktemp("fork")
    model = Model()
    body = model.do("import", path=str(step_file(folder / "fork.step", two_bores(lean, apart)))).added[0]
    first, second = sorted(model.faces(body, kind="cylinder", radius=6), key=lambda f: f.centroid[1])
    change = model.do("line up", faces=[first.id, second.id])
    assert change.fact("apart") == pytest.approx(apart, abs=0.25)
    one, other = (model.face(f.id).axis for f in (first, second))
    assert np.linalg.norm(np.cross(one[1], other[1])) < 1e-9
    assert np.linalg.norm(np.cross(np.subtract(other[0], one[0]), one[1])) < 1e-7
    assert one == first.axis
    with pytest.raises(EditError, match="one already"):
        model.do("line up", faces=[first.id, second.id])


def test_a_whole_part_is_lined_up(tmp_path) -> None:
    model = Model()
    plate = build.subtract(build.box(40, 40, 5), build.cylinder(5, 10, (20, 20, -1)))
    body = model.do("import", path=str(step_file(tmp_path / "plate.step", plate))).added[0]
    pin = model.do(
        "import", path=str(step_file(tmp_path / "pin.step", build.cylinder(4.9, 30, (20.3, 19.8, -10))))
    ).added[0]
    hole = model.faces(body, kind="cylinder")[0]
    shaft = model.faces(pin, kind="cylinder")[0]
    model.do("line up", faces=[hole.id, shaft.id], moving="part")
    assert model.face(shaft.id).axis[0][:2] == pytest.approx((20, 20))
    assert model.measure(pin).volume == pytest.approx(np.pi * 4.9**2 * 30)
