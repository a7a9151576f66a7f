"""Rounds along no line or circle: read from what another kernel only came near to, and rolled along."""

import math
import random

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.rebuild import rooted
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.conversion import converted
from ravine.core.local.engine import reshape
from ravine.core.local.fillets import fillet_of
from ravine.core.local.plan import Offset, Radius
from ravine.core.local.topology import SolidTopology
from tests.varied import frustum, joined, lever

FEW = settings(max_examples=8, deadline=None, derandomize=True, phases=(Phase.generate,))  # slow to shrink


def brought_in(shape):
    return converted(SolidTopology(rooted(ShapeIndex(shape))))[0]


def faces_of_kind(topology, kind):
    return [f for f in range(topology.index.count("face")) if topology.surface(f).kind == kind]


def axis_distance(points, origin, way):
    w = points - np.array(origin)
    return np.linalg.norm(w - (w @ way)[:, None] * way, axis=1)


def ball_centres(topology, face, radius, way):
    """Where a ball of this size lies that touches the face inside its bounds, and on its edges."""
    u0, u1, v0, v1 = topology.bounds(face)
    u, v = np.meshgrid(np.linspace(u0, u1, 7), np.linspace(v0, v1, 11))
    surface = topology.surface(face)
    points = surface.points(np.column_stack([u.reshape(-1), v.reshape(-1)]))
    points = np.concatenate([points, *(topology.samples(e, 9) for e in topology.edges_of(face))])
    return points + way * radius * topology.outward(face, points)


@pytest.mark.parametrize("seed", range(8))
def test_the_round_around_a_branch_follows_both_pipes(seed):
    """Drawn by number: what hypothesis draws hangs on which modules are loaded, and a draw takes two seconds."""
    draw = random.Random(seed)
    large, share, off, lean = (draw.uniform(*ends) for ends in ((10, 18), (0.3, 0.6), (-0.2, 0.2), (-0.4, 0.4)))
    radius = draw.choice([0.6, 0.75, 1.5875, 2, draw.uniform(0.6, 2)])
    step = draw.choice([-1, 1]) * draw.uniform(0.02, 0.8)
    small, off = share * large, off * large
    way = np.array([0.0, math.sin(lean), math.cos(lean)])
    pipe = joined(
        build.cylinder(large, 80, (-40, 0, 0), (1, 0, 0)), build.cylinder(small, 45, (0, off, 0), way.tolist())
    )
    try:
        shape = build.fillet(pipe, radius, lambda e: e.kind == "spline" and e.middle[2] < 1.2 * large + radius)
    except EditError:
        pytest.skip("the kernel does not round this one")
    if fault(shape) is not None:
        pytest.skip("the kernel's round is not sound")
    topology = brought_in(shape)
    branch = [f for f in faces_of_kind(topology, "cylinder") if abs(topology.surface(f).radius - small) < 1e-6]
    result = reshape(topology, {branch[0]: Offset(step)})
    assert fault(result.shape) is None
    told = volume_properties(result.shape).amount - volume_properties(topology.index.shape).amount
    assert told == pytest.approx(result.volume_change, abs=1e-6)
    after = SolidTopology(ShapeIndex(result.shape))
    canals = faces_of_kind(after, "spline")
    assert canals
    assert set(canals) <= result.followed
    for face in canals:
        centres = ball_centres(after, face, radius, 1.0)
        assert axis_distance(centres, (0, 0, 0), np.array([1.0, 0, 0])) == pytest.approx(large + radius, abs=5e-6)
        assert axis_distance(centres, (0, off, 0), way) == pytest.approx(small + step + radius, abs=5e-6)


def ball_on_a_stem(ball, stem, radius, low, high):
    """Volume of a ball cut flat at `low`, with a stem up to `high` and a round between them, by its profile."""
    height = math.sqrt((ball + radius) ** 2 - (stem + radius) ** 2)  # of the round's centre circle
    on_ball = height * ball / (ball + radius)

    def area(z):
        if z < on_ball:
            return ball**2 - z**2
        if z < height:
            return (stem + radius - math.sqrt(radius**2 - (height - z) ** 2)) ** 2
        return stem**2

    return math.pi * quad(area, low, high, points=[on_ball, height], epsabs=1e-9, epsrel=1e-12)[0]


@FEW
@given(st.floats(12, 16), st.floats(4, 6), st.floats(0.5, 1.5), st.floats(-1, 1), st.floats(-0.4, 0.4))
def test_a_round_between_ball_and_stem_is_the_ring_it_really_is(ball, stem, radius, step, wider):
    body = joined(build.sphere(ball), build.cylinder(stem, 30))
    body = build.subtract(body, build.box(60, 60, 20, (-30, -30, -28)))
    shape = build.fillet(body, radius, lambda e: e.kind == "circle" and 8 < e.middle[2] < 25)
    topology = brought_in(shape)
    assert faces_of_kind(topology, "torus")
    assert not faces_of_kind(topology, "spline")
    wall = faces_of_kind(topology, "cylinder")[0]
    grown = reshape(topology, {wall: Offset(step)})
    assert fault(grown.shape) is None
    expected = ball_on_a_stem(ball, stem + step, radius, -8, 30)
    assert volume_properties(grown.shape).amount == pytest.approx(expected, rel=1e-7)
    ring = faces_of_kind(grown.topology, "torus")[0]
    wide = reshape(grown.topology, {ring: Radius(radius + wider)})
    expected = ball_on_a_stem(ball, stem + step, radius + wider, -8, 30)
    assert volume_properties(wide.shape).amount == pytest.approx(expected, rel=1e-7)


def test_a_drafted_casting_comes_in_as_it_was_meant_and_its_rounds_follow():
    """Planes and cylinders written as splines, rounds that touch them only nearly, around corners where no line or
    circle leads."""
    block = frustum(0, 0, 60, 44, 0, 24, math.radians(2))
    block = build.fillet(block, 5, lambda e: abs(e.middle[2] - 12) < 1e-3)
    block = build.fillet(block, 2, lambda e: abs(e.middle[2] - 24) < 1e-4)
    before = volume_properties(block).amount
    topology = brought_in(block)
    assert [len(faces_of_kind(topology, kind)) for kind in ("plane", "cylinder", "spline")] == [6, 8, 4]
    assert volume_properties(topology.index.shape).amount == pytest.approx(before, rel=2e-6)
    assert all(fillet_of(topology, f).radius == 2.0 for f in faces_of_kind(topology, "spline"))
    top = max(faces_of_kind(topology, "plane"), key=lambda f: topology.boxes[f][2])
    raised = reshape(topology, {top: Offset(3.0)})
    assert fault(raised.shape) is None
    assert len(raised.followed) == 8
    assert all(fillet_of(raised.topology, f).radius == 2.0 for f in faces_of_kind(raised.topology, "spline"))
    back = reshape(raised.topology, {top: Offset(-3.0)})
    start = volume_properties(topology.index.shape).amount
    assert volume_properties(back.shape).amount == pytest.approx(start, rel=1e-9)
    corner = next(f for f in faces_of_kind(topology, "cylinder") if topology.surface(f).radius > 4)
    assert fault(reshape(topology, {corner: Offset(-1.0)}).shape) is None


@pytest.mark.parametrize("step", [0.1, 1.0, -0.1])
def test_chamfered_hubs_with_a_tangent_web_grow_together(step):
    """The chamfer's seam has to reach farther than its old curve, and the keyway beside it is not run into."""
    topology = brought_in(lever())
    hub = max(faces_of_kind(topology, "cylinder"), key=lambda f: topology.surface(f).radius)
    result = reshape(topology, {hub: Offset(step)})
    assert fault(result.shape) is None
    back = reshape(result.topology, {hub: Offset(-step)})
    start = volume_properties(topology.index.shape).amount
    assert volume_properties(back.shape).amount == pytest.approx(start, rel=1e-9)


@given(st.floats(2, 7), st.floats(0.4, 0.95))
@settings(max_examples=12, deadline=None, derandomize=True)
def test_bores_that_cross_have_their_exact_volume(large, share):
    small = share * large
    block = build.box(30, 30, 30, (-15, -15, -15))
    drilled = build.subtract(build.subtract(block, build.cylinder(large, 40, (0, 0, -20))),
                             build.cylinder(small, 40, (-20, 0, 0), (1, 0, 0)))  # fmt: skip
    shared = 8 * quad(lambda x: math.sqrt((large**2 - x**2) * (small**2 - x**2)), 0, small, epsabs=1e-11)[0]
    expected = 27000 - math.pi * 30 * (large**2 + small**2) + shared
    assert volume_properties(drilled).amount == pytest.approx(expected, rel=1e-7)
