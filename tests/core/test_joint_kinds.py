"""Every kind of joint between every two things that it takes: wherever the parts stood before, what is said of them
afterwards is so, measured on their faces, edges and corners."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from tests.parts import step_file

PEG, BORE = 4.0, 6.0  # radii of the round things of the two parts
EXACT = 1e-6


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """A block with a peg, and a plate with a bore that stays where it is."""
    folder = tmp_path_factory.mktemp("kinds")
    block = build.unite(build.box(20, 16, 12), build.cylinder(PEG, 9, (10, 8, 12)))
    plate = build.subtract(build.box(60, 50, 8), build.cylinder(BORE, 10, (25, 20, -1)))
    model = Model()
    for name, shape in (("Plate", plate), ("Block", block)):
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    model.do("move body", parts=model.nodes("Plate"), along="x", distance="5", angle="25°")
    model.do("move body", parts=model.nodes("Plate"), along="y", angle="-40°")
    model.do("lock", parts=model.nodes("Plate"))
    return model


def part(model, name):
    return next(b for b in model.bodies() if model.body(b).name == name)


class Thing:
    """What is picked, with its place and direction as they are now."""

    def __init__(self, name, kind):
        self.name, self.kind = name, kind

    def ident(self, model):
        body = part(model, self.name)
        match self.kind:
            case "flat":
                return max((f for f in model.faces(body, kind="plane")), key=lambda f: f.area).id
            case "other flat":  # opposite the first
                rows = sorted(model.faces(body, kind="plane"), key=lambda f: f.area)
                first = rows[-1]
                return next(f.id for f in rows if np.dot(f.normal, first.normal) < -1 + 1e-9)
            case "round":
                return model.faces(body, kind="cylinder")[0].id
            case "rim":
                return model.edges(body, kind="circle")[0].id
            case "line":
                return max(model.edges(body, kind="line"), key=lambda e: e.length).id
            case _:
                return model.vertices(body)[0].id

    def now(self, model, ident):
        """Point and direction; none of a corner."""
        if self.kind in ("flat", "other flat"):
            face = model.face(ident)
            return np.array(face.centroid), np.array(face.normal)
        if self.kind == "round":
            point, way = model.face(ident).axis
            return np.array(point), np.array(way)
        if self.kind == "rim":
            point, way = model.edge(ident).axis
            return np.array(point), np.array(way)
        if self.kind == "line":
            edge = model.edge(ident)
            return np.array(edge.middle), np.array(edge.direction)
        return np.array(model.vertex(ident).point), None


def across(off, way):
    return float(np.linalg.norm(off - (off @ way) * way))


def level(u, v):
    return abs(float(u @ v))


def coplanar(a, b):
    return level(a[1], b[1]) == pytest.approx(1, abs=EXACT) and abs((a[0] - b[0]) @ b[1]) < EXACT


def one_axis(a, b):
    return level(a[1], b[1]) == pytest.approx(1, abs=EXACT) and across(a[0] - b[0], b[1]) < EXACT


def side_by_side(far):
    def check(a, b):
        along = level(a[1], b[1]) == pytest.approx(1, abs=EXACT)
        return along and across(a[0] - b[0], b[1]) == pytest.approx(far, abs=EXACT)

    return check


def over_plane(far, lying=True):
    """An axis or corner that far from a plane; an axis lies along it."""

    def check(a, b):
        flat = a[1] is None or not lying or level(a[1], b[1]) < EXACT
        return flat and abs((a[0] - b[0]) @ b[1]) == pytest.approx(far, abs=EXACT)

    return check


def at_angle(degrees, mixed=False):
    wanted = math.sin(math.radians(degrees)) if mixed else math.cos(math.radians(degrees))
    return lambda a, b: level(a[1], b[1]) == pytest.approx(abs(wanted), abs=EXACT)


def apart(far):
    return lambda a, b: float(np.linalg.norm(a[0] - b[0])) == pytest.approx(far, abs=EXACT)


JOINTS = {
    "flat on flat": ("flat", "flat", "on", {}, coplanar),
    "flat 7 mm over flat": ("flat", "flat", "distance", {"distance": "7 mm"}, over_plane(7, lying=False)),
    "flat along flat": ("flat", "flat", "parallel", {}, at_angle(0)),
    "flat at 35° to flat": ("flat", "flat", "angle", {"angle": "35°"}, at_angle(35)),
    "peg in bore": ("round", "round", "coaxial", {}, one_axis),
    "peg beside bore": ("round", "round", "distance", {"distance": "30 mm"}, side_by_side(30)),
    "peg along bore": ("round", "round", "parallel", {}, at_angle(0)),
    "peg at 70° to bore": ("round", "round", "angle", {"angle": "70°"}, at_angle(70)),
    "rim on bore": ("rim", "round", "coaxial", {}, one_axis),
    "line in bore": ("line", "round", "coaxial", {}, one_axis),
    "peg on flat": ("round", "flat", "on", {}, over_plane(0)),
    "peg 11 mm over flat": ("round", "flat", "distance", {"distance": "11 mm"}, over_plane(11)),
    "peg touching flat": ("round", "flat", "tangent", {}, over_plane(PEG)),
    "peg at 20° from flat": ("round", "flat", "angle", {"angle": "20°"}, at_angle(20, mixed=True)),
    "corner on flat": ("corner", "flat", "on", {}, over_plane(0)),
    "corner 6 mm over flat": ("corner", "flat", "distance", {"distance": "6 mm"}, over_plane(6)),
    "corner on the axis": ("corner", "round", "on", {}, lambda a, b: across(a[0] - b[0], b[1]) < EXACT),
    "corner 9 mm from the axis": ("corner", "round", "distance", {"distance": "9 mm"},
                                  lambda a, b: across(a[0] - b[0], b[1]) == pytest.approx(9, abs=EXACT)),
    "corner on corner": ("corner", "corner", "on", {}, apart(0)),
    "corner 15 mm from corner": ("corner", "corner", "distance", {"distance": "15 mm"}, apart(15)),
}  # fmt: skip

poses = st.tuples(*[st.floats(-40, 40)] * 3, *[st.floats(-170, 170)] * 3)


def posed(made, pose):
    """The block somewhere else, turned some other way."""
    model = Model(snapshot=made.snapshot, geometry=made.geometry)
    for k, way in enumerate("xyz"):
        model.do("move body", parts=model.nodes("Block"), along=way, distance=f"{pose[k] + 0.5} mm",
                 angle=f"{pose[3 + k] + 0.25}°")  # fmt: skip
    return model


@pytest.mark.parametrize("name", JOINTS)
@given(pose=poses)
@settings(max_examples=8, deadline=None)
def test_what_is_said_of_two_parts_is_so_afterwards(made, name, pose):
    of, to, kind, values, holds = JOINTS[name]
    model = posed(made, pose)
    a, b = Thing("Block", of), Thing("Plate", to)
    one, other = a.ident(model), b.ident(model)
    stays = b.now(model, other)[0]
    model.do("join", of=[one], to=[other], kind=kind, **values)
    assert holds(a.now(model, one), b.now(model, other))
    assert np.abs(b.now(model, other)[0] - stays).max() < 1e-9, "what is locked stays"
    model.do("move body", parts=model.nodes("Block"), along="z", distance="3", angle="4°")
    assert holds(a.now(model, one), b.now(model, other)), "and stays so when the part is moved"


@pytest.mark.parametrize("what", ["flat", "round", "corner"])
@given(pose=poses)
@settings(max_examples=8, deadline=None)
def test_centred_between_two_faces(made, what, pose):
    model = posed(made, pose)
    a, low, high = Thing("Block", what), Thing("Plate", "flat"), Thing("Plate", "other flat")
    ident, ends = a.ident(model), [low.ident(model), high.ident(model)]
    model.do("join", of=[ident], to=ends, kind="centred")
    (p, n), (q, _) = low.now(model, ends[0]), high.now(model, ends[1])
    middle = (p + q) / 2
    assert abs((a.now(model, ident)[0] - middle) @ n) < EXACT


@pytest.mark.parametrize(
    ("of", "kind", "words"),
    [("corner", "parallel", "a corner has no direction"), ("corner", "angle", "a corner has no direction"),
     ("flat", "coaxial", "coaxial are round or straight things"), ("flat", "tangent", "tangent are a round face"),
     ("corner", "tangent", "tangent are a round face")],
)  # fmt: skip
def test_what_does_not_suit_a_kind_is_refused(made, of, kind, words):
    model = Model(snapshot=made.snapshot, geometry=made.geometry)
    ends = {"of": [Thing("Block", of).ident(model)], "to": [Thing("Plate", "flat").ident(model)]}
    with pytest.raises(EditError, match=words):
        model.do("join", **ends, kind=kind, **({"angle": "30°"} if kind == "angle" else {}))
    assert model.snapshot is made.snapshot


@given(pose=poses)
@settings(max_examples=6, deadline=None)
def test_a_joint_that_is_said_without_a_size_keeps_the_one_there_is(made, pose):
    """A distance or angle that is left empty is the one that the parts have as they stand: nothing moves."""
    for kind, of, to in (("distance", "corner", "flat"), ("angle", "round", "flat"), ("distance", "corner", "corner"),
                         ("angle", "flat", "flat")):  # fmt: skip
        model = posed(made, pose)
        thing = Thing("Block", of)
        one = thing.ident(model)
        before = thing.now(model, one)
        model.do("join", of=[one], to=[Thing("Plate", to).ident(model)], kind=kind)
        assert np.abs(thing.now(model, one)[0] - before[0]).max() < 1e-6, (kind, of, to)
