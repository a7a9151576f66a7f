"""Simulation on known meshes: beams, patches across contacts, rigid motions, heat, frequencies; by their formulas."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from ravine.core import EditError
from ravine.core.simulate import assemble, contact, heat, loads, loose, modes, static, stress, supports
from ravine.core.simulate.elements import volume
from ravine.core.simulate.material import Elastic
from ravine.core.simulate.static import Problem, solve_static
from tests.blocks import block, together

STEEL = Elastic(210e3, 0.3, 7.85e-9, 235, 12e-6, 50)
PLAIN = Elastic(210e3, 0.0, 7.85e-9, 235, 12e-6, 50)  # beam theory knows no lateral strain


@pytest.fixture(params=["direct", "two levels"])
def solver(request, monkeypatch):
    monkeypatch.setattr("ravine.core.simulate.solve.SMALL", 10**9 if request.param == "direct" else 10)


def clamped(mesh, faces):
    held = supports.Held()
    held.fix(mesh.nodes_of(faces))
    return held


def test_a_cantilever_bends_as_timoshenko_says(solver):
    mesh = block((100, 10, 10), (16, 3, 3))
    problem = Problem(mesh, [PLAIN], clamped(mesh, [0]), loads.force(mesh, mesh.of_faces([1]), (0, 0, -100)),
                      places={"wall": mesh.nodes_of([0])})  # fmt: skip
    found = solve_static(problem, ["Bar"])
    inertia, shear = 10**4 / 12, 5 / 6 * 105e3 * 100
    assert found.moved[mesh.nodes_of([1]), 2].mean() == pytest.approx(
        -(100 * 100**3 / (3 * 210e3 * inertia) + 100 * 100 / shear), rel=2e-3
    )
    assert found.reactions["wall"] == pytest.approx([0, 0, 100], abs=1e-6)
    assert found.balance < 1e-8
    rows = {tuple(p): u for p, u in zip(mesh.points.round(6).tolist(), found.moved.tolist(), strict=True)}
    pairs = [(u, rows[x, 10 - y, z]) for (x, y, z), u in rows.items() if (x, 10 - y, z) in rows]
    assert len(pairs) > 500
    assert all(a[2] == pytest.approx(b[2], abs=1e-3 * found.lengths.max()) for a, b in pairs), "the halves are alike"


@pytest.mark.parametrize("sliding", [False, True])
def test_a_patch_goes_over_meshes_that_do_not_match(solver, sliding):
    mesh = together(block((10, 10, 10), (3, 3, 3)), block((10, 10, 10), (4, 2, 5), (10, 0, 0), first=10))
    tie = contact.tie(mesh, mesh.of_faces([1]), mesh.of_faces([10]), 210e3, sliding, 1e-6)
    assert tie.areas.sum() == pytest.approx(100)
    held = supports.Held()
    held.hold(mesh.nodes_of([0]), (1, 0, 0))
    held.hold(mesh.nodes_of([2, 12]), (0, 1, 0))
    held.hold(mesh.nodes_of([4, 14]), (0, 0, 1))
    problem = Problem(mesh, [STEEL] * 2, held, loads.pressure(mesh, mesh.of_faces([11]), 100.0), [tie],
                      places={"wall": mesh.nodes_of([0])})  # fmt: skip
    found = solve_static(problem, ["A", "B"])
    assert np.abs(found.stress - np.diag([-100, 0, 0])).max() < 1e-6
    assert np.abs(tie.tractions(found.moved) - [-100, 0, 0]).max() < 1e-6, "the normal force is exact, and no shear"
    assert found.reactions["wall"] == pytest.approx([1e4, 0, 0], abs=1e-3)


def test_what_slides_carries_no_shear_and_is_told_to_be_loose():
    mesh = together(block((10, 10, 10), (2, 2, 2)), block((10, 10, 10), (3, 2, 2), (10, 0, 0), first=10))
    tie = contact.tie(mesh, mesh.of_faces([1]), mesh.of_faces([10]), 210e3, True, 1e-6)
    push = loads.force(mesh, mesh.of_faces([11]), (0, 100, 0))
    problem = Problem(mesh, [STEEL] * 2, clamped(mesh, [0]), push, [tie])
    with pytest.raises(EditError, match="nothing holds it: Lid slides along"):
        solve_static(problem, ["Box", "Lid"])
    motions = loose.loose_motions(mesh, problem.held, [tie], push)
    assert len(motions) == 3, "two slides and a turn"
    assert not loose.loose_motions(mesh, clamped(mesh, [0, 11]), [tie])
    square = solve_static(Problem(mesh, [STEEL] * 2, problem.held, loads.force(mesh, mesh.of_faces([11]), (-100, 0, 0)),
                                  [tie]), ["Box", "Lid"])  # fmt: skip
    assert len(square.soft) == 3, "held softly along what no load pushes"
    carried = (tie.tractions(square.moved) * tie.areas[:, None]).sum(axis=0)
    assert carried == pytest.approx([-100, 0, 0], abs=5e-3), "all of the normal force, and no shear"


def opening(mesh, first, second, reach=1e-6):
    return contact.tie(mesh, mesh.of_faces([first]), mesh.of_faces([second]), 210e3, False, reach, opening=True)


def test_what_is_free_to_open_presses_like_what_is_bonded(solver):
    mesh = together(block((10, 10, 10), (3, 3, 3)), block((10, 10, 10), (4, 2, 5), (10, 0, 0), first=10))
    held = supports.Held()
    held.hold(mesh.nodes_of([0]), (1, 0, 0))
    held.hold(mesh.nodes_of([2, 12]), (0, 1, 0))
    held.hold(mesh.nodes_of([4, 14]), (0, 0, 1))
    tie = opening(mesh, 1, 10)
    found = solve_static(
        Problem(mesh, [STEEL] * 2, held, loads.pressure(mesh, mesh.of_faces([11]), 100.0), [tie]), "AB"
    )
    assert np.abs(found.stress - np.diag([-100, 0, 0])).max() < 1e-6
    assert (found.rounds, found.unsettled) == (1, 0)
    pull = Problem(mesh, [STEEL] * 2, held, loads.pressure(mesh, mesh.of_faces([11]), -100.0), [tie])
    with pytest.raises(EditError, match=r"nothing presses it on any more: B slides along X"):
        solve_static(pull, ["A", "B"])


@pytest.mark.parametrize("share", [0.5, 3.0])
def test_a_gap_is_closed_by_the_load_and_shares_it_from_then_on(solver, share):
    """Two bars in line, a gap between their ends, both held at the far ends; the first is pushed by a share of what
    closes the gap.  By their stiffness E A / l."""
    gap, length, area, modulus = 0.01, 10.0, 100.0, PLAIN.modulus
    mesh = together(block((10, 10, 10), (3, 2, 2)), block((10, 10, 10), (2, 3, 3), (10 + gap, 0, 0), first=10))
    force = share * gap * modulus * area / length
    tie = opening(mesh, 1, 10, 0.1)
    assert tie.start == pytest.approx(np.full(len(tie.areas), gap))
    problem = Problem(mesh, [PLAIN] * 2, clamped(mesh, [0, 11]), loads.force(mesh, mesh.of_faces([1]), (force, 0, 0)),
                      [tie], places={"far": mesh.nodes_of([11])})  # fmt: skip
    found = solve_static(problem, ["A", "B"])
    end = found.moved[mesh.nodes_of([1]), 0].mean()
    if share < 1:
        assert end == pytest.approx(share * gap, rel=1e-6)
        assert np.abs(found.reactions["far"]).max() < 1e-6
    else:
        assert end == pytest.approx((force * length / modulus / area + gap) / 2, rel=1e-2)
        carried = modulus * area / length * (end - gap)
        assert -found.reactions["far"][0] == pytest.approx(carried, rel=2e-2)
        assert found.balance < 1e-8


@pytest.mark.parametrize("share", [0.1, 0.3, 0.4])
def test_a_block_that_is_pressed_beside_its_middle_lifts_off_at_the_other_side(solver, share):
    """On a thin soft layer (a Winkler ground) the pressure grows evenly from where it lifts: beyond a sixth of its
    width it presses over three times the distance to the nearer side only."""
    width, deep, thick, force = 30.0, 4.0, 0.5, 300.0
    stiff, soft = Elastic(1e7, 0.0, 1e-9, 1e4, 0, 1), Elastic(50.0, 0.0, 1e-9, 1e3, 0, 1)
    mesh = together(
        block((width, deep, thick), (30, 1, 1)), block((width, deep, 10), (6, 1, 2), (0, 0, thick), first=10)
    )
    tie = contact.tie(mesh, mesh.of_faces([5]), mesh.of_faces([14]), soft.modulus, False, 1e-6, opening=True)
    off = share * width
    load = loads.remote(mesh, mesh.of_faces([15]), (width / 2 + off, deep / 2, thick + 10), (0, 0, -force))
    held = clamped(mesh, [4])
    held.hold(mesh.nodes_of([15]), (0, 1, 0))
    held.hold(mesh.nodes_of([11])[:1], (1, 0, 0))
    found = solve_static(Problem(mesh, [soft, stiff], held, load, [tie]), ["Layer", "Block"])
    pressure = np.abs(tie.tractions(found.moved)[:, 2])
    pressing = pressure > 1e-3 * pressure.max()
    reach = tie.places[pressing, 0].max() - tie.places[pressing, 0].min()
    whole = 6 * share < 1
    assert reach == pytest.approx(width if whole else 3 * (width / 2 - off), abs=1.2)
    total = (tie.tractions(found.moved) * tie.areas[:, None]).sum(axis=0)
    assert abs(total[2]) == pytest.approx(force, rel=1e-6)
    peak = force / (width * deep) * (1 + 6 * share) if whole else 2 * force / (deep * 3 * (width / 2 - off))
    assert pressure.max() == pytest.approx(peak, rel=0.06)
    assert found.unsettled == 0
    assert (found.rounds > 1) == (not whole)


@settings(max_examples=20, deadline=None)
@given(st.lists(st.floats(-1, 1), min_size=6, max_size=6))
def test_rigid_motions_give_no_stress(numbers):
    mesh = block((3, 2, 1), (2, 2, 1))
    shift, turn = np.array(numbers[:3]), np.array(numbers[3:])
    moved = shift + np.cross(turn, mesh.points)
    found, _ = stress.at_points(mesh, [STEEL], moved)
    assert np.abs(found).max() < 1e-8 * 210e3
    matrix = assemble.stiffness(mesh, [STEEL])
    assert np.abs(matrix @ moved.ravel()).max() < 1e-7 * np.abs(matrix.data).max()
    assert volume(mesh.points, mesh.tets) == pytest.approx(6)


def of_forces(mesh, parts):
    return sum(loads.force(mesh, mesh.of_faces([face]), total) for face, total in parts)


vectors = st.tuples(*[st.floats(-1000, 1000)] * 3)
pushes = st.lists(st.tuples(st.integers(1, 5), vectors), min_size=1, max_size=3)


@settings(max_examples=12, deadline=None)
@given(pushes, pushes, vectors)
def test_any_loads_are_carried_and_their_work_is_mutual(one, other, turn):
    """Forces and moments of supports balance any loads; Betti: one load's work along the other's displacement is the
    same the other way round; and seen from a turned frame it is the same body."""
    mesh = block((40, 10, 20), (3, 2, 2))
    wall = mesh.nodes_of([0])
    matrix = assemble.stiffness(mesh, [STEEL])

    def solved(mesh, load):
        return solve_static(Problem(mesh, [STEEL], clamped(mesh, [0]), load, places={"wall": wall}), ["Bar"])

    first, second = of_forces(mesh, one), of_forces(mesh, other)
    a, b = solved(mesh, first), solved(mesh, second)
    size = max(np.abs(first).sum(), np.abs(second).sum(), 1e-3)
    assert a.reactions["wall"] == pytest.approx(-first.sum(axis=0), abs=1e-7 * size)
    back = (matrix @ a.moved.ravel()).reshape(-1, 3)[wall]
    about = np.cross(mesh.points[wall], back - first[wall])
    assert about.sum(axis=0) == pytest.approx(-np.cross(mesh.points, first).sum(axis=0), abs=1e-5 * size)
    there, here = (first * b.moved).sum(), (second * a.moved).sum()
    assert there == pytest.approx(here, rel=1e-6, abs=1e-9 * size * max(a.lengths.max(), b.lengths.max()))

    frame = Rotation.from_rotvec(np.array(turn) / 300).as_matrix()
    turned = solved(replace(mesh, points=mesh.points @ frame.T), first @ frame.T)
    assert turned.moved == pytest.approx(a.moved @ frame.T, abs=1e-6 * max(a.lengths.max(), 1e-9))
    assert turned.von_mises == pytest.approx(a.von_mises, abs=1e-6 * max(a.von_mises.max(), 1e-6))


def test_resultants_of_loads_are_exact():
    mesh = block((40, 10, 20), (4, 2, 3))
    top = mesh.of_faces([5])

    def resultant(load, about=(0, 0, 0)):
        return load.sum(axis=0), np.cross(mesh.points - about, load).sum(axis=0)

    force, turn = resultant(loads.remote(mesh, top, (7, -3, 90), (5, -2, 11)), (7, -3, 90))
    assert force == pytest.approx([5, -2, 11])
    assert turn == pytest.approx([0, 0, 0], abs=1e-9)
    force, turn = resultant(loads.moment(mesh, top, (0, 0, 0), (100, 20, -30)))
    assert force == pytest.approx([0, 0, 0], abs=1e-9)
    assert turn == pytest.approx([100, 20, -30])
    force, _ = resultant(loads.weight(mesh, [STEEL], (0, 0, -9806.65)))
    assert force == pytest.approx([0, 0, -8000 * 7.85e-9 * 9806.65])
    force, _ = resultant(loads.rotation(mesh, [STEEL], (0, 5, 10), (0, 0, 1), 100.0))
    assert force == pytest.approx([8000 * 7.85e-9 * 1e4 * 20, 0, 0], abs=1e-9)
    force, _ = resultant(loads.pressure(mesh, top, 2.0))
    assert force == pytest.approx([0, 0, -2 * 400])


def test_warmth_grows_freely_and_heat_flows_evenly():
    mesh = block((200, 10, 6), (12, 2, 2))
    held = supports.Held()
    for face, way in ((0, (1, 0, 0)), (2, (0, 1, 0)), (4, (0, 0, 1))):
        held.hold(mesh.nodes_of([face]), way)
    warm = Problem(mesh, [STEEL], held, np.zeros_like(mesh.points), rise=np.full(len(mesh.points), 50.0))
    found = solve_static(warm, ["Bar"])
    assert found.moved.max(axis=0) == pytest.approx(50 * 12e-6 * np.array([200, 10, 6]))
    assert np.abs(found.stress).max() < 1e-6
    held.hold(mesh.nodes_of([1]), (1, 0, 0))
    assert solve_static(warm, ["Bar"]).stress[:, 0, 0] == pytest.approx(-210e3 * 12e-6 * 50, rel=1e-6)
    ends = [heat.Warm(mesh.of_faces([0]), "held", 20.0), heat.Warm(mesh.of_faces([1]), "flux", 5.0)]
    warmest = heat.temperatures(mesh, [STEEL], ends)
    assert warmest == pytest.approx(20 + 5000 * mesh.points[:, 0] / (50 * 60), rel=1e-9)
    film = [heat.Warm(mesh.of_faces([0]), "air", 20.0, 100.0), ends[1]]
    assert heat.temperatures(mesh, [STEEL], film).min() == pytest.approx(20 + 5 / (100 * 60e-6), rel=1e-9)
    with pytest.raises(EditError, match="the temperature is open"):
        heat.temperatures(mesh, [STEEL], ends[1:])


def test_frequencies_of_a_beam(solver):
    """Euler and Bernoulli, within what shear takes off."""
    mesh = block((200, 10, 6), (20, 2, 2))
    found = modes.natural_modes(Problem(mesh, [PLAIN], clamped(mesh, [0]), np.zeros_like(mesh.points)), 3, ["Bar"])
    flat, upright = (1.87510407**2 / (2 * math.pi) * math.sqrt(210e3 * h**2 / 12 / (7.85e-9 * 200**4)) for h in (6, 10))
    assert [m.hertz for m in found[:2]] == pytest.approx([flat, upright], rel=5e-3)
    assert found[2].hertz == pytest.approx(flat * (4.69409113 / 1.87510407) ** 2, rel=1e-2)
    assert [np.linalg.norm(m.shape, axis=1).max() for m in found] == pytest.approx([1, 1, 1], abs=1e-9)


def test_skew_supports_hold_only_their_way():
    """A block between two slanting planes without friction, pressed along them: one degree of freedom is left free."""
    mesh = block((10, 10, 10), (2, 2, 2))
    held = supports.Held()
    way = np.array([1, 0, 1]) / math.sqrt(2)
    held.hold(mesh.nodes_of([0]), way)
    held.hold(mesh.nodes_of([2]), (0, 1, 0))
    frames = supports.frames_of(held, len(mesh.points))
    both = np.intersect1d(mesh.nodes_of([0]), mesh.nodes_of([2]))
    assert frames.held[both].sum(axis=1).tolist() == [2] * len(both)
    pushed = Problem(mesh, [STEEL], held, loads.force(mesh, mesh.of_faces([1]), (-10, 0, 10)))
    with pytest.raises(EditError, match="slides along"):
        static.solve_static(pushed, ["Wedge"])


def test_an_uneven_mesh_has_an_error_that_shrinks():
    errors = []
    for cells in ((4, 1, 1), (12, 2, 2)):
        mesh = block((100, 10, 10), cells)
        push = loads.force(mesh, mesh.of_faces([1]), (0, 0, -100))
        errors.append(solve_static(Problem(mesh, [STEEL], clamped(mesh, [0]), push), ["Bar"]).error)
    assert errors[1] < 0.6 * errors[0] < 0.6
