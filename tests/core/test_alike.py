"""Alike, against asking every face for itself."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.queries import face_facts
from ravine.core.model.alike import alike
from ravine.core.model.face_table import FaceTable
from ravine.core.model.wall_thickness import wall_depths
from tests.core.test_mesh_forms import facetted
from tests.parts import grid_plate, mesh_model, model_of, step_file


def random_plate(seed: int):
    """A stepped plate with holes and bosses of a few sizes."""
    chance = random.Random(seed)
    body = build.box(120, 80, 10)
    for i in range(6):
        for j in range(4):
            at = (10 + 20 * i, 10 + 20 * j, -1)
            what, size = chance.choice("hbn"), chance.choice([2, 2.5, 4])
            if what == "h":
                body = build.subtract(body, build.cylinder(size, 20, at))
            elif what == "b":
                body = build.unite(body, build.cylinder(size, chance.choice([14, 16]), (at[0], at[1], 0)))
    return body


@settings(max_examples=6, deadline=None)
@given(st.integers(0, 10_000))
def test_every_criterion_finds_what_asking_each_face_finds(tmp_path_factory, seed: int) -> None:
    model, body = model_of(tmp_path_factory.mktemp("plate"), random_plate(seed))
    faces = model.faces(body)
    chance = random.Random(seed)
    hole = chance.choice([f for f in faces if f.kind == "cylinder"] or faces)
    plane = chance.choice([f for f in faces if f.kind == "plane"])
    found = {c.code: set(c.ids) for c in alike(model.snapshot, model.geometry, hole.id)}
    way = face_facts(hole.shape).hollow
    same = {f.id for f in faces if f.kind == hole.kind}
    expected = {
        f.id
        for f in faces
        if f.id in same and f.facts.hollow == way and math.isclose(f.radius, hole.radius, rel_tol=1e-4)
    }
    assert found.get("radius", {hole.id}) == expected
    smaller = {f.id for f in faces if f.id in same and f.facts.hollow == way and f.radius <= hole.radius * 1.0001}
    assert found.get("radius up to", {hole.id}) == smaller
    found = {c.code: set(c.ids) for c in alike(model.snapshot, model.geometry, plane.id)}
    normal = np.array(plane.normal)
    flat = [f for f in faces if f.kind == "plane"]
    assert found["parallel"] == {f.id for f in flat if abs(np.dot(f.normal, normal)) > 1 - 1e-9}
    level = {f.id for f in flat if np.dot(f.normal, normal) > 1 - 1e-9
             and abs(np.dot(np.subtract(f.centroid, plane.centroid), normal)) < 1e-6}  # fmt: skip
    assert found.get("coplanar", {plane.id}) == level
    assert found.get("area", {plane.id}) == {f.id for f in flat if math.isclose(f.area, plane.area, rel_tol=1e-4)}


def test_walls_axes_features_and_edges(tmp_path) -> None:
    model, body = model_of(tmp_path, grid_plate(4, 3))
    small = [f for f in model.faces(body, kind="cylinder") if abs(f.radius - 2) < 1e-9]
    found = {c.code: c for c in alike(model.snapshot, model.geometry, small[0].id)}
    assert len(found["radius"].ids) == 12
    assert found["radius"].words == "radius 2 mm, hollow"
    assert found["radius"].ids[0] == small[0].id
    assert len(found["radius up to"].ids) == 12
    assert len(found["coaxial"].ids) == 2  # the counterbore above it
    bore = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 4) < 1e-9)
    features = [c for c in alike(model.snapshot, model.geometry, bore.id) if c.code == "feature"]
    assert [len(c.ids) for c in features] == [3]
    ring = next(f for f in model.faces(body, kind="plane", normal=(0, 0, 1)) if abs(f.centroid[2] - 7) < 1e-9)
    walls = next(c for c in alike(model.snapshot, model.geometry, ring.id) if c.code == "wall")
    assert walls.words == "walls 7 mm thick"
    assert len(walls.ids) == 13  # the rings, and the bottom across from them
    rim = next(e for e in model.edges(body) if e.kind == "circle" and abs(e.radius - 4) < 1e-9)
    edges = {c.code: len(c.ids) for c in alike(model.snapshot, model.geometry, rim.id)}
    assert edges["radius"] == 24
    with pytest.raises(EditError, match="one face or one edge"):
        alike(model.snapshot, model.geometry, model.vertices(body)[0].id)
    scan, mesh = mesh_model(tmp_path, facetted(build.box(5, 5, 5)))
    with pytest.raises(EditError, match="is a mesh"):
        alike(scan.snapshot, scan.geometry, f"f{scan.body(mesh).faces[0]}")


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 40))
def test_walls_are_those_that_comparing_all_planes_finds(seed: int, count: int) -> None:
    chance = np.random.default_rng(seed)
    turn = np.linalg.qr(chance.normal(size=(3, 3)))[0]
    ways = np.vstack([np.eye(3), -np.eye(3)])[chance.integers(0, 6, count)] @ turn
    points = chance.integers(-6, 6, (count, 3)).astype(float) @ turn
    expected = np.full(count, np.nan)
    for k in range(count):
        behind = (points[k] - points) @ ways[k]
        facing = (ways @ ways[k] < -1 + 1e-9) & (behind > 1e-6)
        if facing.any():
            expected[k] = behind[facing].min()
    assert wall_depths(ways, points) == pytest.approx(expected, nan_ok=True, abs=1e-9)


def test_sizes_within_a_share_in_all_parts_and_after_an_edit(tmp_path) -> None:
    plate = build.subtract(build.box(60, 20, 10), *(build.cylinder(r, 12, (10 + 20 * k, 10, -1))
                                                   for k, r in enumerate((3, 3.02, 3.4))))  # fmt: skip
    model, body = model_of(tmp_path, plate, "Plate")
    pin = build.subtract(build.box(20, 20, 10), build.cylinder(3, 12, (10, 10, -1)))
    other = model.do("import", path=str(step_file(tmp_path / "other.step", pin, "Other"))).added[0]
    node = model.nodes("Other")
    model.do("move body", parts=node, along="z", distance=50)
    model.do("move body", parts=node, along="x", distance=-10)
    hole = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 3) < 1e-9)

    def counts(**how):
        return {c.code: len(c.ids) for c in alike(model.snapshot, model.geometry, hole.id, **how)}

    assert counts().get("radius") is None  # no other is as large
    assert counts(tolerance=0.01)["radius"] == 2
    assert counts(tolerance=0.2)["radius"] == 3
    everywhere = counts(everywhere=True)
    assert everywhere["radius"] == 2  # the one of the other part
    assert "coaxial" not in everywhere  # it stands 10 mm beside
    model.do("move body", parts=node, along="x", distance=10)
    assert counts(everywhere=True)["coaxial"] == 2
    with pytest.raises(EditError, match="50%"):
        counts(tolerance=0.9)
    assert model.geometry.solid(model.body(other).shape).faces is not None
    model.do("push", faces=[hole.id], distance=-0.02)  # what was read follows the edit
    assert counts()["radius"] == 2
    model.do("drill", face=[model.faces(body, normal=(0, 0, 1))[0].id], screw="M3", across=10)
    fresh = FaceTable.read(model.geometry.solid(model.body(body).shape).topology)
    kept = model.geometry.solid(model.body(body).shape).faces
    assert (kept.kind == fresh.kind).all()
    assert kept.area == pytest.approx(fresh.area, rel=1e-9)
    assert kept.radius == pytest.approx(fresh.radius, nan_ok=True)
