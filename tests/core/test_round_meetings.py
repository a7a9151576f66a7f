"""Rounds that grow into one another, roll off a face or end in a wall: volumes by integration of their sections."""

import itertools
import math

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.closing import close_up
from ravine.core.local.fillets import fillet_of
from ravine.core.local.topology import SolidTopology
from tests.parts import model_of

SOME = settings(max_examples=6, deadline=None, phases=(Phase.generate,))


def turned(height, low, high, breaks):
    """Volume of a ring between two radii under a height."""
    places = sorted({low, high, *(b for b in breaks if low < b < high)})
    pieces = itertools.pairwise(places)
    return sum(quad(lambda x: 2 * math.pi * x * height(x), a, b, epsabs=1e-10)[0] for a, b in pieces)


def arc(x, centre, r):
    """How far an arc of radius r stands off its tangent line, at a distance from where it leaves it."""
    return r - math.sqrt(max(r**2 - min(abs(x - centre), r) ** 2, 0.0))


def sound(model, body):
    return fault(model.geometry.solid(model.body(body).shape).shape)


def of_radius(model, body, kind, radius):
    return next(f.id for f in model.faces(body, kind=kind) if f.radius == pytest.approx(radius))


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("meetings")


@SOME
@given(st.floats(2, 3), st.floats(0.6, 1.4), st.floats(0.1, 0.9))
def test_a_bore_grows_until_the_rounds_of_its_rim_meet_in_an_edge(folder, bore, r, share):
    """A bush of radius 6 and height 10 with a round on both rims of one end; the flat between them vanishes."""
    body = build.subtract(build.cylinder(6, 10), build.cylinder(bore, 12, (0, 0, -1)))
    rims = build.fillet(body, r, lambda e: e.kind == "circle" and abs(e.middle[2] - 10) < 1e-6)
    model, body = model_of(folder, rims)
    wanted = 6 - r - share * r  # the wall is between one and two radii thick
    wall = of_radius(model, body, "cylinder", bore)
    model.do("push", faces=[wall], distance=bore - wanted)

    def height(x):
        return 10 - max(arc(x, 6 - r, r) if x > 6 - r else 0, arc(x, wanted + r, r) if x < wanted + r else 0)

    expected = turned(height, wanted, 6, [6 - r, wanted + r, (6 + wanted) / 2])
    assert model.measure(body).volume == pytest.approx(expected, rel=1e-7)
    assert sound(model, body) is None
    assert model.face(wall).radius == pytest.approx(wanted)
    assert len(model.faces(body, kind="torus")) == 2
    assert len(model.faces(body, kind="plane")) == 1


@SOME
@given(st.floats(1.5, 2.35))
def test_the_rounds_in_a_round_pocket_meet_on_its_floor(folder, r):
    """A pocket of radius 12 with a boss of radius 8 on its floor, whose rounds together are wider than the floor.  They
    meet in an edge, or the smaller ball rolls on the larger round, which the kernel can do while that is near."""
    body = build.subtract(build.cylinder(16, 20), build.cylinder(12, 16, (0, 0, 5)))
    body = build.unite(body, build.cylinder(8, 10, (0, 0, 5)))
    foot = build.fillet(body, 1, lambda e: e.kind == "circle" and abs(e.middle[2] - 5) < 1e-6)
    model, body = model_of(folder, foot)
    outer, inner = sorted((f.id for f in model.faces(body, kind="torus")), key=lambda f: -_major(model, f))
    wide = 4.2 - r if r < 1.8 else r + 0.6
    model.do("push", faces=[outer], distance=1 - wide)
    model.do("push", faces=[inner], distance=1 - r)

    def fill(up, end):
        def height(x):
            return max(arc(x, 12 - wide, wide) if x > 12 - wide else 0, up + arc(x, 8 + r, r) if x < end else 0)

        return turned(height, 8, 12, [12 - wide, 8 + r, end, *(8 + 0.25 * k for k in range(16))])

    across = 8 + r - (12 - wide)  # between the centres of the two arcs
    touch = 12 - wide + across * wide / (wide - r)
    room = (wide - r) ** 2 - across**2
    sharp = math.pi * (16**2 * 20 - 12**2 * 15 + 8**2 * 10)
    found = model.measure(body).volume
    expected = [sharp + fill(0.0, 8 + r)]
    if room > 0:
        expected.append(sharp + fill(wide - math.sqrt(room) - r, touch))
    assert min(abs(found - e) for e in expected) < 1e-7 * found
    assert sound(model, body) is None


def _major(model, ident):
    body, index = model.snapshot.owner_of("face", int(ident[1:]))
    return model.geometry.solid(body.shape).topology.surface(index).numbers[0]


def beyond_chord(radius, chord):
    """Region of a disc beyond a chord at a distance from its middle."""
    if radius <= abs(chord):
        return 0.0 if chord > 0 else math.pi * radius**2
    return radius**2 * math.acos(chord / radius) - chord * math.sqrt(radius**2 - chord**2)


@SOME
@given(st.floats(0.2, 0.9), st.booleans())
def test_a_boss_in_a_wall_shrinks_until_its_flat_top_stands_free(folder, share, by_round):
    """The rim's round runs into the wall; past it the round ends in the wall, and the top is a whole disc."""
    r, chord = 2.0, 6.0
    wall = build.box(20, 40, 30, (-20, -20, 0))
    boss = build.cylinder(9, 8, (-chord, 0, 4))
    rim = build.fillet(
        build.unite(wall, build.box(20, 40, 4, (0, -20, 0)), boss), r,
        lambda e: e.kind == "circle" and abs(e.middle[2] - 12) < 1e-6,
    )  # fmt: skip
    model, body = model_of(folder, rim)
    if by_round:  # the round grows instead
        size, now = 9.0, 3 + share
        model.do("push", faces=[of_radius(model, body, "torus", r)], distance=now - r)
    else:
        size, now = chord + r * share, r
        model.do("push", faces=[of_radius(model, body, "cylinder", 9)], distance=size - 9)

    def section(z):
        top = z - (12 - now)
        radius = size if top < 0 else size - now + math.sqrt(max(now**2 - top**2, 0.0))
        return beyond_chord(radius, chord)

    middle = 12 - now
    gone = 12 - now + math.sqrt(now**2 - max(chord - size + now, 0) ** 2) if size - now < chord else 12
    places = [4, middle, gone, 12]
    added = sum(quad(section, a, b, epsabs=1e-10, limit=200)[0] for a, b in itertools.pairwise(places))
    assert model.measure(body).volume == pytest.approx(20 * 40 * 30 + 20 * 40 * 4 + added, rel=1e-6)
    assert sound(model, body) is None


def test_a_round_as_high_as_its_step_grows_no_further(folder):
    """Filled in above the step it would stand over its edge."""
    step = build.unite(build.box(40, 30, 10), build.box(15, 30, 13))
    foot = build.fillet(step, 1, lambda e: e.kind == "line" and e.middle[2] == pytest.approx(10) and e.middle[0] == 15)
    model, body = model_of(folder, foot)
    before = model.snapshot
    item = model.faces(body, kind="cylinder")[0].id
    with pytest.raises(EditError):
        model.do("push", faces=[item], distance=-3.5)
    assert model.snapshot is before
    model.do("push", faces=[item], distance=-1.5)
    assert model.measure(body).volume == pytest.approx(12000 + 1350 + (1 - math.pi / 4) * 2.5**2 * 30)


def test_rounds_at_both_ends_of_a_cone_go_at_once():
    plate = build.unite(build.box(40, 40, 5, (-20, -20, 0)), build.cone(8, 6, 12, (0, 0, 4)))
    rounded = build.fillet(plate, 1, lambda e: e.kind == "circle" and e.middle[2] > 4.5)
    topology = SolidTopology(ShapeIndex(rounded))
    rounds = {f for f in range(topology.index.count("face")) if fillet_of(topology, f)}
    assert len(rounds) == 2
    closed = close_up(topology, rounds)
    assert fault(closed.topology.index.shape) is None
    assert volume_properties(closed.topology.index.shape).amount == pytest.approx(volume_properties(plate).amount)
