"""What is told of a pick beside the view: sketches, meshes, copies, and measures that are pinned."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
import trimesh

from ravine.core import Model, UnknownId
from ravine.core.kernel import build
from ravine.core.model.query import things_of
from ravine.core.model.trimesh_body import TriangleMesh
from ravine.core.view.describe import describe_pick
from ravine.core.view.pins import pin_of, width_pin
from ravine.core.view.scene import scene
from tests.parts import boss_block, mesh_model, model_of
from tests.samples import BASES, area, corner, curve, hole, open_line, sketch, top


def rows(model: Model, *ids: str) -> dict[str, str]:
    return dict(describe_pick(model.snapshot, model.geometry, ids).rows)


# --- sketches ----------------------------------------------------------------------------------------------------


@pytest.fixture
def drawn(tmp_path) -> Model:
    """On the top of a block: a rectangle 40 × 20, a circle Ø 10 in it, an open line, a construction line."""
    return BASES["drawn"](tmp_path)


def test_a_whole_sketch_tells_its_curves_and_how_free_it_is(drawn) -> None:
    found = describe_pick(drawn.snapshot, drawn.geometry, [sketch(drawn)])
    assert (found.subject, found.summary.kind, found.summary.pictured) == ("Sketch 1", "sketch", False)
    assert dict(found.rows)["Curves"] == "7"
    free = int(found.rest.removeprefix("free in ").split(" ")[0])
    drawn.do("dimension", on=[open_line(drawn)], size="12")
    assert describe_pick(drawn.snapshot, drawn.geometry, [sketch(drawn)]).rest == f"free in {free - 1} ways."
    empty = Model()
    empty.do("sketch", plane="xy")
    assert describe_pick(empty.snapshot, empty.geometry, [sketch(empty)]).rest == "empty; draw in it."


def test_areas_curves_and_points_are_measured(drawn) -> None:
    assert rows(drawn, area(drawn))["Area"] == f"{800 - 25 * math.pi:.4g} mm²"
    assert rows(drawn, area(drawn, min))["Area"] == f"{25 * math.pi:.4g} mm²"
    circle = rows(drawn, curve(drawn, "circle"))
    assert (circle["Diameter"], circle["Length"]) == ("Ø 10 mm", f"{10 * math.pi:.5g} mm")
    assert rows(drawn, open_line(drawn))["Length"] == f"{math.hypot(4, 30):.5g} mm"
    both = describe_pick(drawn.snapshot, drawn.geometry, [open_line(drawn), curve(drawn, "circle")])
    assert both.subject == "2 curves"
    assert dict(both.rows)["Length"] == f"{math.hypot(4, 30) + 10 * math.pi:.5g} mm"
    at = rows(drawn, corner(drawn))
    assert (at["Across"], at["Up"]) == ("20 mm", "10 mm")
    points = [f"p{n}" for n, place in drawn.snapshot.sketches[int(sketch(drawn)[1:])].points.items() if place[0] == 20]
    assert rows(drawn, *points[:2])["Distance"] == "20 mm"


def test_rules_on_a_curve_and_what_holds_it_are_told(drawn) -> None:
    line = open_line(drawn)
    assert rows(drawn, line)["Rules"] == "none"
    assert rows(drawn, line)["Free"] == "in 4 ways"
    drawn.do("keep", on=[line], rule="upright")
    assert rows(drawn, line)["Rules"] == "upright"
    drawn.do("keep", on=[line], rule="fixed")
    assert rows(drawn, line)["Free"] == "held"


def test_the_scene_carries_areas_and_sizes_of_a_sketch(drawn) -> None:
    drawn.do("dimension", on=[curve(drawn, "circle")], kind="radius", size="6", called="bore")
    (entry,) = scene(drawn.snapshot)["sketches"]
    (size,) = [s for s in entry["sizes"] if s["name"] == "bore"]
    assert (size["kind"], size["value"], size["at"]) == ("radius", 6.0, [(0.0, 0.0)])
    assert size["on"] == [curve(drawn, "circle")]
    amounts = []
    for ring in entry["areas"]:
        outline = [ring["lines"][0][i : i + 2] for i in range(0, len(ring["lines"][0]), 2)]
        amounts.append(abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise([*outline, outline[0]]))) / 2)
    assert max(amounts) == pytest.approx(800)
    assert min(amounts) == pytest.approx(36 * math.pi, rel=0.02)
    assert len(entry["curves"]) == 7
    assert entry["plane"] == [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)]


# --- meshes ------------------------------------------------------------------------------------------------------


def test_faces_of_a_mesh_tell_the_forms_found_in_it(tmp_path) -> None:
    pin = trimesh.creation.cylinder(6, 20, sections=96)
    model, body = mesh_model(tmp_path, TriangleMesh(pin.vertices, pin.faces), "Scan")
    plain = describe_pick(model.snapshot, model.geometry, [f"f{model.body(body).faces[0]}"])
    assert "not told apart into faces" in plain.rest
    assert plain.summary.mesh
    model.do("recognise", parts=model.nodes())
    told = [describe_pick(model.snapshot, model.geometry, [f"f{n}"]) for n in model.body(body).faces]
    (wall,) = [dict(t.rows) for t in told if "Diameter" in dict(t.rows)]
    assert float(wall["Diameter"].split()[1]) == pytest.approx(12, rel=2e-3)
    assert int(wall["Triangles"]) == 192
    flat = [t for t in told if t.subject == "1 flat face"]
    assert len(flat) == 2
    ends = describe_pick(model.snapshot, model.geometry, [f"f{n}" for n in model.body(body).faces])
    assert (ends.subject, ends.rest) == ("3 faces", "of Scan, as recognised in the mesh.")


# --- the same face of two copies -----------------------------------------------------------------------------------


def test_the_same_face_of_two_copies_is_measured_between_them(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.cylinder(5, 20, (0, 0, 0)), "Pin")
    model.do("repeat parts", parts=model.nodes(), count=2, along="x", step="32")
    one, other = model.nodes("Pin")
    wall = hole(model)
    apart = rows(model, f"{wall}@{one}", f"{wall}@{other}")
    assert (apart["Gap"], apart["Axes apart"]) == ("22 mm", "32 mm")
    assert rows(model, f"{top(model)}@{one}", f"{top(model)}@{other}")["Gap"] == "22 mm"
    pin = pin_of(model.snapshot, model.geometry, [f"{wall}@{one}", f"{wall}@{other}"], "Gap")
    assert pin.value == "22 mm"
    assert sorted(round(end[0], 6) for end in pin.ends or ()) == [5, 27]
    middles = [t.point if t.element == "vertex" else t.axis[0][0] for t in things_of(
        model.snapshot, model.geometry, [f"{wall}@{one}", f"{wall}@{other}", wall])]  # fmt: skip
    assert middles == pytest.approx([0, 32, 0])
    with pytest.raises(UnknownId, match="does not show"):
        rows(model, f"{wall}@n99999", wall)


# --- pins ----------------------------------------------------------------------------------------------------------


def test_a_pinned_measure_stands_on_what_it_measures_and_follows(tmp_path) -> None:
    model, _ = model_of(tmp_path, boss_block())
    wall = hole(model)
    pin = pin_of(model.snapshot, model.geometry, [wall], "Diameter")
    assert pin.value == "Ø 8 mm"
    x, y, _ = (pin.ends or ((0, 0, 0),))[0]
    assert math.hypot(x - 30, y - 20) == pytest.approx(4)
    model.do("resize", faces=[wall], size="9")
    assert pin_of(model.snapshot, model.geometry, [wall], "Diameter").value == "Ø 9 mm"
    part = pin_of(model.snapshot, model.geometry, model.nodes(), "Volume")
    assert (part.ends or ((0, 0, 0),))[0] == pytest.approx((30, 20, 11))
    assert pin_of(model.snapshot, model.geometry, [top(model)], "Diameter").lost == "it has no diameter any more"
    model.do("remove", faces=[wall])
    gone = pin_of(model.snapshot, model.geometry, [wall], "Diameter")
    assert (gone.value, gone.ends) == ("", None)
    assert gone.lost


def test_a_pinned_width_is_measured_again_between_the_same_parts(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.subtract(build.box(60, 40, 20), build.box(50, 42, 12, (5, -1, 4))), "Frame")
    across = (0.0, 20.0, 0.0, 0.0, 1.0, 0.0)

    def width(at: tuple[float, float]):
        return width_pin(model.snapshot, model.geometry, across, at, model.nodes())

    found = {width((u, v)).value for u in (-30.0, 30.0, 10.0) for v in (-2.0, 2.0, 2.5, 10.0)}
    assert {"wall 4 mm"} & found or {"gap 12 mm"} & found
    (node,) = model.nodes()
    lost = width_pin(model.snapshot, model.geometry, across, (30.0, 2.0), [node, "n9999"])
    assert lost.lost == "a part it was measured between is gone"
    nothing = width_pin(model.snapshot, model.geometry, (0, 200, 0, 0, 1, 0), (30.0, 2.0), model.nodes())
    assert nothing.value == ""
    assert nothing.lost
