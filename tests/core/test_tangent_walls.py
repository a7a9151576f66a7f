"""Levers and links: their flat walls touch both hubs again when one grows or moves; unions leave imprints on them."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core.kernel import build
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.engine import reshape
from ravine.core.local.plan import Offset
from ravine.core.local.topology import SolidTopology
from ravine.core.rigid import Rigid
from tests.parts import model_of
from tests.varied import tangent_web

THICK = 5


def volume(shape):
    return volume_properties(shape).amount


def link(big, small, apart, rise):
    """Two hubs with bores and a tangent web, all flush below; with a rise the hubs are bosses, their faces split."""
    part = tangent_web(big, small, apart, THICK)
    if rise:
        bosses = [build.cylinder(big, THICK + rise), build.cylinder(small, THICK + rise, (apart, 0, 0))]
        part = combine("unite", part, bosses, merge=False)[0]
    bores = [build.cylinder(big / 3, 60, (0, 0, -20)), build.cylinder(small / 2, 60, (apart, 0, -20))]
    return combine("subtract", part, bores, merge=False)[0]


def link_volume(big, small, apart, rise, bores):
    """Sectors of both hubs, the two trapeziums between them, and the bosses."""
    turn = math.asin((big - small) / apart)
    flank = math.sqrt(apart**2 - (big - small) ** 2)
    web = (math.pi / 2 + turn) * big**2 + (math.pi / 2 - turn) * small**2 + (big + small) * flank
    return web * THICK + math.pi * (big**2 + small**2) * rise - math.pi * sum(r * r for r in bores) * (THICK + rise)


def walls_of(topology, radius, x):
    return [
        f for f in range(topology.index.count("face"))
        if topology.surface(f).kind == "cylinder" and abs(topology.surface(f).radius - radius) < 1e-6
        and abs(topology.surface(f).axial.origin[0] - x) < 1e-6
    ]  # fmt: skip


SIZES = (st.floats(9, 14), st.floats(5, 8), st.floats(30, 50), st.sampled_from([0, 4]))


@settings(max_examples=20, deadline=None)
@given(*SIZES, st.booleans(), st.floats(-1.5, 3).filter(lambda d: abs(d) > 1e-3))
def test_a_pushed_hub_grows_alone(big, small, apart, rise, first, step):
    part = link(big, small, apart, rise)
    topology = SolidTopology(ShapeIndex(part))
    bores = big / 3, small / 2
    assert volume(part) == pytest.approx(link_volume(big, small, apart, rise, bores), rel=1e-9)
    hub = walls_of(topology, big, 0)[0] if first else walls_of(topology, small, apart)[0]
    result = reshape(topology, {hub: Offset(step)})
    wanted = link_volume(big + step * first, small + step * (not first), apart, rise, bores)
    assert volume(result.shape) == pytest.approx(wanted, rel=1e-9)
    assert volume(part) + result.volume_change == pytest.approx(wanted, rel=1e-9)
    assert fault(result.shape) is None


@settings(max_examples=15, deadline=None)
@given(*SIZES, st.floats(-4, 9), st.floats(-8, 8))
def test_a_moved_hub_takes_the_flanks_along(big, small, apart, rise, x, y):
    part = link(big, small, apart, rise)
    topology = SolidTopology(ShapeIndex(part))
    slide = Rigid.slide(np.array([x, y, 0.0]))
    faces = walls_of(topology, small, apart) + walls_of(topology, small / 2, apart)
    result = reshape(topology, dict.fromkeys(faces, slide))
    wanted = link_volume(big, small, math.hypot(apart + x, y), rise, (big / 3, small / 2))
    assert volume(result.shape) == pytest.approx(wanted, rel=1e-9)
    assert fault(result.shape) is None


def test_a_slot_is_pushed_as_one_but_bosses_of_one_size_are_not():
    topology = SolidTopology(
        ShapeIndex(build.subtract(build.box(60, 30, 10, (-20, -15, 0)), tangent_web(5, 5, 20, THICK)))
    )
    wall = walls_of(topology, 5, 20)[0]
    result = reshape(topology, {wall: Offset(-1.0)})
    grown = (2 * (6 * 20) + math.pi * 36 - 2 * 5 * 20 - math.pi * 25) * THICK
    assert result.volume_change == pytest.approx(-grown, rel=1e-9)
    topology = SolidTopology(ShapeIndex(link(8, 8, 40, 3)))
    result = reshape(topology, {walls_of(topology, 8, 0)[0]: Offset(1.0)})
    assert volume(result.shape) == pytest.approx(link_volume(9, 8, 40, 3, (8 / 3, 4)), rel=1e-9)


def test_the_size_of_a_hub_is_its_diameter(tmp_path):
    model, body = model_of(tmp_path, link(12, 6, 40, 0))
    hub = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 6) < 1e-9)
    change = model.do("resize", faces=[hub.id], measure="diameter", size=14)
    assert model.measure(body).volume == pytest.approx(link_volume(12, 7, 40, 0, (4, 3)), rel=1e-9)
    assert not change.warnings
