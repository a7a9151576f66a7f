"""Chamfers and countersinks go along with their walls and keep their widths: the part built at the new size."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.chamfers import chamfer_of
from ravine.core.local.engine import reshape
from ravine.core.local.failure import LocalFailure
from ravine.core.local.plan import Offset
from ravine.core.local.topology import SolidTopology
from tests.parts import model_of


def volume(shape):
    return volume_properties(shape).amount


def topology_of(shape):
    return SolidTopology(ShapeIndex(shape))


def chamfers(topology):
    found = (chamfer_of(topology, f) for f in range(topology.index.count("face")))
    return [item for item in found if item is not None]


def normal_of(topology, face):
    return topology.outward(face, topology.samples(topology.edges_of(face)[0])[1:2])[0]


def facing(topology, normal):
    return next(
        f for f in range(topology.index.count("face"))
        if topology.surface(f).kind == "plane" and normal_of(topology, f) @ np.array(normal) > 0.999
    )  # fmt: skip


def block(size, corners, radius, width):
    """With upright edges sharp, rounded or cut, and a chamfer around the top."""
    body = build.box(*size)
    if corners != "sharp":
        tool = build.fillet if corners == "rounded" else build.chamfer
        body = tool(body, radius, lambda e: e.kind == "line" and abs(e.direction[2]) > 0.99)
    return build.chamfer(body, width, lambda e: min(p[2] for p in e.ends) > size[2] - 1e-6)


@settings(max_examples=20, deadline=None)
@given(
    st.tuples(st.floats(20, 60), st.floats(20, 60), st.floats(12, 40)),
    st.sampled_from(["sharp", "rounded", "cut"]),
    st.floats(3, 5),
    st.floats(0.5, 2),
    st.sampled_from([0, 1, 2]),
    st.floats(-5, 20).filter(lambda d: abs(d) > 0.01),
)
def test_a_pushed_chamfered_block_is_the_block_built_at_the_new_size(size, corners, radius, width, axis, distance):
    body = block(size, corners, radius, width)
    topology = topology_of(body)
    grown = tuple(s + distance * (k == axis) for k, s in enumerate(size))
    result = reshape(topology, {facing(topology, np.eye(3)[axis]): Offset(distance)})
    wanted = volume(block(grown, corners, radius, width))
    assert volume(result.shape) == pytest.approx(wanted, rel=1e-10)
    assert volume(body) + result.volume_change == pytest.approx(wanted, rel=1e-10)
    assert fault(result.shape) is None
    along_top = {"sharp": 4, "rounded": 8, "cut": 8}[corners]
    beside = {"sharp": 1, "rounded": 3, "cut": 5}[corners]
    assert len(result.chamfers) == (along_top if axis == 2 else beside)


def plate(size, hole, depth):
    """With a countersunk hole in its middle, which widens by its depth."""
    x, y, z = size
    drilled = build.subtract(build.box(x, y, z), build.cylinder(hole, z + 2, (x / 2, y / 2, -1)))
    return build.subtract(drilled, build.cone(hole, hole + depth, depth, (x / 2, y / 2, z - depth)))


@settings(max_examples=20, deadline=None)
@given(st.floats(1.5, 5), st.floats(0.5, 4), st.floats(-1, 3), st.floats(-1, 6))
def test_a_countersink_keeps_its_depth_and_angle(hole, depth, wider, thicker):
    size = (40.0, 30.0, 6.0)
    topology = topology_of(plate(size, hole, depth))
    wall = next(f for f in range(topology.index.count("face")) if topology.surface(f).kind == "cylinder")
    once = reshape(topology, {wall: Offset(-wider)})
    assert volume(once.shape) == pytest.approx(volume(plate(size, hole + wider, depth)), rel=1e-10)
    both = reshape(once.topology, {facing(topology, (0, 0, 1)): Offset(thicker)})
    grown = (*size[:2], size[2] + thicker)
    assert volume(both.shape) == pytest.approx(volume(plate(grown, hole + wider, depth)), rel=1e-10)


def shaft(radii, lengths, width):
    (a, b), (low, high), c = radii, lengths, width
    rows = [(0, 0), (a - c, 0), (a, c), (a, low - c), (a - c, low), (b, low), (b, low + high - c), (b - c, low + high),
            (0, low + high)]  # fmt: skip
    return build.revolve(build.outline([(x, 0, z) for x, z in rows]))


@pytest.mark.parametrize("step", [0.5, -0.5, 4.0, -4.0])
@pytest.mark.parametrize(
    ("place", "radii", "lengths"),
    [(20, (1, 0), (0, 0)), (12, (0, 1), (0, 0)), ("shoulder", (0, 0), (1, -1)), ("end", (0, 0), (0, 1))],
)
def test_chamfers_of_a_shaft_follow_its_diameters_and_lengths(place, radii, lengths, step):
    topology = topology_of(shaft((20, 12), (30, 25), 1.5))

    def is_it(face):
        surface, middle = topology.surface(face), topology.middle(face)[0]
        if isinstance(place, int):
            return surface.kind == "cylinder" and abs(surface.radius - place) < 1e-9
        return surface.kind == "plane" and abs(middle[2] - {"shoulder": 30, "end": 55}[place]) < 1e-9

    face = next(f for f in range(topology.index.count("face")) if is_it(f))
    result = reshape(topology, {face: Offset(step)})
    wanted = shaft(
        [r + step * k for r, k in zip((20, 12), radii, strict=True)],
        [v + step * k for v, k in zip((30, 25), lengths, strict=True)],
        1.5,
    )
    assert volume(result.shape) == pytest.approx(volume(wanted), rel=1e-10)
    assert len(result.chamfers) == (2 if place == 20 else 1)


@pytest.mark.parametrize("distance", [5.0, -5.0])
@pytest.mark.parametrize("axis", [0, 1, 2])
def test_the_facet_of_three_chamfers_goes_along(axis, distance):
    def cut(size):
        far = build.box(*size)
        return build.chamfer(far, 2, lambda e: any(max(map(abs, np.subtract(p, size))) < 1e-6 for p in e.ends))

    size = (30.0, 20.0, 10.0)
    topology = topology_of(cut(size))
    result = reshape(topology, {facing(topology, np.eye(3)[axis]): Offset(distance)})
    assert len(result.chamfers) == 3
    facet = next(item for item in chamfers(topology) if not item.legs)
    with pytest.raises(LocalFailure, match="its width would vanish"):
        reshape(topology, {facet.face: Offset(facet.corner)})
    assert volume(result.shape) == pytest.approx(volume(cut(np.add(size, distance * np.eye(3)[axis]))), rel=1e-10)


@pytest.mark.parametrize("degrees", [6.0, -6.0, 30.0, -30.0])
def test_a_chamfer_keeps_both_widths_when_its_wall_tilts(tmp_path, degrees):
    def profile(angle):
        length, top = 20 / math.cos(angle), 30 + 20 * math.tan(angle)
        row = [(0, 0), (30, 0), (30 + (length - 2) * math.sin(angle), (length - 2) * math.cos(angle)), (top - 2, 20),
               (0, 20)]  # fmt: skip
        return build.extrude(build.outline([(x, 0, z) for x, z in row]), (0, 25, 0))

    model, body = model_of(tmp_path, profile(0.0))
    wall = model.faces(body, normal=(1, 0, 0))[0]
    foot = next(e for e in model.edges(body) if e.middle[2] < 1e-9 and abs(e.middle[0] - 30) < 1e-9)
    change = model.do("tilt", faces=[wall.id], angle=f"{degrees}°", axis=[foot.id])
    assert model.measure(body).volume == pytest.approx(volume(profile(math.radians(degrees))), rel=1e-9)
    assert change.fact("chamfers_follow") == 1


NONE = {
    "hexagonal bar": build.extrude(
        build.outline([(20 * math.cos(t), 20 * math.sin(t), 0) for t in np.arange(6) * math.pi / 3]), (0, 0, 30)
    ),
    "wedge": build.extrude(build.outline([(0, 0, 0), (60, 0, 0), (60, 0, 5), (10, 0, 30), (0, 0, 30)]), (0, 20, 0)),
    "tapered boss": build.unite(build.box(60, 60, 10, (-30, -30, -10)), build.cone(15, 8, 7)),
    "groove": build.subtract(
        build.cylinder(20, 60),
        build.revolve(build.outline([(17, 0, 30), (21, 0, 26), (21, 0, 34)])),
    ),
}


@pytest.mark.parametrize("name", NONE)
def test_slanted_walls_are_no_chamfers(name):
    assert chamfers(topology_of(NONE[name])) == []


def test_chamfers_stay_where_that_is_asked_for_and_where_they_have_to(tmp_path):
    model, body = model_of(tmp_path, block((40, 30, 20), "sharp", 0, 2))
    (top,) = model.faces(body, normal=(0, 0, 1))
    change = model.do("push", faces=[top.id], distance=1, chamfers="staying")
    low, middle, high = 36 * 26, 35 * 25, 34 * 24  # of the frustum that is added (Simpson's rule)
    assert change.fact("volume_change") == pytest.approx((low + 4 * middle + high) / 6, rel=1e-9)
    assert change.fact("chamfers_follow") is None

    slotted = build.subtract(block((40, 30, 20), "sharp", 0, 2), build.box(6, 40, 8, (17, -5, 19)))
    model, body = model_of(tmp_path, slotted)
    left = next(f for f in model.faces(body, normal=(0, 0, 1)) if f.area > 300 and f.centroid[0] < 17)
    change = model.do("push", faces=[left.id], distance=0.5)  # two of its chamfers lie along the right one as well
    assert change.fact("chamfers_follow") is None
    assert change.fact("chamfers_stay") == 3
    assert fault(model.geometry.solid(model.body(body).shape).shape) is None


@pytest.mark.parametrize("corners", ["sharp", "rounded", "cut"])
def test_the_width_of_a_run_is_set_and_shown(tmp_path, corners):
    size = (40, 30, 20)
    model, body = model_of(tmp_path, block(size, corners, 4, 2))
    face = next(f for f in model.faces(body) if f.chamfer_widths == (2, 2) and f.kind == "plane")
    model.do("resize", faces=[face.id], measure="width", size=1.5)
    assert model.measure(body).volume == pytest.approx(volume(block(size, corners, 4, 1.5)), rel=1e-9)
    assert model.face(face.id).chamfer_widths == (1.5, 1.5)
    with pytest.raises(EditError, match="has no chamfer width"):
        model.do("resize", faces=[model.faces(body, normal=(0, 0, 1))[0].id], measure="width", size=1)


def test_a_chamfer_is_pushed_as_far_as_the_corner_it_cuts_off(tmp_path):
    model, body = model_of(tmp_path, block((40, 30, 20), "sharp", 0, 2))
    before = model.body(body)
    face = next(f for f in model.faces(body) if f.chamfer_widths)
    with pytest.raises(EditError, match="its width of 2 mm would vanish; remove it instead") as told:
        model.do("push", faces=[face.id], distance=1.5)
    assert float(told.value.nearest.split()[0]) == pytest.approx(math.sqrt(2), abs=2e-3)
    assert model.body(body) is before
