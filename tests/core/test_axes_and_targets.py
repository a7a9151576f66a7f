"""Axes, planes and heights taken from what is picked in a part that stands askew in the model: against where they were
built."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from ravine.core import EditError, Model
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.model.references import resolve
from ravine.core.operations.planes import plane_through
from ravine.core.operations.work import Work
from ravine.core.rigid import Rigid
from tests.parts import model_of

# what the part that is picked from was built about: point and direction
ROUND = {"cylinder": ((10, 0, 8), (0, 1, 0)), "cone": ((30, 10, 16), (0, 0, 1)), "torus": ((50, 10, 16), (0, 0, 1))}
BALL = (70, 10, 16)
THERE = Rigid.slide((12, -40, 25)) @ Rigid.about((0, 0, 0), (1 / 3, -2 / 3, 2 / 3), math.radians(33))
ANGLE = math.radians(25)


def rig():
    shape = build.subtract(build.box(90, 20, 16), build.cylinder(3, 22, (10, -1, 8), (0, 1, 0)))
    shape = build.subtract(
        build.unite(shape, build.cone(5, 2, 9, *ROUND["cone"])), build.torus(4, 1.5, *ROUND["torus"])
    )
    return build.unite(shape, build.sphere(4, BALL))


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """A block of 10 × 20 × 30 with its corner at the origin, and the rig."""
    folder = tmp_path_factory.mktemp("axes")
    model = model_of(folder, build.box(10, 20, 30), "Block")[0]
    path = folder / "rig.step"
    path.write_bytes(step.write([WriteNode("Rig", THERE, 0, [])], [WritePart("Rig", rig(), None, {})], "Rig"))
    model.do("import", path=str(path))
    return model


@pytest.fixture
def model(made):
    return Model(snapshot=made.snapshot, geometry=made.geometry)


def rig_of(model):
    return next(b for b in model.bodies() if len(model.faces(b)) > 6)


def block_of(model):
    return next(b for b in model.bodies() if len(model.faces(b)) == 6)


def middle(model, body):
    """Of all corners."""
    return np.mean([v.point for v in model.vertices(body)], axis=0)


def there(point):
    return np.asarray(THERE.point(point))


def along(way):
    return np.asarray(THERE.direction(way))


def turned(points, point, axis, angle):
    """Rodrigues."""
    k = np.asarray(axis) / np.linalg.norm(axis)
    v = np.asarray(points) - point
    cross, dot = np.cross(k, v), (v @ k)[..., None] * k
    return point + v * math.cos(angle) + cross * math.sin(angle) + dot * (1 - math.cos(angle))


def edge_at(model, place):
    """The edge of the rig whose middle was built there."""
    return min(model.edges(rig_of(model)), key=lambda e: np.linalg.norm(np.subtract(e.middle, there(place)))).id


def face_at(model, place, normal):
    found = model.faces(rig_of(model), kind="plane")
    return min(found, key=lambda f: abs((np.subtract(f.centroid, there(place))) @ along(normal))
               + 99 * (1 - float(np.asarray(f.normal) @ along(normal)))).id  # fmt: skip


def corner_at(model, place):
    return min(model.vertices(rig_of(model)), key=lambda v: np.linalg.norm(np.subtract(v.point, there(place)))).id


def round_face(model, kind):
    return model.faces(rig_of(model), kind=kind)[0].id


AXES = {
    "a straight edge": (lambda m: edge_at(m, (45, 0, 0)), (0, 0, 0), (1, 0, 0)),
    "the rim of a hole": (lambda m: next(e.id for e in m.edges(rig_of(m), kind="circle") if abs(e.radius - 3) < 1e-6),
                          *ROUND["cylinder"]),
    "a cylinder": (lambda m: round_face(m, "cylinder"), *ROUND["cylinder"]),
    "a cone": (lambda m: round_face(m, "cone"), *ROUND["cone"]),
    "a torus": (lambda m: round_face(m, "torus"), *ROUND["torus"]),
    "the normal of a flat face": (lambda m: face_at(m, (0, 10, 8), (-1, 0, 0)), (0, 10, 8), (-1, 0, 0)),
}  # fmt: skip


@pytest.mark.parametrize("source", AXES)
def test_a_part_turns_about_what_is_picked(model, source):
    """Each corner goes where the formula says, for one of the two ways that an axis has."""
    pick, point, way = AXES[source]
    body = block_of(model)
    before = np.array([v.point for v in model.vertices(body)])
    model.do("move body", parts=model.nodes("Block"), axis=[pick(model)], along="z", angle=f"{ANGLE} rad")
    after = np.array([v.point for v in model.vertices(block_of(model))])
    ways = [turned(before, there(point), sign * along(way), ANGLE) for sign in (1, -1)]
    assert min(np.abs(after - w).max() for w in ways) < 1e-6


@pytest.mark.parametrize("source", ["a straight edge", "a cone", "the normal of a flat face"])
def test_a_part_goes_along_and_across_what_is_picked(model, source):
    """Z runs along it, X as near to the model's X as that allows, Y square to both."""
    pick, _, way = AXES[source]
    z = along(way)
    x = np.eye(3)[0 if abs(z[0]) < 0.9 else 1]
    x = (x - (x @ z) * z) / np.linalg.norm(x - (x @ z) * z)
    start = middle(model, block_of(model))
    for word, step_ in (("z", z), ("x", x), ("y", np.cross(z, x))):
        moved = Model(snapshot=model.snapshot, geometry=model.geometry)
        moved.do("move body", parts=moved.nodes("Block"), axis=[pick(moved)], along=word, distance="7 mm")
        went = middle(moved, block_of(moved)) - start
        assert min(np.abs(went - sign * 7 * step_).max() for sign in (1, -1)) < 1e-6, word


@pytest.mark.parametrize("source", ["a straight edge", "a cylinder", "the normal of a flat face"])
def test_copies_stand_evenly_about_what_is_picked(model, source):
    pick, point, way = AXES[source]
    start = middle(model, block_of(model))
    model.do("repeat parts around", parts=model.nodes("Block"), axis=[pick(model)], count=4)
    places = [np.asarray(o.matrix.point(start)) for o in model.snapshot.occurrences() if "Block" in o.node.name]
    assert len(places) == 4
    wanted = [turned(start, there(point), along(way), k * math.pi / 2) for k in range(4)]
    assert max(min(np.linalg.norm(p - w) for w in wanted) for p in places) < 1e-6
    assert max(min(np.linalg.norm(p - w) for p in places) for w in wanted) < 1e-6


def work_of(model):
    return Work(model.snapshot, model.geometry)


PLANES = {
    "three corners": (lambda m: [corner_at(m, p) for p in ((0, 0, 0), (90, 0, 16), (0, 20, 0))],
                      (0, 0, 0), (16, 0, -90)),
    "two edges that meet": (lambda m: [edge_at(m, (45, 0, 0)), edge_at(m, (0, 10, 0))], (0, 0, 0), (0, 0, 1)),
    "two edges side by side": (lambda m: [edge_at(m, (45, 0, 0)), edge_at(m, (45, 20, 16))], (0, 0, 0), (0, -16, 20)),
    "an edge and a corner": (lambda m: [edge_at(m, (45, 0, 0)), corner_at(m, (90, 0, 0))], (90, 0, 0), (1, 0, 0)),
    "two faces midway": (lambda m: [face_at(m, (0, 10, 8), (-1, 0, 0)), face_at(m, (90, 10, 8), (1, 0, 0))],
                         (45, 10, 8), (1, 0, 0)),
    "two axes": (lambda m: [round_face(m, "cone"), round_face(m, "torus")], (30, 10, 16), (0, 1, 0)),
    "a flat face": (lambda m: [face_at(m, (45, 20, 8), (0, 1, 0))], (45, 20, 8), (0, 1, 0)),
}  # fmt: skip


@pytest.mark.parametrize("source", PLANES)
def test_a_plane_goes_through_what_is_picked(model, source):
    pick, point, normal = PLANES[source]
    picked = tuple(resolve(model.snapshot, i) for i in pick(model))
    found = plane_through(work_of(model), picked)
    wanted = along(np.asarray(normal, float) / np.linalg.norm(normal))
    assert abs(float(np.asarray(found.normal) @ wanted)) == pytest.approx(1, abs=1e-9)
    assert abs(float((there(point) - np.asarray(found.origin)) @ wanted)) < 1e-6
    assert np.linalg.norm(found.x) == pytest.approx(1, abs=1e-12)
    assert abs(float(np.dot(found.x, found.y))) < 1e-12


@pytest.mark.parametrize("degrees", [-40, 0, 15, 90])
def test_a_plane_stands_on_an_edge_at_an_angle_to_a_face(model, degrees):
    edge, face = edge_at(model, (45, 0, 16)), face_at(model, (45, 10, 16), (0, 0, 1))
    found = plane_through(
        work_of(model), tuple(resolve(model.snapshot, i) for i in (edge, face)), math.radians(degrees)
    )
    turn = abs(float(np.asarray(found.normal) @ along((0, 0, 1))))
    assert turn == pytest.approx(abs(math.cos(math.radians(degrees))), abs=1e-9)
    assert abs(float(np.asarray(found.normal) @ along((1, 0, 0)))) < 1e-9
    assert abs(float((there((45, 0, 16)) - np.asarray(found.origin)) @ np.asarray(found.normal))) < 1e-6


NO_PLANES = {
    "corners on one line": (lambda m: [corner_at(m, (0, 0, 0)), corner_at(m, (90, 0, 0)), corner_at(m, (0, 0, 0))],
                            "lie on one line"),
    "edges askew": (lambda m: [edge_at(m, (45, 0, 0)), edge_at(m, (0, 10, 16))], "no plane runs through"),
    "an edge beside a face": (lambda m: [edge_at(m, (0, 0, 8)), face_at(m, (45, 10, 16), (0, 0, 1))],
                              "does not lie in the face"),
    "a corner alone": (lambda m: [corner_at(m, (0, 0, 0))], "a plane is given by"),
}  # fmt: skip


@pytest.mark.parametrize("source", NO_PLANES)
def test_what_gives_no_plane_says_what_does(model, source):
    pick, words = NO_PLANES[source]
    with pytest.raises(EditError, match=words):
        plane_through(work_of(model), tuple(resolve(model.snapshot, i) for i in pick(model)))


HEIGHTS = {
    "a corner": (lambda m: corner_at(m, (90, 20, 16)), (90, 20, 16)),
    "another corner": (lambda m: corner_at(m, (0, 0, 16)), (0, 0, 16)),
    "a ball": (lambda m: round_face(m, "sphere"), BALL),
}


@pytest.mark.parametrize("source", HEIGHTS)
def test_a_face_is_pushed_until_the_height_of_what_is_picked(model, source):
    """The top of the block (at 30) comes to lie as high as that is in the model."""
    pick, point = HEIGHTS[source]
    high = float(there(point)[2])
    top = model.faces(block_of(model), normal=(0, 0, 1)).highest().id
    if high < 1:
        pytest.skip("below the foot of the block")
    model.do("push", faces=[top], until=[pick(model)], touching="keeping apart")
    assert model.faces(block_of(model), normal=(0, 0, 1)).highest().centroid[2] == pytest.approx(high, abs=1e-6)


UNEVEN = {
    "a leaning face": (lambda m: face_at(m, (45, 10, 16), (0, 0, 1)), "not parallel"),
    "a leaning edge": (lambda m: edge_at(m, (45, 0, 0)), "runs askew"),
    "a leaning cone": (lambda m: round_face(m, "cone"), "not parallel"),
}


@pytest.mark.parametrize("source", UNEVEN)
def test_what_a_face_cannot_come_to_lie_on_is_refused(model, source):
    pick, words = UNEVEN[source]
    top, before = model.faces(block_of(model), normal=(0, 0, 1)).highest().id, model.snapshot
    with pytest.raises(EditError, match=words):
        model.do("push", faces=[top], until=[pick(model)])
    assert model.snapshot is before


def test_distances_between_all_these_places_are_those_they_were_built_with(model):
    """Whatever stands askew: what is measured between two picks does not change."""
    places = [(0, 0, 0), (90, 0, 0), (90, 20, 16), (0, 20, 16)]
    for a, b in itertools.combinations(places, 2):
        found = model.study("describe", picked=[corner_at(model, a), corner_at(model, b)])
        words = {row[0]: row[1] for row in found["rows"]}
        assert any(f"{math.dist(a, b):.3f}".rstrip("0").rstrip(".") in v.replace("\u202f", "") for v in words.values())
