"""Forms in noisy meshes, against what they were made of."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape
from ravine.core.kernel.tessellate import mesh_afresh, whole_mesh
from ravine.core.mending.form_fitting import recognised
from ravine.core.model.trimesh_body import TriangleMesh


def noisy(shape: Shape, edge: float, noise: float, seed: int = 1) -> TriangleMesh:
    """Evenly fine triangles of a solid, each corner moved at random; noise: of the size."""
    mesh_afresh(shape, 0.02, 0.1)
    points, triangles = whole_mesh(shape)
    rough = TriangleMesh.from_soup(points[triangles])
    points, triangles = trimesh.remesh.subdivide_to_size(rough.points, rough.triangles, edge)
    fine = TriangleMesh.from_soup(points[triangles])
    size = np.ptp(fine.points, axis=0).max()
    moved = fine.points + np.random.default_rng(seed).normal(0, noise * size / 2, fine.points.shape)
    return TriangleMesh(moved, fine.triangles)


def test_a_flange_with_a_bore_is_recognised_under_noise() -> None:
    part = build.subtract(build.unite(build.box(80, 60, 12), build.cylinder(18, 40, (40, 30, 0))),
                          build.cylinder(10, 60, (40, 30, -1)))  # fmt: skip
    mesh = noisy(part, 2.5, 2e-3)
    found = recognised(mesh, 0.3)
    kinds = [r.surface.kind for r in found]
    assert kinds.count("plane") == 7
    radii = sorted(r.surface.numbers[0] for r in found if r.surface.kind == "cylinder")
    assert radii == pytest.approx([10, 18], rel=5e-3)
    axes = [r.surface.axial for r in found if r.surface.kind == "cylinder"]
    assert all(abs(a.z[2]) > 0.9999 for a in axes)


@settings(max_examples=8, deadline=None)
@given(st.floats(8, 30), st.integers(0, 1000))
def test_a_balls_radius_is_found_within_half_a_percent(radius: float, seed: int) -> None:
    mesh = noisy(build.sphere(radius), radius / 12, 2e-3, seed)
    (found,) = recognised(mesh, 6e-3 * radius)
    assert found.surface.kind == "sphere"
    assert found.surface.numbers[0] == pytest.approx(radius, rel=5e-3)


def test_a_cone_and_its_ends() -> None:
    mesh = noisy(build.cone(20, 10, 40), 2.0, 1e-3)
    found = recognised(mesh, 0.15)
    assert sorted(r.surface.kind for r in found) == ["cone", "plane", "plane"]
    (cone,) = [r.surface for r in found if r.surface.kind == "cone"]
    assert abs(np.degrees(cone.numbers[1])) == pytest.approx(np.degrees(np.arctan(0.25)), abs=0.15)


def test_the_edit_lays_the_forms_beside_the_mesh(tmp_path) -> None:
    mesh = noisy(build.subtract(build.box(40, 30, 20), build.cylinder(6, 30, (20, 15, -1))), 2.0, 1e-3)
    made = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
    (tmp_path / "scan.stl").write_bytes(made.export(file_type="stl"))
    model = Model()
    model.do("import", path=str(tmp_path / "scan.stl"), units="mm")
    change = model.do("recognise", parts=model.nodes(), what="surfaces")
    assert (change.fact("plane"), change.fact("cylinder")) == (6, 1)
    assert change.fact("off") < 0.06
    (tube,) = [b for b in model.bodies() if model.body(b).name.startswith("Cylinder 1 Ø")]
    (wall,) = model.faces(tube, kind="cylinder")
    assert wall.radius == pytest.approx(6, rel=5e-3)
    assert model.nodes("Forms of scan")
    model.undo()
    with pytest.raises(EditError, match="no plane, cylinder, cone, ball or ring"):
        model.do("recognise", parts=model.nodes(), deviation="0.0001")
