"""What is written on sheets: values as measured in space, tolerances by their tables, what loses its edge, refusals."""

from __future__ import annotations

import io
import math

import ezdxf
import numpy as np
import pytest
from ezdxf.math import Vec2
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.drawing.ink import Letters, Stroke
from ravine.core.drawing.sheet import ink_sheet
from ravine.core.drawing.signs import SIGNS
from ravine.core.kernel import build
from tests.parts import boss_block, drilled_block, model_of, step_file


@pytest.fixture
def drawn(tmp_path):
    model, _ = model_of(tmp_path, boss_block())
    sheet = model.drawing(size="A3")
    return model, sheet, sheet.view("top", scale=1, at=(150, 200)), sheet.view("front", scale=1, at=(150, 120))


def edges_along(model, way):
    return [e.id for e in model.edges(kind="line", direction=way)]


def hole(model):
    return min(model.faces(kind="cylinder"), key=lambda f: f.radius).id


def ink(model, sheet):
    return ink_sheet(model.snapshot, model.geometry, sheet.record)


def letters(model, sheet, number):
    return [m.text for m in ink(model, sheet).items[number] if isinstance(m, Letters)]


def test_distances_are_those_in_space(drawn):
    model, sheet, top, front = drawn
    low, high = (model.edges(kind="line", direction=(0, 1, 0)).highest((s, 0, 1)).id for s in (-1, 1))
    assert sheet.dimension(top, [low, high], at=(0, -40)).value == pytest.approx(60)
    assert sheet.dimension(top, [edges_along(model, (1, 0, 0))[0]], at=(0, -40)).value == pytest.approx(60)
    off = sheet.dimension(top, [low, hole(model)], way="x", at=(0, -40))
    assert off.value == pytest.approx(30)
    below, above = (model.faces(kind="plane", normal=(0, 0, s)).highest((0, 0, s)).id for s in (-1, 1))
    assert sheet.dimension(front, [below, above], at=(-50, 0)).value == pytest.approx(22)
    assert sheet.dimension(front, [below, above], way="y", at=(-50, 0)).text == "22"


def test_rounds_and_holes(drawn):
    model, sheet, top, front = drawn
    assert sheet.dimension(top, [hole(model)], kind="diameter", at=(20, 20)).text == "⌀8"
    assert sheet.dimension(top, [hole(model)], kind="radius", at=(20, 20)).value == pytest.approx(4)
    boss = max(model.faces(kind="cylinder"), key=lambda f: f.radius).id
    assert sheet.dimension(front, [boss], kind="diameter", at=(0, 30)).value == pytest.approx(20)
    assert sheet.write("hole", top, [hole(model)], at=(25, 25)).text == "⌀8"
    rim = next(e.id for e in model.edges(kind="circle") if abs(e.radius - 4) < 1e-9)
    assert sheet.write("hole", top, [rim], at=(25, 25)).text == "⌀8"
    with pytest.raises(EditError, match="no round hole"):
        sheet.write("hole", top, [boss], at=(25, 25))


def test_notes_of_holes_say_count_depth_and_mouth(tmp_path):
    tools = []
    for x in (15, 45):
        tools += [build.cylinder(3.3, 30, (x, 10, -1)), build.cylinder(5.5, 7, (x, 10, 14))]
    tools += [
        build.cylinder(2.5, 12, (15, 30, 8.0)),
        build.cylinder(3.3, 30, (45, 30, -1)),
        build.cone(3.3, 6.3, 3, (45, 30, 17)),
    ]
    model, _ = model_of(tmp_path, build.subtract(build.box(60, 40, 20), *tools))
    sheet = model.drawing(size="A3")
    top = sheet.view("top", scale=1, at=(150, 200))

    def note(radius, x):
        rim = next(
            e.id for e in model.edges(kind="circle") if abs(e.radius - radius) < 1e-9 and abs(e.middle[0] - x) < 9
        )
        return sheet.write("hole", top, [rim], at=(40, 30)).text

    assert note(5.5, 15) == "2× ⌀6.6; counterbore ⌀11 depth 6"
    assert note(2.5, 15) == "⌀5 depth 12"
    assert note(6.3, 45) == "⌀6.6; countersink ⌀12.6 × 90°"
    written = sheet.write("hole", top, [next(e.id for e in model.edges(kind="circle") if abs(e.radius - 2.5) < 1e-9)],
                          at=(40, 30), thread="M6")  # fmt: skip
    assert written.text == "M6 depth 12"
    arcs = [m.curve for m in ink(model, sheet).items[written.number] if getattr(m, "layer", "") == "smooth"]
    assert [round(c.radius, 6) for c in arcs] == [3]
    assert arcs[0].last - arcs[0].first == pytest.approx(1.5 * math.pi)
    table = sheet.write("hole table", top, at=(250, 0))
    assert table.text == "A1, B1, B2, C1"


@pytest.fixture(scope="module")
def threaded(tmp_path_factory):
    """A plate with a stud Ø 10 × 30 on it and a through hole to be tapped for M8; views from above, the front, and
    cut."""
    plate = build.subtract(build.box(60, 40, 12), build.cylinder(3.4, 20, (45, 20, -1)))
    model, _ = model_of(tmp_path_factory.mktemp("stud"), build.unite(plate, build.cylinder(5, 30, (15, 20, 12))))
    sheet = model.drawing(size="A2")
    top = sheet.view("top", scale=1, at=(150, 300))
    return model, sheet, top, sheet.view("front", scale=1, at=(150, 200)), top.section(at=(300, 200))


def narrow(model, sheet, written, layer="smooth"):
    return [m.curve for m in ink(model, sheet).items[written.number] if getattr(m, "layer", "") == layer]


def test_an_external_thread_has_its_root_in_narrow_lines(threaded):
    model, sheet, top, front, _ = threaded
    stud = next(f.id for f in model.faces(kind="cylinder") if abs(f.radius - 5) < 1e-9)
    root = 10 - 1.22687 * 1.5
    seen = sheet.write("thread", front, [stud], at=(-15, 60), thread="M10", length="20 mm")
    assert (seen.text, seen.value) == ("M10 × 20", 10)
    lines = narrow(model, sheet, seen)
    assert sorted(float(c.centre[0]) for c in lines) == pytest.approx([150 - 15 - root / 2, 150 - 15 + root / 2])
    assert [abs(float(c.x[1])) for c in lines] == pytest.approx([20, 20])
    (end,) = narrow(model, sheet, seen, "visible")  # where it stops, as wide as the stud
    assert abs(float(end.x[0])) == pytest.approx(10)
    assert float(end.centre[1]) == pytest.approx(200 + 21 - 20)  # 20 below its free end
    fine = sheet.write("thread", top, [stud], at=(-40, 20), thread="M10×1")
    (arc,) = narrow(model, sheet, fine)
    assert arc.radius == pytest.approx((10 - 1.22687) / 2)
    with pytest.raises(EditError, match="does not suit M8"):
        sheet.write("thread", front, [stud], thread="M8")
    with pytest.raises(EditError, match="no thread of the tables"):
        sheet.write("thread", front, [stud], thread="M10×2")


def test_an_internal_thread_has_its_crest_in_narrow_lines_where_it_is_cut_open(threaded):
    model, sheet, top, front, cut = threaded
    rim = next(e.id for e in model.edges(kind="circle") if abs(e.radius - 3.4) < 1e-9)
    for kind in ("thread", "hole"):
        seen = sheet.write(kind, cut, [rim], at=(60, 30), thread="M8")
        lines = narrow(model, sheet, seen)
        assert sorted(float(c.centre[0]) for c in lines) == pytest.approx([300 + 15 - 4, 300 + 15 + 4])
        assert [abs(float(c.x[1])) for c in lines] == pytest.approx([12, 12])
    assert narrow(model, sheet, sheet.write("thread", front, [rim], thread="M8")) == []  # nothing is seen of it
    (arc,) = narrow(model, sheet, sheet.write("thread", top, [rim], thread="M8"))
    assert arc.radius == pytest.approx(4)


def test_a_thread_is_offered_where_the_size_is_one(threaded):
    model, sheet, top, _, _ = threaded

    def titles(ident):
        found = model.study_named("on sheet", {"sheet": sheet.name, "view": top.number, "on": [ident], "near": []})
        return {o["title"]: o["words"] for o in found}

    by_size = {round(f.radius, 3): f.id for f in model.faces(kind="cylinder")}
    assert titles(by_size[5.0])["Thread"] == {"thread": "M10"}
    assert titles(by_size[3.4])["Thread"] == {"thread": "M8"}
    assert "Thread" not in titles(model.edges(kind="line")[0].id)


@pytest.mark.parametrize(
    ("zone", "upper", "lower"), [("H7", "+0.015", "0"), ("g6", "−0.005", "−0.014"), ("p6", "+0.024", "+0.015")]
)
def test_fits_say_their_limits(drawn, zone, upper, lower):
    """ISO 286-2 for 8 mm."""
    model, sheet, top, _ = drawn
    written = sheet.dimension(top, [hole(model)], kind="diameter", at=(20, 20), tolerance=zone, limits="shown")
    assert letters(model, sheet, written.number) == [f"⌀8 {zone}", upper, lower]


def test_other_tolerances_and_ways_of_a_size(drawn):
    model, sheet, top, _ = drawn

    def said(**words):
        return letters(model, sheet, sheet.dimension(top, [hole(model)], kind="diameter", at=(20, 20), **words).number)

    assert said(tolerance="±0.1") == ["⌀8 ±0.1"]
    assert said(tolerance="+0.2 -0.05") == ["⌀8", "+0.2", "−0.05"]
    assert said(role="reference") == ["(⌀8)"]
    assert said(role="exact") == ["⌀8"]
    assert said(before="4×", after="deburred") == ["4×", "⌀8", "deburred"]
    with pytest.raises(EditError, match="no tolerance"):
        said(tolerance="tight")
    written = sheet.dimension(top, [hole(model)], kind="diameter", at=(20, 20), tolerance="H7")
    model.do("set written", item=written.number, words={"tolerance": "", "after": "reamed"})
    assert sheet.written(written.number).text == "⌀8 reamed"


def test_chains_stacks_and_coordinates(tmp_path):
    tools = [build.cylinder(2, 30, (x, 10, -1)) for x in (10, 25, 45)]
    model, _ = model_of(tmp_path, build.subtract(build.box(60, 40, 20), *tools))
    sheet = model.drawing(size="A3")
    top = sheet.view("top", scale=1, at=(150, 200))
    left = model.edges(kind="line", direction=(0, 1, 0)).highest((-1, 0, 1)).id
    holes = [f.id for f in sorted(model.faces(kind="cylinder"), key=lambda f: f.centroid[0])]
    chain = sheet.dimension(top, [left, *holes], way="x", layout="chain", at=(0, -40))
    assert chain.values == pytest.approx((10, 15, 20))
    stack = sheet.dimension(top, [left, *holes], way="x", layout="stack", at=(0, -40))
    assert stack.values == pytest.approx((10, 25, 45))
    spread = sheet.write("ordinate", top, [left, *holes], way="x", at=(0, -60))
    assert spread.values == pytest.approx((0, 10, 25, 45))
    assert len(letters(model, sheet, spread.number)) == 4
    # another program measures in the file what is written on the sheet, each size of the three on its own
    data = next(iter(model.do("save drawing", format="dxf").files.values()))
    document = ezdxf.read(io.StringIO(data.decode()))
    assert not document.audit().errors
    sizes = list(document.modelspace().query("DIMENSION"))
    assert [d.dxf.text for d in sizes] == ["10", "15", "20", "10", "25", "45", "0", "10", "25", "45"]
    for size in sizes:
        measured = size.get_measurement()
        if size.dimtype == 6:
            measured = Vec2(measured).x
        assert measured * size.override().get("dimlfac") == pytest.approx(float(size.dxf.text), abs=1e-9)


def test_across_a_break_and_boxed_a_size_is_drawn_in_the_file_as_lines(tmp_path):
    """Another program would measure what is left on the paper, and leave out the box."""
    model, _ = model_of(tmp_path, build.box(400, 20, 10))
    sheet = model.drawing(size="A3")
    top = sheet.view("top", scale=1, at=(150, 200))
    ends = [model.edges(kind="line", direction=(0, 1, 0)).highest((s, 0, 1)).id for s in (-1, 1)]
    size = sheet.dimension(top, ends, way="x", at=(0, -30))

    def dimensions():
        data = next(iter(model.do("save drawing", format="dxf").files.values()))
        return ezdxf.read(io.StringIO(data.decode())).modelspace().query("DIMENSION")

    assert [d.dxf.text for d in dimensions()] == ["400"]
    model.do("set view", view=top.number, along="x", low=-100, high=100)
    assert sheet.written(size.number).text == "400"
    assert not dimensions()
    model.do("set view", view=top.number, breaks="mended")
    assert len(dimensions()) == 1
    model.do("set written", item=size.number, words={"role": "exact"})
    assert not dimensions()


def test_a_box_stands_clear_of_the_dimension_line(drawn):
    model, sheet, top, _ = drawn
    ends = [model.edges(kind="line", direction=(0, 1, 0)).highest((s, 0, 1)).id for s in (-1, 1)]
    size = sheet.dimension(top, ends, way="x", at=(0, -40), role="exact")
    strokes = [m.curve.line[1] for m in ink(model, sheet).items[size.number] if isinstance(m, Stroke)]
    level = {round(float(p[0, 1]), 6) for p in strokes if len(p) == 2 and p[0, 1] == pytest.approx(p[1, 1])}
    line, low, high = sorted(level)
    assert line == pytest.approx(160)
    assert low > line + 0.5
    assert high - low > 3.5


def test_an_angle_is_that_of_the_sector_it_stands_in(tmp_path):
    wedge = build.extrude(build.outline([(0, 0, 0), (40, 0, 0), (40, 0, 40 * math.tan(math.radians(35)))]), (0, 20, 0))
    model, _ = model_of(tmp_path, wedge)
    sheet = model.drawing(size="A3")
    front = sheet.view("front", scale=1, at=(150, 200))
    flat = model.edges(kind="line", direction=(1, 0, 0)).highest((0, -1, -1)).id
    slope = next(e.id for e in model.edges(kind="line") if abs(e.length - 40 / math.cos(math.radians(35))) < 1e-6)
    inside = sheet.dimension(front, [flat, slope], kind="angle", at=(5, -10))
    assert math.degrees(inside.value) == pytest.approx(35)
    above = sheet.dimension(front, [flat, slope], kind="angle", at=(-10, 40))
    assert math.degrees(above.value) == pytest.approx(145)
    corner = sheet.view("corner", scale=1, at=(300, 200))
    with pytest.raises(EditError, match="runs into the paper"):
        sheet.dimension(corner, [flat, slope], kind="angle", at=(5, 5))
    with pytest.raises(EditError, match="runs into the paper"):
        sheet.dimension(corner, [slope], at=(5, 5))
    assert sheet.write("chamfer", front, [slope], at=(20, 20)).text == "40 × 35°"


@settings(max_examples=12, deadline=None)
@given(st.floats(12, 80), st.floats(12, 80), st.floats(5, 40), st.floats(1, 5))
def test_sizes_follow_the_model(tmp_path_factory, x, y, z, radius):
    model, _ = model_of(tmp_path_factory.mktemp("part"), drilled_block(x, y, z, radius))
    sheet = model.drawing(size="A3")
    top = sheet.view("top", scale=1, at=(150, 200))
    left, right = (model.edges(kind="line", direction=(0, 1, 0)).highest((s, 0, 1)).id for s in (-1, 1))
    wide = sheet.dimension(top, [left, right], at=(0, -60))
    round_ = sheet.dimension(top, [model.faces(kind="cylinder")[0].id], kind="diameter", at=(50, 50))
    assert (wide.value, round_.value) == (pytest.approx(x), pytest.approx(2 * radius))
    model.do("push", faces=[model.faces(kind="plane", normal=(1, 0, 0))[0].id], distance=3.5)
    model.do("resize", faces=[model.faces(kind="cylinder")[0].id], size=2 * radius + 0.5, measure="diameter")
    assert sheet.written(wide.number).value == pytest.approx(x + 3.5)
    assert sheet.written(round_.number).value == pytest.approx(2 * radius + 0.5)


def test_what_loses_its_edge_stays_and_is_marked(drawn):
    model, sheet, top, _ = drawn
    written = sheet.dimension(top, [hole(model)], kind="diameter", at=(20, 20))
    model.do("remove", faces=[hole(model)])
    found = ink(model, sheet)
    assert "ended" in found.faults[written.number]
    assert letters(model, sheet, written.number) == ["?"]
    (data,) = model.do("save drawing", format="svg").files.values()
    assert data
    assert any("ended" in w for w in model.do("save drawing", format="pdf").warnings)
    model.undo()
    assert ink(model, sheet).faults == {}


def test_two_places_of_one_part_are_two_things(tmp_path):
    model, _ = model_of(tmp_path, build.box(10, 10, 10))
    model.do("repeat parts", parts=model.nodes(), count=2, step=25)
    first, second = model.nodes()
    right = model.faces(kind="plane", normal=(1, 0, 0))[0].id
    sheet = model.drawing(size="A3")
    front = sheet.view("front", scale=1, at=(150, 200))
    assert sheet.dimension(front, [f"{right}@{first}", f"{right}@{second}"], at=(0, -30)).value == pytest.approx(25)


def test_what_is_written_goes_along_with_parts_that_are_drawn_apart(tmp_path):
    model, _ = model_of(tmp_path, build.box(40, 40, 10), "Base")
    lid = build.subtract(build.box(40, 40, 5, (0, 0, 10)), build.cylinder(4, 20, (20, 20, 0)))
    model.do("import", path=str(step_file(tmp_path / "lid.step", lid, "Lid")))
    model.do("spread", parts=["Lid"], distance="30 mm", called="Exploded")
    sheet = model.drawing(size="A2")
    whole = sheet.view("front", scale=1, at=(100, 200))
    apart = sheet.view("front", scale=1, at=(250, 200), apart="Exploded")
    base, top = (max((f for f in model.faces(body, kind="plane", normal=(0, 0, 1))), key=lambda f: f.area).id
                 for body in model.bodies())  # fmt: skip
    assert sheet.dimension(whole, [base, top], way="y", at=(40, 0)).value == pytest.approx(5)
    assert sheet.dimension(apart, [base, top], way="y", at=(40, 0)).value == pytest.approx(35)
    bore = next(f.id for f in model.faces(kind="cylinder"))
    spots = []
    for view in (whole, apart):
        written = sheet.write("hole", view, [bore], at=(60, 0))
        stroke = next(m for m in ink(model, sheet).items[written.number] if getattr(m, "layer", "") == "dimensions")
        spots.append(float(stroke.curve.centre[1]))
    assert spots[1] - spots[0] == pytest.approx(30)


def test_signs_of_the_trade(drawn):
    model, sheet, top, front = drawn
    side = model.edges(kind="line", direction=(1, 0, 0)).highest((0, -1, 1)).id
    assert sheet.write("datum", front, [side], at=(0, 40), letter="B").text == "B"
    frame = sheet.write("tolerance", top, [hole(model)], at=(30, 30), characteristic="position", value="0.1",
                        zone="round", datums="A,B", modifier="M")  # fmt: skip
    assert letters(model, sheet, frame.number) == ["⌀0.1", "M", "A", "B"]
    with pytest.raises(EditError, match="refers to no datum"):
        sheet.write("tolerance", front, [side], at=(0, 40), characteristic="flatness", datums="A")
    assert sheet.write("surface", front, [side], at=(0, 35), value="Ra 1.6").text == "Ra 1.6"
    assert sheet.write("edges", front, [side], at=(20, 40), value="-0.3").text == "−0.3"
    assert (
        sheet.write("weld", front, [side], at=(20, 40), joint="fillet", size="a4", length="60").text == "a4 fillet 60"
    )
    assert sheet.write("note", front, [side], at=(20, 40), text="deburr\nall round").text == "deburr\nall round"
    assert sheet.write("note", at=(40, 40), text="General note").text == "General note"
    assert sheet.write("revisions", at=(240, 280), row1="A | 2026-11-30 | First issue | MA").text == "First issue"
    with pytest.raises(EditError, match="says nothing"):
        sheet.write("note", front, [side], at=(20, 40), text="")


def test_signs_stay_in_their_box():
    for sign in SIGNS.values():
        places = np.array([p for path in (*sign.paths, *sign.filled) for p in path] or [(0, 0)])
        assert places[:, 0].min() >= -0.01
        assert places[:, 0].max() <= sign.wide + 0.01
        assert places[:, 1].min() >= -0.15
        assert places[:, 1].max() <= 1.15


def test_bolt_circles_and_balloons_and_the_list(tmp_path):
    tools = [build.cylinder(2, 30, (30 + 15 * math.cos(t), 30 + 15 * math.sin(t), -1)) for t in (0.3, 1.9, 3.1, 4.4)]
    model, _ = model_of(tmp_path, build.subtract(build.box(60, 60, 10), *tools), "Plate")
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.cylinder(3, 20, (30, 30, 10)), "Pin")))
    model.do("set material", parts=model.nodes("Pin"), material="brass")
    sheet = model.drawing(size="A3")
    top = sheet.view("top", scale=1, at=(150, 200))
    holes = [f.id for f in model.faces(model.bodies()[0], kind="cylinder")]
    assert sheet.write("bolt circle", top, holes).text == "⌀30"
    rows = {r.name: r.item for r in model.bill()}
    for name, body in (("Plate", 0), ("Pin", 1)):
        some = model.edges(model.bodies()[body])[0].id
        assert sheet.write("balloon", top, [some], at=(60, 60)).text == rows[name]
    listed = sheet.write("parts list", at=(230, 66))
    assert listed.text == "Plate, Pin"
    assert "brass" in letters(model, sheet, listed.number)


def test_bad_input_is_told(drawn):
    model, sheet, top, _ = drawn
    with pytest.raises(EditError, match="no view 99"):
        model.do("write on sheet", kind="distance", view=99, on=[hole(model)])
    with pytest.raises(EditError, match=r"not in this state|there is no"):
        sheet.dimension(top, ["e99999"])
    with pytest.raises(EditError, match="has the number 9999"):
        sheet.written(9999)
    with pytest.raises(EditError, match="no sheet"):
        model.do("propose sizes", sheet="Sheet 9")
    with pytest.raises(EditError, match="not parallel"):
        sheet.dimension(top, [edges_along(model, (1, 0, 0))[0], edges_along(model, (0, 1, 0))[0]])
    with pytest.raises(EditError, match="title block has no field"):
        model.do("begin sheet", says={"weight": "1"})


def test_a_model_too_large_for_the_paper_says_so(tmp_path):
    model, _ = model_of(tmp_path, build.box(60000, 60000, 60000))
    with pytest.raises(EditError, match="too large to be drawn on A4"):
        model.do("begin sheet", size="A4")
