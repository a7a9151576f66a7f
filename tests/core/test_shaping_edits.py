"""The edits over the local engine: targets, sizes, moves, copies, patterns, tilts, rounds, chamfers, merges."""

import math

import numpy as np
import pytest
from OCP.BRepBuilderAPI import BRepBuilderAPI_NurbsConvert

from ravine.core import EditError, Model
from ravine.core.edits.value_bounds import bounds as walls
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.volumes import volume_properties
from ravine.core.operations.work import Mode, Work
from tests.parts import boss_block, drilled_block, model_of, step_file

BLOCK = 40 * 30 * 20


def top(model, body):
    return model.faces(body, normal=(0, 0, 1)).highest().id


def wall(model, body, **more):
    return model.faces(body, kind="cylinder", **more)[0].id


def sound(model, body, volume, rel=1e-9):
    assert fault(model.geometry.solid(model.body(body).shape).shape) is None
    assert model.measure(body).volume == pytest.approx(volume, rel=rel)


# --- push ---------------------------------------------------------------------------------------------------------


def test_push_until_a_face_a_corner_an_edge_and_an_axis(tmp_path):
    step = build.unite(build.box(40, 30, 20), build.box(10, 30, 5, (0, 0, 20)))
    model, body = model_of(tmp_path, step)
    low = next(f for f in model.faces(body, normal=(0, 0, 1)) if f.centroid[2] < 21).id
    high = model.faces(body, normal=(0, 0, 1)).highest().id
    corner = next(v for v in model.vertices(body) if v.point[2] > 24).id
    edge = next(e for e in model.edges(body) if e.middle[2] > 24).id
    for target in (corner, edge):
        change = model.do("push", faces=[low], until=[target])
        assert change.fact("distance") == pytest.approx(5)
        sound(model, body, 40 * 30 * 25)
        model.undo()
    assert "until" in model.do("push", faces=[low], until=[high]).sentence
    sound(model, body, 40 * 30 * 25)
    bore = build.subtract(build.box(40, 30, 20), build.cylinder(3, 50, (-5, 15, 8), (1, 0, 0)))
    model, body = model_of(tmp_path, bore, "Bore")
    model.do("push", faces=[top(model, body)], until=[wall(model, body)])  # the height of its axis opens the bore
    sound(model, body, 40 * 30 * 8 - math.pi * 9 / 2 * 40)


def test_push_until_another_part_stops_where_it_touches(tmp_path):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "a.step", build.box(20, 20, 20), "Foot")))
    model.do("import", path=str(step_file(tmp_path / "b.step", build.sphere(6, (10, 10, 40)), "Ball")))
    foot, _ = model.bodies()
    change = model.do("push", faces=[top(model, foot)], until=model.nodes("Ball"), touching="keeping apart")
    assert change.fact("distance") == pytest.approx(14, abs=1e-6)
    assert model.measure(foot).volume == pytest.approx(400 * 34, rel=1e-6)
    with pytest.raises(EditError, match="ahead"):
        model.do("push", faces=[model.faces(foot, normal=(0, 0, -1))[0].id], until=model.nodes("Ball"))


def test_push_on_both_sides_and_with_riders(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    model.do("push", faces=[top(model, body)], distance=2, sides="both")
    sound(model, body, 40 * 30 * 24)
    posts = build.unite(build.box(40, 30, 5), *(build.box(5, 5, 10, (x, 10, 5)) for x in (2, 15, 30)))
    model, body = model_of(tmp_path, posts, "Posts")
    change = model.do("push", faces=[top(model, body)], distance=3, riders="coplanar")
    assert change.fact("volume_change") == pytest.approx(3 * 25 * 3)


def test_neighbours_follow_or_the_border_is_kept(tmp_path):
    wedge = build.extrude(build.outline([(0, 0, 0), (40, 0, 0), (30, 0, 20), (10, 0, 20)]), (0, 30, 0))
    model, body = model_of(tmp_path, wedge)
    face = top(model, body)
    assert model.do("push", faces=[face], distance=5).fact("volume_change") == pytest.approx(30 * 5 * (20 + 15) / 2)
    model.undo()
    change = model.do("push", faces=[face], distance=5, border="kept")
    assert change.fact("volume_change") == pytest.approx(20 * 30 * 5)
    assert any("2 neighbours not square" in w for w in change.warnings)
    model.undo()
    with pytest.raises(EditError, match="meet before") as told:
        model.do("push", faces=[face], distance=25)
    assert 19.8 < float(told.value.nearest.split()[0]) < 20


def test_a_push_past_a_chamfer_that_stays_takes_it_away(tmp_path):
    model, body = model_of(tmp_path, build.chamfer(build.box(40, 30, 20), 3, lambda e: e.middle[2] > 19.9))
    model.do("push", faces=[top(model, body)], distance=-6, chamfers="staying")
    sound(model, body, 40 * 30 * 14)
    assert len(model.faces(body)) == 6


# --- sizes --------------------------------------------------------------------------------------------------------


def test_sizes_of_holes_walls_and_rounds(tmp_path):
    model, body = model_of(tmp_path, drilled_block())
    model.do("resize", faces=[wall(model, body)], measure="diameter", size="12 mm")
    sound(model, body, BLOCK - math.pi * 36 * 20)
    model.do("resize", faces=[top(model, body)], measure="thickness", size=25)
    sound(model, body, (1200 - math.pi * 36) * 25)
    with pytest.raises(EditError, match="already"):
        model.do("resize", faces=[top(model, body)], measure="thickness", size=25)
    with pytest.raises(EditError) as told:
        model.do("resize", faces=[wall(model, body)], measure="diameter", size=40)
    assert 29.5 < float(told.value.nearest.split()[0]) <= 30
    model, body = model_of(tmp_path, build.fillet(build.box(40, 30, 20), 3, lambda e: abs(e.middle[2] - 10) < 0.1), "R")
    model.do("resize", faces=[wall(model, body)], measure="radius", size=5, riders="alike")
    sound(model, body, (1200 - (4 - math.pi) * 25) * 20)


def test_one_hole_takes_the_size_of_another(tmp_path):
    two = build.subtract(
        build.box(40, 30, 20), build.cylinder(3, 22, (10, 15, -1)), build.cylinder(5, 22, (28, 15, -1))
    )
    model, body = model_of(tmp_path, two)
    small, large = wall(model, body, radius=3), wall(model, body, radius=5)
    model.do("resize", faces=[small], measure="diameter", like=[large])
    sound(model, body, BLOCK - 2 * math.pi * 25 * 20)


# --- moving -------------------------------------------------------------------------------------------------------


def test_moving_keeps_ids_and_copying_does_not_touch_the_first(tmp_path):
    model, body = model_of(tmp_path, drilled_block(radius=3))
    hole, ids = wall(model, body), set(model.body(body).faces)
    model.do("move faces", faces=[hole], along="x", distance=-10)
    assert set(model.body(body).faces) == ids
    assert model.face(hole).axis[0][0] == pytest.approx(10)
    model.do("move faces", way="copy", faces=[hole], along="x", distance=18)
    sound(model, body, BLOCK - 2 * math.pi * 9 * 20)
    assert len(model.faces(body, kind="cylinder")) == 2
    assert hole in model.faces(body).ids
    change = model.do("move faces", faces=[hole], along="y", until=[model.edges(body)[0].id])
    assert change.changed == (body,)


def test_a_pocket_moves_with_its_floor_and_turns(tmp_path):
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.box(10, 6, 8, (15, 12, 12))))
    side = next(f for f in model.faces(body, normal=(1, 0, 0)) if f.centroid[0] < 20)
    model.do("move faces", faces=[side.id], along="z", angle="90°")
    sound(model, body, BLOCK - 480)
    model.do("move faces", faces=[side.id], along="y", distance=3)
    sound(model, body, BLOCK - 480)


def test_a_handle_set_on_something_gives_the_directions(tmp_path):
    """Set on a sloping edge, Z runs along it and X and Y square to it; a corner leaves the model's own."""
    wedge = build.extrude(build.outline([(0, 0, 0), (40, 0, 0), (40, 0, 30)]), (0, 20, 0))
    model, body = model_of(tmp_path, build.unite(wedge, build.box(10, 20, 10, (40, 0, 0))))
    slope = next(
        e
        for e in model.edges(body)
        if e.kind == "line" and abs(e.length - 50) < 1e-9 and e.middle[2] == pytest.approx(15)
    )
    (node,) = model.nodes()
    step = model.snapshot.occurrences()[0].matrix
    for along, way in (("z", (0.8, 0, 0.6)), ("x", (0.6, 0, -0.8)), ("y", (0, 1, 0))):
        model.do("move body", parts=[node], along=along, axis=[slope.id], distance=5)
        now = model.snapshot.occurrences()[0].matrix
        moved = np.array([now[3] - step[3], now[7] - step[7], now[11] - step[11]]) / 5
        assert np.abs(np.abs(moved @ way) - 1) < 1e-9
        model.undo()
    corner = next(v for v in model.vertices(body) if v.point == pytest.approx((40, 0, 30)))
    model.do("move body", parts=[node], along="y", axis=[corner.id], angle="90°")
    assert model.vertex(corner.id).point == pytest.approx((40, 0, 30))  # it turned about that corner
    model.do("move body", way="copy", parts=[node], along="z", axis=[corner.id], distance=40)
    assert len(model.snapshot.occurrences()) == 2
    assert len(model.snapshot.bodies) == 1
    copied = "Copied 1 part along Z of corner"
    assert model.journal[-1].startswith(("Copied Part along Z of", copied))


def test_a_part_moves_until_its_own_face_is_level_with_another(tmp_path):
    model, _ = model_of(tmp_path, build.box(10, 10, 10), "Low")
    other = model.do("import", path=str(step_file(tmp_path / "high.step", build.box(8, 8, 5, (20, 0, 33)), "High")))
    bottom = model.faces(other.added[0], normal=(0, 0, -1))[0]
    top = model.faces(model.bodies()[0], normal=(0, 0, 1))[0]
    high = model.nodes("High")
    model.do("move body", parts=high, along="z", axis=[bottom.id], until=[top.id])
    assert model.face(bottom.id).centroid[2] == pytest.approx(10)


def bored_boss():
    plate = build.unite(build.box(100, 40, 10), build.cylinder(8, 12, (20, 20, 10)))
    return build.subtract(plate, build.cylinder(3, 30, (20, 20, -1)))


def test_a_boss_with_a_hole_through_its_foot_is_copied_moved_and_repeated(tmp_path):
    model, body = model_of(tmp_path, bored_boss())
    one = math.pi * (64 * 12 - 9 * 22)
    boss = next(f.id for f in model.faces(body, kind="cylinder") if abs(f.radius - 8) < 1e-9)
    model.do("move faces", faces=[boss], way="copy", along="x", distance=30)
    sound(model, body, 100 * 40 * 10 + 2 * one)
    model.undo()
    model.do("pattern", faces=[boss], count=3, along="x", step=25)
    sound(model, body, 100 * 40 * 10 + 3 * one)
    model.do("recount", face=[boss], count=2, step=40)
    sound(model, body, 100 * 40 * 10 + 2 * one)
    assert sorted(round(f.axis[0][0]) for f in model.faces(body, kind="cylinder", radius=3)) == [20, 60]


def test_a_tilted_plate_keeps_the_round_at_the_foot_of_its_boss(tmp_path):
    """The round is no torus any more; against the tilted plate rounded afresh."""

    def plate(lean):
        rise = 60 * math.tan(lean)
        side = build.outline([(0, 0, 0), (60, 0, 0), (60, 0, 10 + rise), (0, 0, 10)])
        whole = build.unite(build.extrude(side, (0, 40, 0)), build.cylinder(8, 20, (30, 20, 5)))
        return build.fillet(whole, 2, lambda e: e.kind in ("circle", "ellipse") and 9 < e.middle[2] < 20)

    lean = math.radians(5)
    model, body = model_of(tmp_path, plate(0.0))
    top = max(model.faces(body, normal=(0, 0, 1)), key=lambda f: f.area)
    low = next(e for e in model.edges(body) if e.kind == "line" and e.middle[0] == 0 and e.middle[2] == 10)
    ring = next(f.id for f in model.faces(body, kind="torus"))
    model.do("tilt", faces=[top.id], angle="5°", axis=[low.id])
    sound(model, body, volume_properties(plate(lean)).amount, rel=1e-6)
    assert model.face(ring).kind == "spline"  # the round keeps its id
    model.do("tilt", faces=[top.id], angle="-5°", axis=[low.id])
    sound(model, body, volume_properties(plate(0.0)).amount, rel=1e-6)


def test_the_end_of_a_slot_pushes_the_whole_slot(tmp_path):
    tool = build.unite(build.box(20, 6, 12, (10, 12, -1)), build.cylinder(3, 12, (10, 15, -1)))
    tool = build.unite(tool, build.cylinder(3, 12, (30, 15, -1)))
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 10), tool))
    end = model.faces(body, kind="cylinder")[0].id
    model.do("push", faces=[end], distance=-1)
    sound(model, body, (40 * 30 - 20 * 8 - math.pi * 16) * 10)


def test_a_side_face_turns_about_its_middle(tmp_path):
    model, body = model_of(tmp_path, build.box(20, 20, 20))
    side = model.faces(body, normal=(1, 0, 0))[0].id
    model.do("move faces", faces=[side], extent="picked", along="z", angle="10°")
    sound(model, body, 8000)  # turned about its own middle: as much gained as lost


def test_rows_grids_and_circles(tmp_path):
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(2, 22, (5, 5, -1))))
    hole = wall(model, body)
    change = model.do("pattern", faces=[hole], count=3, along="x", step=10, rows=2, across="y", pitch=12)
    sound(model, body, BLOCK - 6 * math.pi * 4 * 20)
    assert change.fact("copies") == 5
    model.do("resize", faces=[hole], measure="diameter", size=3, riders="alike")  # the members together
    sound(model, body, BLOCK - 6 * math.pi * 2.25 * 20)
    disc = build.subtract(build.cylinder(30, 10), build.cylinder(6, 20, (0, 0, -1)), build.cylinder(2, 20, (20, 0, -1)))
    model, body = model_of(tmp_path, disc, "Disc")
    model.do("pattern around", faces=[wall(model, body, radius=2)], count=6, axis=[wall(model, body, radius=6)])
    sound(model, body, math.pi * 10 * (900 - 36 - 6 * 4))
    with pytest.raises(EditError, match="more than once"):
        model.do("pattern around", faces=[wall(model, body, radius=2)], count=7, angle="60°",
                 axis=[wall(model, body, radius=6)])  # fmt: skip
    with pytest.raises(EditError, match="too many"):
        model.do("pattern", faces=[wall(model, body, radius=2)], count=900, step=1)


def test_a_hole_is_pulled_into_a_slot_steps_and_all(tmp_path):
    stepped = build.subtract(
        build.box(40, 30, 20), build.cylinder(2, 22, (12, 15, -1)), build.cylinder(4, 8, (12, 15, 14))
    )
    model, body = model_of(tmp_path, stepped)
    before = model.measure(body).volume
    ids = {f.id for f in model.faces(body)}
    model.do("slot", faces=[wall(model, body, radius=4)], along="x", distance=10)
    sound(model, body, before - 10 * (4 * 14 + 8 * 6))
    assert ids <= {f.id for f in model.faces(body)}
    with pytest.raises(EditError, match="across the axis"):
        model.do("slot", faces=[wall(model, body)], along="z", distance=3)
    boss = build.unite(build.box(40, 30, 20), build.cylinder(5, 6, (12, 15, 20)))
    model, body = model_of(tmp_path, boss, "Boss")
    model.do("slot", faces=[wall(model, body)], along="x", distance=12)
    sound(model, body, BLOCK + math.pi * 25 * 6 + 12 * 10 * 6)


def test_parts_repeat_in_rows_and_share_their_body(tmp_path):
    model, body = model_of(tmp_path, build.box(10, 10, 10))
    change = model.do("repeat parts", parts=model.nodes(), count=4, along="y", step=15)
    assert change.fact("copies") == 3
    assert model.bodies() == [body]
    places = sorted(o.matrix[7] for o in model.snapshot.occurrences())
    assert places == pytest.approx([0, 15, 30, 45])
    model.do("push", faces=[top(model, body)], distance=2)
    assert model.measure(body).volume == pytest.approx(1200)
    with pytest.raises(EditError, match="higher count"):
        model.do("repeat parts", parts=model.nodes()[:1], count=1, step=5)


def test_parts_repeat_around_an_axis_of_another_part(tmp_path):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "hub.step", build.cylinder(10, 30, (100, 0, 0)), "Hub")))
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.box(4, 4, 4, (130, 0, 0)), "Pin")))
    hub, pin = model.bodies()
    change = model.do("repeat parts around", parts=model.nodes("Pin"), count=4, axis=[wall(model, hub)])
    assert change.fact("copies") == 3
    corners = sorted((round(m[3] + 130 * m[0], 6), round(m[7] + 130 * m[4], 6))
                     for m in (o.matrix for o in model.snapshot.occurrences() if o.body.name == "Pin"))  # fmt: skip
    assert corners == [(70, 0), (100, -30), (100, 30), (130, 0)]
    assert model.bodies() == [hub, pin]
    with pytest.raises(EditError, match="more than once"):
        model.do("repeat parts around", parts=model.nodes("Pin")[:1], count=5, angle="90°", axis=[wall(model, hub)])


def test_draft_about_a_plane_and_an_edge(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    floor = model.faces(body, normal=(0, 0, -1))[0].id
    side = model.faces(body, normal=(1, 0, 0))[0].id
    model.do("tilt", faces=[side], angle="5°", axis=[floor])
    lean = math.tan(math.radians(5))
    sound(model, body, BLOCK + 20 * 20 * lean / 2 * 30)
    model.undo()
    sides = [f.id for f in model.faces(body) if abs(f.normal[2]) < 0.1]
    model.do("tilt", faces=sides, angle="-5°", axis=[floor])
    a, b, h = 40.0, 30.0, 20.0  # the volume of a frustum of a pyramid, by the prismoidal formula
    small, half = (a - 2 * h * lean) * (b - 2 * h * lean), (a - h * lean) * (b - h * lean)
    sound(model, body, h / 6 * (a * b + 4 * half + small))


# --- edges --------------------------------------------------------------------------------------------------------


def test_rounds_and_chamfers_by_formula(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    edge = next(e for e in model.edges(body) if e.length == pytest.approx(40))
    model.do("round", edges=[edge.id], size=3)
    sound(model, body, BLOCK - (1 - math.pi / 4) * 9 * 40)
    model.undo()
    model.do("chamfer", edges=[edge.id], size=3, second=5)
    sound(model, body, BLOCK - 7.5 * 40)
    model.undo()
    model.do("chamfer", edges=[edge.id], size=3, angle="30°")
    sound(model, body, BLOCK - 4.5 * math.tan(math.radians(30)) * 40)
    model.undo()
    model.do("round", edges=[edge.id], size=2, end=4)
    mean = (4 + 8 + 16) / 3  # of r² over an evenly changing radius
    sound(model, body, BLOCK - (1 - math.pi / 4) * mean * 40, rel=1e-4)
    model.undo()
    ids = {f.id for f in model.faces(body)}
    model.do("round", edges=[top(model, body)], size=3)  # all edges of a face
    assert ids < {f.id for f in model.faces(body)}
    model.do("remove", faces=[model.faces(body, kind="cylinder")[0].id])
    sound(model, body, BLOCK)


def test_the_largest_round_is_stated(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    edge = next(e for e in model.edges(body) if e.length == pytest.approx(40))
    before = model.snapshot
    with pytest.raises(EditError, match=r"does not fit|kernel gave up|sound") as told:
        model.do("round", edges=[edge.id], size=50)
    assert 19 < float(told.value.nearest.split()[0]) <= 20
    assert model.snapshot == before
    model.do("round", edges=[edge.id], size=told.value.nearest)
    smooth = next(e for e in model.edges(body) if e.convexity == "tangent")
    with pytest.raises(EditError, match="smooth already"):
        model.do("chamfer", edges=[smooth.id], size=1)


def test_tangent_runs_and_loops_come_along(tmp_path):
    model, body = model_of(tmp_path, build.fillet(build.box(40, 30, 20), 5, lambda e: abs(e.middle[2] - 10) < 0.1))
    edge = next(e for e in model.edges(body) if e.kind == "line" and e.middle[2] > 19)
    model.do("round", edges=[edge.id], size=2)
    assert len(model.faces(body, kind="torus")) == 4
    model.undo()
    model.do("chamfer", edges=[model.edges(body)[0].id], size=2, run="loop")
    assert fault(model.geometry.solid(model.body(body).shape).shape) is None


# --- merging, splines, walls ----------------------------------------------------------------------------------------


def test_faces_that_are_one_are_merged(tmp_path):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "a.step", build.box(20, 20, 20), "A")))
    model.do("import", path=str(step_file(tmp_path / "b.step", build.box(20, 20, 20, (25, 0, 0)), "B")))
    left, _ = model.bodies()
    model.do("push", faces=[model.faces(left, normal=(1, 0, 0))[0].id], distance=5)
    if len(model.faces(left)) > 6:
        model.do("merge", parts=model.nodes()[:1])
    assert len(model.faces(left)) == 6
    with pytest.raises(EditError, match="nothing to merge"):
        model.do("merge", parts=[top(model, left)])


@pytest.mark.parametrize("shape", [boss_block(), build.fillet(build.box(40, 30, 20), 3, lambda e: True),
                                   build.cone(5, 0, 10), build.sphere(6)])  # fmt: skip
def test_spline_faces_get_their_real_form_on_import(tmp_path, shape):
    """Every face written as a spline, as some systems do: the kinds come back, and pushes are exact again."""
    exact, body = model_of(tmp_path, shape, "Exact")
    model, other = model_of(tmp_path, BRepBuilderAPI_NurbsConvert(shape, True).Shape(), "Spline")
    assert sorted(f.kind for f in model.faces(other)) == sorted(f.kind for f in exact.faces(body))
    sound(model, other, exact.measure(body).volume, rel=1e-6)
    assert "spline face" in model.do("import", path=str(tmp_path / "Spline.step")).warnings[0]


def test_walls_tell_how_far_the_bead_goes(tmp_path):
    model, body = model_of(tmp_path, drilled_block())
    work = Work(model.snapshot, model.geometry, mode=Mode.PROBE)
    found = walls(work, "push", {"faces": [wall(model, body)]}, "distance")
    assert found["low"] == pytest.approx(-10, abs=0.1)  # until the hole breaks through the sides
    assert found["high"] == pytest.approx(5, abs=0.1)  # until it is gone
    found = walls(work, "push", {"faces": [top(model, body)]}, "distance")
    assert found["high"] is None
    assert found["low"] == pytest.approx(-20, abs=0.2)


def test_a_turned_copy_is_as_good_as_what_was_there(tmp_path):
    """A planted copy stands in the solid through a placement, which the next local edit works into its geometry."""

    def plate(radius):
        whole = build.unite(build.box(60, 40, 10), build.cylinder(radius, 20, (14, 15, 0)))
        whole = build.subtract(whole, build.cylinder(2, 12, (14, 15, 12)))
        return build.fillet(
            whole, 1, lambda e: e.kind == "circle" and abs(e.radius - radius) < 1e-9 and e.middle[2] > 15
        )

    model, body = model_of(tmp_path, plate(6))
    before = model.measure(body).volume
    wall = model.faces(body, kind="cylinder", radius=6)[0].id
    model.do("move faces", faces=[wall], way="copy", along="x", distance=27, angle="15°")
    leaning = model.measure(body).volume  # it stands turned about X, partly in the plate
    bottom = model.faces(body, normal=(0, 0, -1))[0].id
    model.do("push", faces=[bottom], distance=1.5)
    sound(model, body, leaning + 60 * 40 * 1.5)
    model.do("push", faces=[wall], distance=0.5)
    sound(model, body, leaning + 60 * 40 * 1.5 + volume_properties(plate(6.5)).amount - before)
