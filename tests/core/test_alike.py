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
from tests.core.test_mesh_forms import facetted
from tests.parts import grid_plate, mesh_model, model_of


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
