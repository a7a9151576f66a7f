"""Copies of parts and of features, at numbers, steps and angles drawn at random: each stands where the formula puts it,
and is what it is a copy of."""

from __future__ import annotations

import math
from functools import cache
from pathlib import Path
from tempfile import mkdtemp

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.queries import vertex_point
from tests.parts import model_of

few = settings(max_examples=6, deadline=None)
counts = st.integers(2, 7)
WEDGE = build.extrude(build.outline([(0, 0, 0), (12, 0, 0), (0, 7, 0)]), (0, 0, 5))  # one-handed, off the origin


@cache
def _wedge() -> Model:
    """Moved off, so that nothing stands where it was built."""
    model, _ = model_of(Path(mkdtemp(prefix="ravine-copies-")), WEDGE, "Wedge")
    for k, way in enumerate("xyz"):
        model.do(
            "move body", parts=model.nodes(), along=way, distance=f"{(5, -8, 3)[k]} mm", angle=f"{(20, -35, 50)[k]}°"
        )
    return model


def wedge():
    made = _wedge()
    return Model(snapshot=made.snapshot, geometry=made.geometry)


def corners(model, place):
    """(n, 3) of the part as it stands in one place of the tree."""
    own = model.geometry.solid(place.body.shape)
    points = [place.matrix.point(vertex_point(v)) for v in own.index.all("vertex")]
    return np.array(sorted(map(tuple, np.round(points, 6))))


def standing(model):
    return [corners(model, o) for o in model.snapshot.occurrences()]


def same(found, wanted):
    """Sets of corners, in any order."""
    left = [np.array(sorted(map(tuple, np.round(w, 6)))) for w in wanted]
    assert len(found) == len(left)
    for one in found:
        k = next((k for k, w in enumerate(left) if np.abs(one - w).max() < 1e-4), None)
        assert k is not None, one
        left.pop(k)


def about(points, origin, way, angle):
    """Rodrigues."""
    k, v = np.asarray(way) / np.linalg.norm(way), np.asarray(points) - origin
    return origin + v * math.cos(angle) + np.cross(k, v) * math.sin(angle) + np.outer(v @ k, k) * (1 - math.cos(angle))


@given(counts, st.floats(-30, 30).filter(lambda s: abs(s) > 1), st.sampled_from("xyz"))
@few
def test_parts_in_a_row(count, step, way):
    model = wedge()
    (start,) = standing(model)
    model.do("repeat parts", parts=model.nodes(), count=count, along=way, step=f"{step!r} mm")
    off = np.eye(3)["xyz".index(way)] * step
    same(standing(model), [start + k * off for k in range(count)])
    assert len(model.snapshot.bodies) == 1, "copies share their part"


@given(counts, st.floats(5, 50))
@few
def test_parts_around_an_edge(count, degrees):
    model = wedge()
    (start,) = standing(model)
    edge = model.edges(kind="line").longest()
    point, way, angle = np.array(edge.middle), np.array(edge.direction), math.radians(degrees)
    model.do("repeat parts around", parts=model.nodes(), count=count, axis=[edge.id], angle=f"{degrees!r}°")
    ways = [[about(start, point, sign * way, k * angle) for k in range(count)] for sign in (1, -1)]
    found = standing(model)
    errors = []
    for wanted in ways:
        try:
            same(found, wanted)
            return
        except AssertionError as error:
            errors.append(error)
    raise errors[0]


@given(st.sampled_from("xyz"), st.floats(-40, 40))
@few
def test_a_mirrored_part_is_its_image_and_of_the_other_hand(way, at):
    model = wedge()
    (start,) = standing(model)
    model.do("mirror", parts=model.nodes(), along=way, height=f"{at!r} mm", result="apart")
    image = start.copy()
    image[:, "xyz".index(way)] = 2 * at - image[:, "xyz".index(way)]
    same(standing(model), [start, image])
    assert [model.measure(b).volume for b in model.bodies()] == pytest.approx([210, 210], rel=1e-9)


@given(st.floats(0.3, 3))
@few
def test_a_part_made_its_own_lets_the_others_be(factor):
    model = wedge()
    model.do("repeat parts", parts=model.nodes(), count=3, along="x", step="40 mm")
    last = model.parts()[-1].id
    model.do("make independent", parts=[last], called="Own")
    own = model.nodes("Own")
    model.do("scale", parts=own, factor=f"{factor!r}")
    volumes = sorted(model.measure(b).volume for b in model.bodies())
    assert volumes == pytest.approx(sorted([210, 210 * factor**3]), rel=1e-9)
    assert len(model.snapshot.bodies) == 2


@given(st.integers(2, 9), st.floats(1, 3))
@few
def test_bores_around_an_axis(count, r):
    """Evenly about the middle bore where no angle is said, all at one radius, and the plate loses each once."""
    flange = build.subtract(
        build.cylinder(40, 8), build.cylinder(6, 10, (0, 0, -1)), build.cylinder(r, 10, (28, 0, -1))
    )
    model, _ = model_of(Path(mkdtemp(prefix="ravine-copies-")), flange, "Flange")
    small = min(model.faces(kind="cylinder"), key=lambda f: f.radius).id
    middle = next(f.id for f in model.faces(kind="cylinder") if abs(f.radius - 6) < 1e-9)
    model.do("pattern around", faces=[small], count=count, axis=[middle])
    bores = [f for f in model.faces(kind="cylinder") if abs(f.radius - r) < 1e-9]
    assert len(bores) == count
    turns = sorted(math.atan2(f.axis[0][1], f.axis[0][0]) % (2 * math.pi) for f in bores)
    assert np.allclose(np.diff(turns), 2 * math.pi / count, atol=1e-6)
    assert all(math.hypot(*f.axis[0][:2]) == pytest.approx(28, abs=1e-9) for f in bores)
    left = math.pi * 8 * (40**2 - 6**2 - count * r**2)
    assert model.measure(model.bodies()[0]).volume == pytest.approx(left, rel=1e-9)
    model.do("recount", face=bores[0].id, count=max(count - 1, 2) if count > 2 else 3)
    again = [f for f in model.faces(kind="cylinder") if abs(f.radius - r) < 1e-9]
    assert len(again) == (max(count - 1, 2) if count > 2 else 3)
