"""Surfaces from edges, thickened walls, ribs, guided lofts and mirrored parts that follow, by formula."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.queries import edge_facts, face_facts
from ravine.core.model.snapshot import Snapshot
from tests.core.test_shaping_edits import sound, top
from tests.core.test_sketch_edits import Desk
from tests.parts import drilled_block, model_of


def edges_where(model, body: str, test) -> list[str]:
    found = model.snapshot.body(int(body[1:]))
    index = model.geometry.solid(found.shape).index
    return [f"e{found.edges[i]}" for i, e in enumerate(index.all("edge")) if test(edge_facts(e))]


def faces_where(model, body: str, test) -> list[str]:
    found = model.snapshot.body(int(body[1:]))
    index = model.geometry.solid(found.shape).index
    return [f"f{found.faces[i]}" for i, f in enumerate(index.all("face")) if test(face_facts(f))]


def last_node(model) -> str:
    return f"n{model.snapshot.roots[-1]}"


def test_an_edge_is_pulled_out_and_the_surface_thickened(tmp_path) -> None:
    model, body = model_of(tmp_path, build.cylinder(20, 30))
    (rim,) = edges_where(model, body, lambda e: e.kind == "circle" and e.middle[2] > 29)
    change = model.do("edges out", edges=[rim], distance="12", along="z")
    assert change.fact("area") == pytest.approx(2 * math.pi * 20 * 12)
    sheet = last_node(model)
    assert model.snapshot.bodies[model.snapshot.nodes[int(sheet[1:])].body].kind == "surface"
    change = model.do("thicken", faces=[sheet], thickness="2", sides="both", way="apart")
    assert model.measure(change.added[0]).volume == pytest.approx(math.pi * (21**2 - 19**2) * 12)
    assert sheet[1:] not in map(str, model.snapshot.roots)
    model.undo()
    with pytest.raises(EditError, match="no open surface"):
        model.do("thicken", faces=[f"n{model.snapshot.roots[0]}"], thickness="2")


def test_faces_of_a_solid_are_thickened_together(tmp_path) -> None:
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    faces = faces_where(model, body, lambda f: f.normal[2] > 0.9 or f.normal[0] > 0.9)
    change = model.do("thicken", faces=faces, thickness="3", way="apart")
    assert model.measure(change.added[0]).volume == pytest.approx(30 * (40 * 3 + 20 * 3 + 9))
    model.undo()
    area = model.face(faces[0]).area
    model.do("thicken", faces=faces[:1], thickness="3", way="joining")
    sound(model, body, 24000 + 3 * area)


def test_loops_are_filled_flat_and_bent(tmp_path) -> None:
    model, body = model_of(tmp_path, drilled_block())
    rim = edges_where(model, body, lambda e: e.kind == "circle" and e.middle[2] > 19)
    change = model.do("fill", edges=rim)
    assert change.fact("area") == pytest.approx(25 * math.pi)
    around = edges_where(model, body, lambda e: e.kind == "line" and e.middle[2] > 1e-6)
    with pytest.raises(EditError, match="no closed loop"):
        model.do("fill", edges=around[:2])
    saddle = Desk()
    ring = [
        saddle.draw(saddle.begin(plane="xy"), "line", "0,0 40,0"),
        saddle.draw(saddle.begin(plane="xy", offset="0"), "line", "0,40 0,0"),
    ]
    sketch = saddle.begin(plane="xz", offset="-40")  # along its normal, which points to −y
    ring.append(saddle.draw(sketch, "line", "0,0 40,10"))
    ring.append(saddle.draw(saddle.begin(plane="yz", offset="40"), "line", "0,0 40,10"))
    change = saddle.model.do("fill", edges=[c for row in ring for c in row])
    assert 1600 < change.fact("area") < 1600 * 1.05


def test_a_rib_fills_the_corner_of_an_angle(tmp_path) -> None:
    angle = build.unite(build.box(40, 30, 5), build.box(5, 30, 40))
    model, body = model_of(tmp_path, angle)
    desk = Desk(model)
    sketch = desk.begin(plane="xz", offset="-15")
    (line,) = desk.draw(sketch, "line", "8,25 25,8")  # stops short of both walls: runs on at 45°
    before = model.measure(body).volume
    change = model.do("rib", curve=[line], thickness="4")
    assert change.fact("volume_change") == pytest.approx(4 * 23**2 / 2)
    sound(model, body, before + 4 * 23**2 / 2)
    with pytest.raises(EditError, match="closes it in"):
        model.undo() and model.do("rib", curve=[line], thickness="4", side="left")
    (arc,) = desk.draw(sketch, "arc", "5,25 25,5 10,10")
    assert model.do("rib", curve=[arc], thickness="2").fact("volume_change") > 0


def test_a_loft_is_led_along_a_guide() -> None:
    desk = Desk()
    path = desk.begin(plane="xz")
    (arc,) = desk.draw(path, "arc about", "0,0 50,0 0,50")
    areas = []
    for plane, place in (("xy", "50,0"), ("yz", "0,50")):
        sketch = desk.begin(plane=plane)
        desk.draw(sketch, "circle", place, size="6 mm")
        areas.append(desk.area(sketch))
    change = desk.model.do("loft", areas=areas, guide=[arc])
    # Pappus: the middle of the circle goes a quarter of the way around
    sound(desk.model, change.added[0], math.pi * 36 * math.pi / 2 * 50, rel=2e-4)
    straight = desk.model.undo() and desk.model.do("loft", areas=areas)
    assert desk.volume(straight.added[0]) < 0.95 * math.pi * 36 * math.pi / 2 * 50


def test_a_linked_mirror_follows_and_keeps_its_ids(tmp_path) -> None:
    model, body = model_of(tmp_path, drilled_block())
    node = f"n{model.snapshot.roots[0]}"
    face = top(model, body)
    change = model.do("mirror", parts=[node], along="x", height="-5", result="linked")
    (twin,) = change.added
    assert model.body(twin).locked
    tops = set(model.body(twin).faces)
    model.do("push", faces=[face], distance="5")
    assert model.measure(twin).volume == pytest.approx(model.measure(body).volume)
    assert set(model.body(twin).faces) == tops
    assert Snapshot.from_json(model.snapshot.to_json()) == model.snapshot
    with pytest.raises(EditError, match="stays the mirror of Part"):
        model.do("push", faces=[top(model, twin)], distance="1")
    model.undo()
    assert model.measure(twin).volume == pytest.approx(model.measure(body).volume)
    model.do("lock", parts=[last_node(model)], state="unlocked")
    model.do("push", faces=[face], distance="5")
    assert model.measure(twin).volume < model.measure(body).volume - 1
    model.undo(), model.undo()  # linked again
    model.do("delete body", parts=[node])
    assert model.body(twin).mirror is None
    assert not model.body(twin).locked
