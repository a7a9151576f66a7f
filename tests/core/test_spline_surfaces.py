"""Faces on B-spline surfaces: arrays against the kernel, surfaces carried on, pushes by formula."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepBuilderAPI import BRepBuilderAPI_NurbsConvert

from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.extension import extended
from ravine.core.kernel.shapes import Shape, ShapeIndex
from ravine.core.kernel.spline_net import SplineNet
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.engine import reshape
from ravine.core.local.plan import Offset
from ravine.core.local.topology import SolidTopology
from ravine.demo.logger_housing import logger_housing
from ravine.demo.rotor import rotor


def as_splines(shape: Shape) -> SolidTopology:
    return SolidTopology(ShapeIndex(BRepBuilderAPI_NurbsConvert(shape, True).Shape()))


def net(seed: int, weights: bool) -> SplineNet:
    """A gently bent net of 5 × 4 poles, cubic by quadratic, over x 0…40 and y 0…30."""
    rng = np.random.default_rng(seed)
    x, y = np.meshgrid(np.linspace(0, 40, 5), np.linspace(0, 30, 4), indexing="ij")
    w = 1 + 0.3 * rng.random(x.shape) if weights else np.ones_like(x)
    places = np.stack([x, y, rng.uniform(-2, 2, x.shape)], axis=-1)
    poles = np.concatenate([places * w[..., None], w[..., None]], axis=-1)
    u = np.array([0.0, 0, 0, 0, 0.4, 1, 1, 1, 1])
    v = np.array([2.0, 2, 2, 3.5, 5, 5, 5])
    return SplineNet(poles, (u, v), (3, 2), (0.0, 0.0))


def curve_through(surface: object, u: float, v: float) -> np.ndarray:
    p = surface.Value(u, v)  # type: ignore[attr-defined]
    return np.array([p.X(), p.Y(), p.Z()])


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_arrays_say_what_the_kernel_says(seed: int, weights: bool) -> None:
    flat = net(seed, weights)
    surface = flat.surface()
    rng = np.random.default_rng(seed + 1)
    uv = np.column_stack([rng.uniform(0, 1, 12), rng.uniform(2, 5, 12)])
    places, du, dv = flat.at(uv, 1)
    assert np.abs(places - [curve_through(surface, *row) for row in uv.tolist()]).max() < 1e-11
    step = 1e-6
    for k, slope in ((0, du), (1, dv)):
        shift = step * np.eye(2)[k]
        inner = np.clip(uv, [step, 2 + step], [1 - step, 5 - step])
        by_difference = (flat.at(inner + shift)[0] - flat.at(inner - shift)[0]) / (2 * step)
        assert np.abs(by_difference - flat.at(inner, 1)[1 + k]).max() < 1e-5 * (1 + np.abs(slope).max())


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_the_foot_of_a_point_off_the_surface_is_where_it_was_raised(seed: int, weights: bool) -> None:
    flat = net(seed, weights)
    rng = np.random.default_rng(seed)
    uv = np.column_stack([rng.uniform(0.05, 0.95, 30), rng.uniform(2.1, 4.9, 30)])
    places, normals = flat.normals(uv)
    found, settled = flat.feet(places + 0.3 * normals)
    assert settled.all()
    assert np.abs(found - uv).max() < 1e-9


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_a_surface_carried_on_stays_what_it_was_and_goes_on_smoothly(seed: int, weights: bool) -> None:
    flat = net(seed, weights)
    surface = flat.surface()
    longer = extended(surface, (0.0, 1.0, 2.0, 5.0), 6.0)
    bounds = longer.Bounds()
    assert bounds[0] < 0
    assert bounds[1] > 1
    assert bounds[2] < 2
    assert bounds[3] > 5
    for u in np.linspace(0, 1, 7):
        for v in np.linspace(2, 5, 7):
            here, there = (curve_through(s, float(u), float(v)) for s in (surface, longer))
            assert np.abs(here - there).max() < 1e-10
    # one polynomial on both sides of the old border: fourth differences of a cubic vanish
    if not weights:
        at = [curve_through(longer, 1.0 + k * (bounds[1] - 1) / 2, 3.0) for k in range(-2, 3)]
        assert np.abs(at[0] - 4 * at[1] + 6 * at[2] - 4 * at[3] + at[4]).max() < 1e-9


def test_where_there_is_room_the_surface_is_the_very_same() -> None:
    surface = net(1, False).surface()
    assert extended(surface, (0.4, 0.6, 3.4, 3.6), 3.0) is surface


@pytest.mark.parametrize("distance", [2.0, -2.0, 0.01])
def test_each_side_of_a_box_of_spline_faces_is_pushed_exactly(distance: float) -> None:
    topology = as_splines(build.box(30, 20, 10))
    areas = []
    for face in range(6):
        assert topology.surface(face).kind == "spline"
        result = reshape(topology, {face: Offset(distance)})
        assert fault(result.shape) is None
        areas.append((volume_properties(result.shape).amount - 6000) / distance)
    assert sorted(areas) == pytest.approx([200, 200, 300, 300, 600, 600], rel=1e-7)


@pytest.mark.parametrize("distance", [1.5, -1.5])
def test_the_wall_of_a_spline_cylinder_changes_its_radius(distance: float) -> None:
    topology = as_splines(build.cylinder(8, 20))
    wall = next(f for f in range(3) if topology.surface(f).periods[0])
    result = reshape(topology, {wall: Offset(distance)})
    assert fault(result.shape) is None
    uv = np.stack(np.meshgrid(np.linspace(0, 2 * math.pi, 23), np.linspace(0, 20, 5)), axis=-1).reshape(-1, 2)
    places = result.topology.surface(wall).points(uv)
    assert np.abs(np.hypot(*places.T[:2]) - (8 + distance)).max() < 1e-9
    radii = [result.topology.curve(e)[0].numbers for e in range(result.topology.index.count("edge"))]
    assert [r for r in radii if r] == [pytest.approx((8 + distance,))] * 2
    volume = math.pi * (8 + distance) ** 2 * 20
    assert volume_properties(result.shape).amount == pytest.approx(volume, rel=1e-8)
    before = volume_properties(topology.index.shape).amount
    assert result.volume_change == pytest.approx(volume - before, rel=1e-7)


@pytest.mark.parametrize(
    "shape",
    [
        build.cylinder(8, 20, (5, -3, 40)),
        build.sphere(5, (3, 2, 1)),
        build.torus(10, 3, (0, 7, 0), (1, 2, 2)),
        build.cone(6, 2, 9, (1, 1, 1)),
        build.subtract(build.box(30, 20, 10), build.cylinder(4, 12, (11, 9, -1)), build.sphere(6, (30, 20, 10))),
        logger_housing(),
    ],
)
def test_a_solid_of_spline_faces_weighs_what_the_exact_one_does(shape: Shape) -> None:
    """The kernel's own integration is off by up to a percent for these."""
    exact = volume_properties(shape)
    found = volume_properties(as_splines(shape).index.shape)
    assert found.amount == pytest.approx(exact.amount, rel=1e-7)
    assert found.centroid == pytest.approx(exact.centroid, abs=1e-5)
    size = np.abs(exact.inertia).max()
    assert np.abs(np.array(found.inertia) - exact.inertia).max() < 1e-5 * size


def test_rotor_blades_grow_thicker_and_thinner() -> None:
    topology = SolidTopology(ShapeIndex(rotor()))
    blade = next(f for f in range(topology.index.count("face")) if topology.surface(f).kind == "spline")
    before = volume_properties(topology.index.shape).amount
    thicker, thinner = (reshape(topology, {blade: Offset(d)}) for d in (0.2, -0.2))
    for result in (thicker, thinner):
        assert fault(result.shape) is None
        change = volume_properties(result.shape).amount - before
        assert change == pytest.approx(result.volume_change, rel=1e-4)
    area = (thicker.volume_change - thinner.volume_change) / 0.4
    assert 40 * 15 < area < 45 * 26  # about the blade's length by its chord
    again = reshape(thicker.topology, {blade: Offset(-0.2)})
    assert volume_properties(again.shape).amount == pytest.approx(before, rel=1e-6)
