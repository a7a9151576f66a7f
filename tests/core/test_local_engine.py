"""The local face engine against parts built at the new size: volumes by formula, refusals, round trips, chains."""

import math
import random

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.address import digest
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.engine import reshape
from ravine.core.local.failure import LocalFailure
from ravine.core.local.plan import Offset
from ravine.core.local.topology import SolidTopology
from ravine.core.rigid import Rigid
from tests.parts import boss_block, drilled_block, model_of

QUICK = settings(max_examples=20, deadline=None)


def topology_of(shape):
    return SolidTopology(ShapeIndex(shape))


def faces_by(topology, kind, radius=None, normal=None):
    found = []
    for face in range(topology.index.count("face")):
        surface = topology.surface(face)
        if surface.kind != kind or (radius is not None and abs(surface.radius - radius) > 1e-6):
            continue
        if normal is not None and float(topology.sign(face) * surface.axial.z @ normal) < 1 - 1e-9:
            continue
        found.append(face)
    return found


def settled(result, expected, rel=1e-6):
    """Sound by the kernel's full check, of the expected volume, and the told change agrees."""
    assert fault(result.shape) is None
    assert volume_properties(result.shape).amount == pytest.approx(expected, rel=rel)


def rounded_box(a, b, c, r):
    """Volume of a box with every edge rounded (Steiner's formula on the inner box)."""
    a, b, c = a - 2 * r, b - 2 * r, c - 2 * r
    return a * b * c + 2 * r * (a * b + b * c + c * a) + math.pi * r**2 * (a + b + c) + 4 / 3 * math.pi * r**3


@QUICK
@given(st.floats(1, 9), st.floats(-3, 3))
def test_a_hole_takes_its_new_radius(radius, step):
    assume(0.3 < radius + step < 14.5 and abs(step) > 1e-3)
    topology = topology_of(drilled_block(radius=radius))
    wall = faces_by(topology, "cylinder")[0]
    settled(reshape(topology, {wall: Offset(-step)}), (40 * 30 - math.pi * (radius + step) ** 2) * 20)


def sieve(radii, thickness=5.0):
    """A plate of 50 × 30 with holes in rows of five, 10 apart, and their centres."""
    centres = [(5.0 + 10 * (k % 5), 5.0 + 10 * (k // 5)) for k in range(len(radii))]
    tools = [build.cylinder(r, thickness + 2, (*c, -1)) for r, c in zip(radii, centres, strict=True)]
    return topology_of(build.subtract(build.box(50, 30, thickness), *tools)), centres


@settings(max_examples=60, deadline=None)
@given(st.lists(st.floats(0.5, 4.4), min_size=8, max_size=15), st.integers(0, 14), st.floats(0.4, 16))
def test_a_hole_among_many_grows_until_it_meets_another_or_the_border(radii, chosen, size):
    """A large flat face is not looked at as a whole: holes that cross or lie in one another must still be found."""
    chosen %= len(radii)
    radii = [r + 1e-3 * k for k, r in enumerate(radii)]  # told apart
    topology, centres = sieve(radii)
    x, y = centres[chosen]
    room = [math.dist((x, y), c) - r for k, (c, r) in enumerate(zip(centres, radii, strict=True)) if k != chosen]
    room += [x, y, 50 - x, 30 - y]
    assume(abs(min(room) - size) > 0.01 and abs(size - radii[chosen]) > 1e-3)
    wall = next(f for f in faces_by(topology, "cylinder", radii[chosen]) if abs(topology.middle(f)[0][0] - x) < 5)
    asked = {wall: Offset(radii[chosen] - size)}
    if min(room) > size:
        rest = sum(math.pi * r**2 for k, r in enumerate(radii) if k != chosen)
        settled(reshape(topology, asked), (1500 - rest - math.pi * size**2) * 5)
    else:
        with pytest.raises(LocalFailure):
            reshape(topology, asked)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(0.5, 4.4), min_size=8, max_size=15), st.integers(0, 3), st.floats(-45, 10))
def test_a_side_of_a_plate_with_many_holes_moves_until_it_meets_one(radii, side, distance):
    topology, centres = sieve(radii)
    along, low = side // 2, side % 2 == 0
    extent = (50, 30)[along]
    walls = [c[along] - r if low else extent - c[along] - r for c, r in zip(centres, radii, strict=True)]
    assume(abs(min(walls) + distance) > 0.01 and extent + distance > 1 and abs(distance) > 1e-3)
    normal = [0.0, 0.0, 0.0]
    normal[along] = -1.0 if low else 1.0
    asked = {faces_by(topology, "plane", normal=normal)[0]: Offset(distance)}
    if min(walls) + distance > 0:
        area = (50 + (distance if along == 0 else 0)) * (30 + (distance if along else 0))
        settled(reshape(topology, asked), (area - sum(math.pi * r**2 for r in radii)) * 5)
    else:
        with pytest.raises(LocalFailure):
            reshape(topology, asked)


@QUICK
@given(st.floats(0.5, 6), st.integers(0, 5), st.floats(-5, 20))
def test_a_box_rounded_all_over_grows_with_its_rounds(radius, side, distance):
    assume(abs(distance) > 1e-3)
    size = [40.0, 30.0, 20.0]
    assume(size[side // 2] + distance > 2 * radius + 0.1)
    topology = topology_of(build.fillet(build.box(*size), radius, lambda e: True))
    normal = [0.0, 0.0, 0.0]
    normal[side // 2] = 1.0 if side % 2 else -1.0
    result = reshape(topology, {faces_by(topology, "plane", normal=normal)[0]: Offset(distance)})
    size[side // 2] += distance
    settled(result, rounded_box(*size, radius))
    assert len(result.followed) == 8  # the four rounds and four balls at the far end of the moved side


@QUICK
@given(st.floats(1, 6), st.floats(-4, 3))
def test_a_picked_round_changes_with_its_whole_chain(radius, step):
    assume(0.3 < radius + step < 9.5 and abs(step) > 1e-3)
    topology = topology_of(build.fillet(build.box(40, 30, 20), radius, lambda e: True))
    result = reshape(topology, {faces_by(topology, "cylinder")[0]: Offset(step)})
    settled(result, rounded_box(40, 30, 20, radius + step))


@QUICK
@given(st.floats(3, 9), st.floats(1, 8), st.floats(4, 12), st.floats(-3, 10))
def test_a_tapered_boss_follows_its_cone(low, drop, height, distance):
    high = max(low - drop, 0.5)
    assume(low - high > 0.2 and height + distance > 0.5 and abs(distance) > 1e-3)
    slope = (low - high) / height
    grown = high - slope * distance
    assume(grown > 0.2)
    topology = topology_of(build.unite(build.box(40, 30, 5), build.cone(low, high, height, (20, 15, 5))))
    top = max(faces_by(topology, "plane", normal=(0, 0, 1)), key=lambda f: topology.middle(f)[0][2])
    h = height + distance
    settled(
        reshape(topology, {top: Offset(distance)}),
        40 * 30 * 5 + math.pi * h / 3 * (low**2 + low * grown + grown**2),
    )


@QUICK
@given(st.floats(2, 4), st.floats(5, 8), st.floats(3, 9), st.floats(-2, 6))
def test_the_floor_of_a_stepped_hole(small, large, depth, deeper):
    assume(abs(deeper) > 1e-3 and depth + deeper < 17)
    body = build.subtract(
        build.box(40, 30, 20), build.cylinder(small, 22, (20, 15, -1)),
        build.cylinder(large, depth + 1, (20, 15, 20 - depth)),
    )  # fmt: skip
    topology = topology_of(body)
    floor = min(faces_by(topology, "plane", normal=(0, 0, 1)), key=lambda f: topology.middle(f)[0][2])
    d = depth + deeper
    settled(reshape(topology, {floor: Offset(-deeper)}), 24000 - math.pi * (large**2 * d + small**2 * (20 - d)))


@QUICK
@given(st.floats(-12, 12), st.floats(-7, 7), st.floats(-0.4, 0.4))
def test_a_moved_and_leant_hole_keeps_its_wall(x, y, angle):
    topology = topology_of(drilled_block(radius=3))
    wall = faces_by(topology, "cylinder")[0]
    moved = reshape(topology, {wall: Rigid.slide([x, y, 0])})
    settled(moved, (1200 - math.pi * 9) * 20)
    assume(abs(angle) > 1e-3)
    leant = reshape(topology, {wall: Rigid.about([20, 15, 10], [0, 1, 0], angle)})
    settled(leant, 24000 - math.pi * 9 / math.cos(angle) * 20)  # a slanted cylinder between two planes


@QUICK
@given(st.floats(-0.5, 0.5))
def test_a_tilted_side_of_a_prism(angle):
    assume(abs(angle) > 1e-4)
    topology = topology_of(build.box(40, 30, 20))
    side = faces_by(topology, "plane", normal=(1, 0, 0))[0]
    result = reshape(topology, {side: Rigid.about([40, 0, 0], [0, 1, 0], angle)})
    settled(result, 24000 + 30 * 20**2 * math.tan(angle) / 2)


def test_a_slot_widens_with_its_round_ends():
    def slot(width):
        middle = build.box(20, width, 30, (10, 15 - width / 2, -5))
        ends = [build.cylinder(width / 2, 30, (x, 15, -5)) for x in (10, 30)]
        return build.subtract(build.box(40, 30, 20), build.unite(middle, *ends))

    topology = topology_of(slot(8.0))
    wall = next(f for f in faces_by(topology, "plane", normal=(0, 1, 0)) if len(topology.neighbours(f, "smooth")) == 2)
    result = reshape(topology, {wall: Offset(-2)})
    settled(result, 24000 - (20 * 10 + math.pi * 25) * 20)


def test_both_walls_of_a_slot_at_once_and_a_crossing_bore():
    bore = build.subtract(build.cylinder(10, 40), build.cylinder(4, 40, (-20, 0, 20), (1, 0, 0)))
    topology = topology_of(bore)
    wall = faces_by(topology, "cylinder", radius=4)[0]
    expected = volume_properties(
        build.subtract(build.cylinder(10, 40), build.cylinder(6.5, 40, (-20, 0, 20), (1, 0, 0)))
    ).amount
    settled(reshape(topology, {wall: Offset(-2.5)}), expected, rel=1e-5)


@pytest.mark.parametrize("shape", [boss_block(), drilled_block(), build.fillet(boss_block(), 2, lambda e: (
    e.kind == "circle" and e.radius > 5 and abs(e.middle[2] - 10) < 1e-6))])  # fmt: skip
def test_out_and_back_is_where_it_was(shape):
    topology = topology_of(shape)
    volume = volume_properties(shape).amount
    for face in range(topology.index.count("face")):
        there = reshape(topology, {face: Offset(0.7)})
        back = reshape(there.topology, {face: Offset(-0.7)})
        assert fault(back.shape) is None
        assert volume_properties(back.shape).amount == pytest.approx(volume, rel=1e-9)
        assert there.volume_change == pytest.approx(-back.volume_change, rel=1e-6, abs=1e-6)
        points = [(topology.point(v), back.topology.point(v)) for v in range(topology.index.count("vertex"))]
        assert max(float(abs(a - b).max()) for a, b in points) < 1e-7


def test_fifty_chained_edits_stay_sound(tmp_path):
    chance = random.Random(7)
    plate = build.fillet(boss_block(), 1.5, lambda e: e.kind == "line" and abs(e.length - 10) < 1e-6)
    model, body = model_of(tmp_path, plate)
    known = set(model.body(body).faces)
    done = 0
    for turn in range(400):
        face = chance.choice(model.faces(body))
        try:
            model.do("push", faces=[face.id], distance=chance.uniform(-1.5, 1.5))
        except EditError:
            continue
        done += 1
        solid = model.geometry.solid(model.body(body).shape)
        assert solid.volume_mm3 == pytest.approx(volume_properties(solid.shape).amount, rel=1e-7), turn
        if done % 5 == 0:
            assert fault(solid.shape) is None
        if done == 50:
            break
    assert done == 50
    assert set(model.body(body).faces) <= known


@pytest.mark.parametrize(
    ("edit", "values", "words"),
    [
        ("push", {"distance": 5.1}, "radius of 5 mm would vanish"),
        ("resize", {"measure": "diameter", "size": 60}, "cross"),
        ("move faces", {"along": "z", "distance": 5}, ""),
        ("tilt", {"angle": "89.99°"}, "Tilting"),
    ],
)
def test_refusals_leave_the_very_same_bytes(tmp_path, edit, values, words):
    model, body = model_of(tmp_path, drilled_block())
    wall = model.faces(body, kind="cylinder")[0].id
    if edit == "tilt":
        values = {**values, "axis": [model.edges(body)[0].id]}
    address = model.body(body).shape
    before, blob, steps = model.snapshot, model.geometry.blob(address), len(model.journal)
    if edit == "move faces":  # along its own axis a through hole stays where it is: nothing to refuse
        model.do(edit, faces=[wall], **values)
        model.undo()
    else:
        with pytest.raises(EditError, match=words):
            model.do(edit, faces=[wall], **values)
    assert model.snapshot == before
    assert model.geometry.blob(address) == blob
    assert digest(blob) == address
    assert len(model.journal) == steps


def test_running_into_another_face_is_seen():
    two = build.subtract(
        build.box(60, 30, 20), build.cylinder(4, 22, (20, 15, -1)), build.cylinder(4, 22, (40, 15, -1))
    )
    topology = topology_of(two)
    walls = faces_by(topology, "cylinder")
    with pytest.raises(LocalFailure, match=r"cross|run into"):
        reshape(topology, {walls[0]: Offset(-14)})
    pocket = build.subtract(build.box(40, 30, 20), build.box(10, 10, 8, (15, 10, 12)))
    topology = topology_of(pocket)
    floor = min(faces_by(topology, "plane", normal=(0, 0, 1)), key=lambda f: topology.middle(f)[0][2])
    with pytest.raises(LocalFailure, match="run into"):
        reshape(topology, {floor: Offset(-15)})
    hollow = build.subtract(build.box(40, 30, 20), build.sphere(5, (20, 15, 10)))
    topology = topology_of(hollow)
    ball = faces_by(topology, "sphere")[0]
    settled(reshape(topology, {ball: Offset(-3)}), 24000 - 4 / 3 * math.pi * 512)
    with pytest.raises(LocalFailure):  # the hollow pokes through top and bottom
        reshape(topology, {ball: Offset(-6)})


def test_cost_does_not_grow_with_the_part():
    """Only faces touched by the change are made anew, whatever the rest."""
    body = build.box(200, 30, 10)
    for i in range(12):
        body = build.subtract(body, build.cylinder(3, 12, (10 + 15 * i, 15, -1)))
    topology = topology_of(body)
    wall = faces_by(topology, "cylinder")[5]
    result = reshape(topology, {wall: Offset(-0.5)})
    assert len(result.faces) == 3  # the wall and the two planes
    kept = [f for f in range(topology.index.count("face")) if f not in result.faces]
    assert all(topology.index.get("face", f).IsSame(result.topology.index.get("face", f)) for f in kept)


def test_a_tried_solid_numbers_its_parts_as_the_whole_does(tmp_path):
    """Its parts are not mapped before it is kept; until then what changed lies over the solid before."""
    random.seed(7)
    shape = build.fillet(boss_block(), 2, lambda e: e.kind == "circle" and abs(e.radius - 10) < 1e-9)
    topology = topology_of(shape)
    for _ in range(12):
        face = random.randrange(topology.index.count("face"))
        try:
            result = reshape(topology, {face: Offset(random.uniform(-0.4, 0.4))})
        except LocalFailure:
            continue
        tried, whole = result.topology.index, ShapeIndex(result.shape)
        for kind in ("face", "edge", "vertex"):
            assert tried.count(kind) == whole.count(kind)
            for n in range(whole.count(kind)):
                assert tried.get(kind, n).IsEqual(whole.get(kind, n))
                assert tried.find(kind, whole.get(kind, n)) == n
        gone = [topology.index.get("face", n) for n in result.faces]
        assert all(tried.find("face", f) == -1 for f in gone)
        told = volume_properties(topology.index.shape).amount + result.volume_change
        assert volume_properties(result.shape).amount == pytest.approx(told, rel=1e-9)
        result.settle()
        topology = result.topology
