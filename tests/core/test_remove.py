"""Remove and close up: what is left is the part as if the feature had never been."""

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.closing import close_up
from ravine.core.local.closing_ways import triangulations
from ravine.core.local.features import feature_of
from ravine.core.local.fillets import fillet_of
from ravine.core.local.topology import SolidTopology
from tests.parts import boss_block, drilled_block, model_of

BLOCK = 40 * 30 * 20


def box():
    return build.box(40, 30, 20)


def within(low, high):
    """Faces whose box lies inside these corners."""
    return lambda topology, f: (
        all(topology.boxes[f][:3] >= [v - 1e-5 for v in low]) and all(topology.boxes[f][3:] <= [v + 1e-5 for v in high])
    )


def slanted(topology, f):
    return not any(abs(abs(c) - 1) < 1e-9 for c in topology.surface(f).axial.z)


def is_round(topology, f):
    return fillet_of(topology, f) is not None


def kind(*kinds):
    return lambda topology, f: topology.surface(f).kind in kinds


CASES = {
    "a hole": (drilled_block(), kind("cylinder"), BLOCK, 6),
    "a boss": (build.unite(box(), build.cylinder(6, 9, (20, 15, 20))), kind("cylinder"), BLOCK, 6),
    "a pocket": (
        build.subtract(box(), build.box(12, 9, 7, (10, 10, 13))), within((10, 10, 13), (22, 19, 20)), BLOCK, 6,
    ),
    "one chamfer": (build.chamfer(box(), 3, lambda e: e.middle[2] > 19.9 and e.middle[0] < 0.1), slanted, BLOCK, 6),
    "chamfers around the top": (build.chamfer(box(), 3, lambda e: e.middle[2] > 19.9), slanted, BLOCK, 6),
    "one round": (build.fillet(box(), 3, lambda e: e.middle[2] > 19.9 and e.middle[0] < 0.1), is_round, BLOCK, 6),
    "rounds around the top": (
        build.fillet(box(), 3, lambda e: e.middle[2] > 19.9), kind("cylinder", "sphere"), BLOCK, 6,
    ),
    "upright rounds": (build.fillet(box(), 4, lambda e: abs(e.middle[2] - 10) < 1e-6), is_round, BLOCK, 6),
    "every round": (build.fillet(box(), 3, lambda e: True), is_round, BLOCK, 6),
    "rounds along the foot of a rib, whose ends grew over them": (
        build.fillet(
            build.unite(box(), build.box(20, 4, 8, (10, 13, 20))), 2,
            lambda e: abs(e.middle[2] - 20) < 1e-6 and abs(e.length - 20) < 1e-6,
        ),
        is_round, BLOCK + 640, 11,
    ),
    "rounds at one corner": (
        build.fillet(box(), 3, lambda e: sorted(e.middle)[1] < 1e-6), is_round, BLOCK, 6,
    ),
    "a notch": (build.subtract(box(), build.box(10, 10, 8, (15, -1, 12))), within((15, 0, 12), (25, 9, 20)), BLOCK, 6),
    "a slot through": (
        build.subtract(box(), build.box(10, 40, 8, (15, -5, 12))), within((15, 0, 12), (25, 30, 20)), BLOCK, 7,
    ),
    "the foot round of a boss": (
        build.fillet(boss_block(), 2, lambda e: e.kind == "circle" and e.radius > 5 and abs(e.middle[2] - 10) < 1e-6),
        kind("torus"), volume_properties(boss_block()).amount, 9,
    ),
    "the rim round of a boss": (
        build.fillet(boss_block(), 1, lambda e: e.kind == "circle" and e.radius > 5 and abs(e.middle[2] - 22) < 1e-6),
        kind("torus"), volume_properties(boss_block()).amount, 9,
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_closes_to_the_part_without_it(name):
    shape, chosen, volume, count = CASES[name]
    topology = SolidTopology(ShapeIndex(shape))
    faces = {f for f in range(topology.index.count("face")) if chosen(topology, f)}
    if name.startswith("a "):
        faces = feature_of(topology, faces) or faces
    closed = close_up(topology, faces)
    index = closed.topology.index
    assert fault(index.shape) is None
    assert volume_properties(index.shape).amount == pytest.approx(volume, rel=1e-9)
    assert closed.volume_change == pytest.approx(volume - volume_properties(shape).amount, rel=1e-6)
    assert index.count("face") == count


def test_polygons_are_cut_in_every_way():
    assert [len(list(triangulations(0, n - 1))) for n in (3, 4, 5, 6, 7)] == [1, 2, 5, 14, 42]  # Catalan numbers


def test_a_pick_grows_to_the_feature_and_says_so(tmp_path):
    model, body = model_of(tmp_path, build.unite(box(), build.cylinder(6, 9, (20, 15, 20))))
    kept = {f.id for f in model.faces(body, kind="plane") if f.centroid[2] < 20.5}
    change = model.do("remove", faces=[model.faces(body, kind="cylinder")[0].id])
    assert change.fact("along") == "1 more face"
    assert change.fact("volume_change") == pytest.approx(-math.pi * 36 * 9)
    assert {f.id for f in model.faces(body)} == kept
    model.undo()
    assert len(model.faces(body)) == 8


def test_chained_rounds_go_together_and_riders_with_them(tmp_path):
    lids = build.subtract(box(), *(build.cylinder(2, 22, (x, y, -1)) for x in (8, 32) for y in (8, 22)))
    model, body = model_of(tmp_path, lids)
    hole = model.faces(body, kind="cylinder")[0].id
    change = model.do("remove", faces=[hole], riders="alike")
    assert model.measure(body).volume == pytest.approx(BLOCK)
    assert len(change.ended) == 4 + 4 * 3 + 4 * 2  # walls, their edges with the seams, their corners


def test_what_cannot_close_names_the_face_and_a_way_round(tmp_path):
    model, body = model_of(tmp_path, box())
    before = model.snapshot
    with pytest.raises(EditError, match=r"push the neighbours|pick") as told:
        model.do("remove", faces=[model.faces(body, normal=(0, 0, 1))[0].id], extent="picked")
    assert told.value.where
    assert model.snapshot == before


def test_lettering_goes_at_once(tmp_path):
    """Six letters of raised strokes: every stroke is a boss of its own."""
    strokes = [build.box(1, 6, 0.5, (5 + 5 * i, 10, 20)) for i in range(6)]
    strokes += [build.box(3, 1, 0.5, (6 + 5 * i, 12, 20)) for i in range(6)]
    model, body = model_of(tmp_path, build.unite(box(), *strokes))
    tops = [f.id for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[2] > 20.4]
    model.do("remove", faces=tops)
    assert model.measure(body).volume == pytest.approx(BLOCK)
    assert len(model.faces(body)) == 6


def test_a_feature_ends_where_it_lies_in_an_inner_loop():
    topology = SolidTopology(
        ShapeIndex(build.subtract(box(), build.cylinder(3, 30, (20, 15, -1)), build.cylinder(6, 9, (20, 15, 12))))
    )
    wall = next(f for f in range(topology.index.count("face")) if topology.surface(f).kind == "cylinder")
    assert feature_of(topology, [wall]) is not None
    assert len(feature_of(topology, [wall])) == 3  # both walls and the step between them
