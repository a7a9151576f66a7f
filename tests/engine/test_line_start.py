"""What the line opens with: values that fit the pick, and where the hand pulls, by formula."""

from __future__ import annotations

import json
import math

import pytest

from ravine.core import Model
from ravine.core.edits import find_edit, registry
from ravine.core.errors import EditError
from ravine.core.kernel import build
from ravine.engine.tasks import LineStart, Workshop, start_line
from tests.parts import boss_block, drilled_block, model_of
from tests.samples import SAMPLES, edge, hole, node, side, sketch, top


def opened(model: Model, name: str, picked: list[str], nodes=(), pointed=None, **values) -> LineStart:
    workshop = Workshop()
    workshop.geometry = model.geometry
    workshop.keep("now", model.snapshot)
    asked = {"snapshot": "now", "name": name, "picked": picked, "nodes": list(nodes), "values": values}
    return start_line(workshop, asked | ({"pointed": pointed} if pointed else {}), lambda share, words: None)


@pytest.mark.parametrize("name", [n for n, s in SAMPLES.items() if s.base != "empty" and n in registry()])
def test_every_edit_opens_on_its_pick_with_what_can_be_read_again(bases, name: str) -> None:
    model = bases(SAMPLES[name].base)
    cls = find_edit(name)
    raw = SAMPLES[name].values(model)
    pick = cls.pick_field()
    if pick is None or pick not in raw:
        pytest.skip("an edit without a pick opens empty")
    before = model.snapshot
    started = opened(model, cls.name, [str(i) for i in raw[pick]])
    assert model.snapshot is before
    json.dumps(started.handle)  # it goes into the page
    assert set(started.texts) == set(cls.fields())
    assert set(started.folded) <= set(cls.folds)
    assert set(started.idle) <= set(cls.fields())
    context = opened(model, cls.name, [str(i) for i in raw[pick]], **{k: v for k, v in started.texts.items() if v})
    assert context.texts == started.texts  # what stands in the gaps means what it meant
    if started.handle:
        fields = [started.handle["field"], *(name for name, _ in started.handle["beside"])]
        assert set(fields) <= set(cls.fields())
        assert math.hypot(*started.handle["direction"]) == pytest.approx(1)


def near(found, wanted) -> bool:
    return found == pytest.approx(wanted, abs=1e-6)


def test_handles_stand_where_the_value_counts_from(tmp_path) -> None:
    model = model_of(tmp_path, boss_block())[0]

    def pulled(name: str, picked: list[str], **values):
        handle = opened(model, name, picked, **values).handle
        return handle["field"], handle["origin"], handle["direction"]

    field, origin, way = pulled("push", [side(model)])
    assert field == "distance"
    assert near(origin[0], 60)
    assert near(way, (1, 0, 0))
    field, origin, way = pulled("thicken", [side(model)])
    assert (field, near(way, (1, 0, 0))) == ("thickness", True)
    field, origin, way = pulled("move faces", [hole(model)], along="y")
    assert field == "distance"
    assert near(origin[:2], (30, 20))
    assert near(way, (0, 1, 0))
    field, origin, way = pulled("slot", [hole(model)], along="x")
    assert near(way, (1, 0, 0))
    assert near(origin[:2], (30, 20))
    field, origin, way = pulled("edges out", [edge(model)], along="z")
    assert near(way, (0, 0, 1))
    assert near(origin, (30, 40, 10))
    field, origin, way = pulled("split", node(model), along="x")
    assert (field, near(way, (1, 0, 0))) == ("height", True)
    handle = opened(model, "tilt", [side(model)], axis=bottom_edge(model)).handle
    assert handle["field"] == "angle"
    assert near([abs(v) for v in handle["direction"]], (0, 1, 0))
    assert near(handle["origin"][::2], (60, 0))  # on the edge it turns about
    assert near(handle["arm"][::2], (0, 5))  # up to the middle of the face
    handle = opened(model, "twist", [top(model)]).handle
    assert handle["field"] == "angle"
    assert near(handle["direction"], (0, 0, 1))
    assert abs(sum(a * b for a, b in zip(handle["arm"], handle["direction"], strict=True))) < 1e-9


def bottom_edge(model: Model) -> str:
    return model.edges(kind="line", direction=(0, 1, 0)).highest((1, 0, -1)).id


def test_a_sketch_gives_handles_square_to_its_plane(bases) -> None:
    model = bases("drawn")
    area = SAMPLES["extrude"].values(model)["areas"]
    handle = opened(model, "extrude", area).handle
    assert handle["field"] == "distance"
    assert near(handle["direction"], (0, 0, 1))
    assert near(handle["origin"][2], 0)


@pytest.mark.parametrize(("axis", "sideways", "across"), [("z", "x", "y"), ("x", "y", "z"), ("y", "x", "z")])
def test_a_hole_moves_and_is_repeated_in_its_face(tmp_path, axis: str, sideways: str, across: str) -> None:
    way = tuple(float(a == axis) for a in "xyz")
    start = [20.0 if a != axis else -1.0 for a in "xyz"]
    model = model_of(tmp_path, build.subtract(build.box(40, 40, 40), build.cylinder(5, 42, start, way)))[0]
    assert opened(model, "move faces", [hole(model)]).texts["along"] == sideways
    rows = opened(model, "pattern", [hole(model)])
    assert (rows.texts["along"], rows.texts["across"]) == (sideways, across)
    assert near(rows.handle["direction"], [float(a == sideways) for a in "xyz"])
    for other in "xyz":  # each direction that can be chosen has its wire
        turned = opened(model, "pattern", [hole(model)], along=other).handle
        assert near(turned["direction"], [float(a == other) for a in "xyz"])
        assert near(turned["direction"], rows.handle["ways"][other])
    assert opened(model, "move faces", [side(model)]).texts["along"] == "normal"


def test_a_hole_is_drilled_where_the_face_was_clicked(tmp_path) -> None:
    model = model_of(tmp_path, build.box(60, 40, 10, (-30, -20, -10)))[0]
    assert opened(model, "drill", [top(model)]).texts["across"] == "0 mm"
    started = opened(model, "drill", [top(model)], pointed=[17.2, -8.6, 0.0])
    assert (started.texts["across"], started.texts["up"]) == ("17 mm", "-9 mm")
    handle = started.handle
    assert (handle["field"], handle["beside"][0][0]) == ("across", "up")
    assert near(handle["origin"], (0, 0, 0))  # both lengths count from there
    assert near(handle["direction"], (1, 0, 0))
    assert near(handle["beside"][0][1], (0, 1, 0))
    model.do(
        "drill", face=[top(model)], kind="plain", diameter="6", across=started.texts["across"], up=started.texts["up"]
    )
    (x, y, _), _ = model.face(hole(model)).axis
    assert near((x, y), (17, -9))


def test_the_size_that_is_set_starts_with_what_it_is(tmp_path) -> None:
    model = model_of(tmp_path, drilled_block(radius=5.25))[0]
    started = opened(model, "resize", [hole(model)])
    assert (started.texts["measure"], started.texts["size"]) == ("diameter", "10.5 mm")
    assert opened(model, "resize", [top(model)]).texts["measure"] == "thickness"
    model.do("chamfer", edges=[edge(model)], size="1.5")
    (chamfer,) = [f for f in model.faces(kind="plane") if 0.1 < f.normal[2] < 0.9]
    assert opened(model, "resize", [chamfer.id]).texts["size"] == "1.5 mm"


def test_what_is_known_of_a_pick_stands_in_the_line(bases) -> None:
    pattern = bases("pattern")
    row = opened(pattern, "recount", [hole(pattern)])
    assert (row.texts["count"], row.texts["rows"], row.texts["step"]) == ("3", "1", "20 mm")
    drawn = bases("drawn")
    circle = SAMPLES["dimension"].values(drawn)["on"]
    assert opened(drawn, "dimension", circle).texts["size"] == "10 mm"
    assert opened(drawn, "section curves", circle).texts["sketches"] == sketch(drawn)
    boss = bases("boss")
    assert opened(boss, "name set", [top(boss)]).texts["called"] == "Set 1"
    assert opened(boss, "rename", node(boss)).texts["to"] == "Boss"


def test_an_edit_of_whole_parts_takes_the_places_of_picked_faces(bases) -> None:
    boss = bases("boss")
    started = opened(boss, "move body", [top(boss)], nodes=node(boss))
    assert started.texts["parts"].split() == node(boss)
    with pytest.raises(EditError):
        opened(boss, "resize", ["f999999"])
