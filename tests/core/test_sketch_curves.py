"""Curves taken on, split, cut back, touching, mirrored as they are drawn; text; sizes by formula."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.queries import edge_facts
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.sketch.lettering import width
from ravine.core.sketch.plane_curves import plane_curve
from ravine.core.sketch.regions import covers
from tests.core.test_shaping_edits import sound, top
from tests.core.test_sketch_edits import Desk
from tests.parts import model_of


def places(desk: Desk, sketch: str, curve: str) -> list[tuple[float, float]]:
    return desk.of(sketch).places(desk.of(sketch).curve(int(curve[1:])))


def test_a_line_and_an_arc_are_taken_on_to_what_lies_ahead() -> None:
    desk = Desk()
    sketch = desk.begin()
    line = desk.draw(sketch, "line", "0,0 10,0")[0]
    desk.draw(sketch, "line", "30,-10 30,10")
    desk.draw(sketch, "line", "50,-10 50,10")
    desk.model.do("extend", curve=[line], at="9,0")
    assert places(desk, sketch, line)[1] == pytest.approx((30, 0))
    with pytest.raises(EditError, match="nothing lies ahead"):
        desk.model.do("extend", curve=[line], at="1,0")
    arc = desk.draw(sketch, "arc about", "0,100 20,100 0,120")[0]
    desk.draw(sketch, "line", "-30,100 0,100")
    desk.model.do("extend", curve=[arc], at="0,120")
    assert places(desk, sketch, arc)[2] == pytest.approx((-20, 100))
    with pytest.raises(EditError, match="cannot be taken on"):
        desk.model.do("extend", curve=desk.draw(sketch, "circle", "0,200", size="3"), at="0,203")


def test_curves_split_in_two_keep_their_form() -> None:
    desk = Desk()
    sketch = desk.begin()
    for shape, drawn, at in (
        ("line", "0,0 40,10", "20,5"),
        ("arc", "0,50 40,50 20,60", "20,60"),
        ("ellipse", "100,0 120,0 100,10", "100,10"),
        ("spline", "100,50 110,60 120,50 130,60", "115,55"),
    ):
        (curve,) = desk.draw(sketch, shape, drawn)
        before = plane_curve(desk.of(sketch), desk.of(sketch).curve(int(curve[1:])))
        desk.model.do("split curve", curve=[curve], at=at)
        pieces = [c for c in desk.of(sketch).curves.values() if c.kind == shape]
        assert len(pieces) == 2
        for piece in pieces:
            flat = plane_curve(desk.of(sketch), piece)
            for place in flat.at(np.linspace(flat.first, flat.last, 9)):
                assert before.parameter(place) is not None
    with pytest.raises(EditError, match="its end"):
        desk.model.do("split curve", curve=[curve], at="100,50")


def test_ellipses_and_splines_are_cut_back_exactly() -> None:
    desk = Desk()
    sketch = desk.begin()
    (ellipse,) = desk.draw(sketch, "ellipse", "0,0 30,0 0,10")
    desk.draw(sketch, "line", "0,-20 0,20")
    desk.model.do("trim", curve=[ellipse], at="30,0")
    (area,) = regions_of_sketch(desk.of(sketch))
    assert area.amount == pytest.approx(math.pi * 300 / 2, rel=1e-9)
    (bent,) = desk.draw(sketch, "spline", "100,0 110,10 120,0 130,10")
    desk.draw(sketch, "line", "100,5 130,5")
    desk.model.do("trim", curve=[bent], at="110,10")
    assert len([c for c in desk.of(sketch).curves.values() if c.kind == "spline"]) == 2


@settings(max_examples=40, deadline=None)
@given(st.floats(1, 20), st.floats(1, 20), st.floats(25, 80), st.floats(0, 6.28), st.booleans(), st.booleans())
def test_a_touching_line_touches_both_circles(r, q, apart, turn, up, crossing) -> None:
    assume(apart > r + q + 1)
    desk = Desk()
    sketch = desk.begin()
    middle = np.array([apart * math.cos(turn), apart * math.sin(turn)])
    (a,) = desk.draw(sketch, "circle", "0,0", size=f"{r} mm")
    (b,) = desk.draw(sketch, "circle", f"{middle[0]:.9f},{middle[1]:.9f}", size=f"{q} mm")
    along, square = middle / apart, np.array([-middle[1], middle[0]]) / apart
    inner = -1.0 if crossing else 1.0
    share = (r - inner * q) / apart  # the line's normal n has n·(b − a) = r ∓ q
    normal = share * along + (1 if up else -1) * math.sqrt(1 - share**2) * square
    one, two = r * normal, middle + inner * q * normal
    (line,) = desk.draw(sketch, "touching line", f"{a}:{one[0]:.9f},{one[1]:.9f} {b}:{two[0]:.9f},{two[1]:.9f}")
    p, s = (np.array(v) for v in places(desk, sketch, line))
    assert np.hypot(*(s - p)) == pytest.approx(math.sqrt(apart**2 - (r - inner * q) ** 2), rel=1e-7)
    assert (p, s) == (pytest.approx(one, abs=1e-6), pytest.approx(two, abs=1e-6))
    assert abs(p @ (s - p)) < 1e-6 * apart


def test_what_is_drawn_appears_mirrored_at_once_and_stays_so() -> None:
    desk = Desk()
    sketch = desk.begin()
    (axis,) = desk.draw(sketch, "line", "0,-20 0,60", role="helper")
    half = desk.draw(sketch, "line", "0,0 20,0 20,30 0,40", about=[axis])
    assert len(half) == 6
    (area,) = regions_of_sketch(desk.of(sketch))
    assert area.amount == pytest.approx(2 * (20 * 30 + 10 * 20 / 2))
    bottom = next(c for c in half if places(desk, sketch, c) == [(0.0, 0.0), (20.0, 0.0)])
    desk.model.do("dimension", on=[bottom], kind="distance", size="25")
    (area,) = regions_of_sketch(desk.of(sketch))
    low, high = area.lines[0].min(axis=0), area.lines[0].max(axis=0)
    assert (high + low)[0] == pytest.approx(0, abs=1e-9)


def test_text_has_the_height_and_width_that_it_says_and_letters_a_face(tmp_path) -> None:
    desk = Desk()
    sketch = desk.begin()
    desk.draw(sketch, "text", "10,5", words="HI", size="7")
    found = np.concatenate([row for a in regions_of_sketch(desk.of(sketch)) for row in a.lines])
    assert (found.min(axis=0)[1], found.max(axis=0)[1]) == pytest.approx((5, 12))
    assert found.max(axis=0)[0] < 10 + 7 * width("HI", "sans")
    with pytest.raises(EditError, match="has no “漢”"):
        desk.draw(sketch, "text", "0,0", words="漢", size="7")
    with pytest.raises(EditError, match="height of the capitals"):
        desk.draw(sketch, "text", "0,0", words="x")
    assert width("AV", "sans") < 0.97 * (width("A", "sans") + width("V", "sans"))  # the pair stands closer
    (text,) = desk.draw(sketch, "text", "300,0", words="FR", size="7")
    (line,) = desk.draw(sketch, "line", "300,-30 330,0", role="helper")
    plain = [a for a in regions_of_sketch(desk.of(sketch)) if a.inside[0] > 250]
    desk.model.do("copy curves", curves=[text], way="mirrored", line=[line])
    flipped = sorted((a.inside[1] + 330, a.inside[0] - 330) for a in plain)
    both = [a for a in regions_of_sketch(desk.of(sketch)) if a.inside[0] > 250]
    assert sum(a.amount for a in both) == pytest.approx(2 * sum(a.amount for a in plain), rel=1e-9)
    assert all(any(covers(a.lines[0], np.array(p)) for a in both) for p in flipped)
    model, body = model_of(tmp_path, build.box(60, 30, 10))
    desk.draw(sketch, "text", "100,0", words="B8&O", size="6")
    holes = [a for a in regions_of_sketch(desk.of(sketch)) if a.inside[0] > 99]
    raised = model.do("letter", face=[top(model, body)], words="B8&O", height="6", depth="0.5")
    model.undo()
    cut = model.do("letter", face=[top(model, body)], words="B8&O", height="6", depth="0.5", way="cut", angle="90°")
    assert raised.fact("volume_change") == pytest.approx(-cut.fact("volume_change"), rel=1e-6)
    with pytest.raises(EditError, match="lie beside the face"):
        model.do("letter", face=[top(model, body)], words="B8&O far too long", height="9")
    solid_areas = [a.amount for a in holes if a.holes or a.amount == max(h.amount for h in holes)]
    assert 0.5 * max(solid_areas) < raised.fact("volume_change") < 0.5 * sum(a.amount for a in holes)
    sound(model, body, 18000 + cut.fact("volume_change"))


def test_sizes_follow_formulas_and_rings_are_refused() -> None:
    desk = Desk()
    sketch = desk.begin()
    bottom, side = desk.draw(sketch, "rectangle", "0,0 40,20")[:2]
    do = desk.model.do
    do("dimension", on=[bottom], kind="distance", size="40 mm", called="wide")
    do("dimension", on=[side], kind="distance", size="wide/2 + 1", called="high")
    other = desk.begin(plane="xz")
    (disc,) = desk.draw(other, "circle", "0,0 5,0")
    do("dimension", on=[disc], kind="radius", size="high/3")
    do("dimension", on=[bottom], kind="distance", size="60")
    assert desk.model.snapshot.named_sizes() == pytest.approx({"wide": 60, "high": 31})
    assert desk.of(other).curve(int(disc[1:])).size == pytest.approx(31 / 3)
    change = do("extrude", areas=[desk.area(sketch)], distance="wide / 10")
    assert desk.volume(change.added[0]) == pytest.approx(60 * 31 * 6)
    before = desk.model.snapshot
    for values, words in (
        ({"size": "high*2"}, "leads back to itself"),
        ({"size": "walll"}, "no size is called “walll”"),
        ({"size": "5", "called": "mm"}, "is a unit"),
        ({"size": "5", "called": "high"}, "another size is called"),
        ({"size": "5", "called": "w2"}, "formulas use the name “wide”"),
        ({"size": "wide*wide"}, "make an area"),
    ):
        with pytest.raises(EditError, match=words):
            do("dimension", on=[bottom], kind="distance", **values)
    assert desk.model.snapshot == before
    change = do("erase", what=[bottom])
    assert change.warnings == ("high = wide/2 + 1 keeps its value, since a size in it is gone",)


def test_a_row_of_planes_along_an_edge(tmp_path) -> None:
    model, body = model_of(tmp_path, build.cylinder(20, 30))
    desk = Desk(model)
    solid = desk.solid(body)
    edges = model.snapshot.body(int(body[1:])).edges
    rim = next(f"e{edges[i]}" for i, e in enumerate(solid.index.all("edge")) if edge_facts(e).kind == "circle")
    change = model.do("sketch", on=[rim], count="4")
    planes = [s.plane for s in model.snapshot.sketches.values()]
    assert change.fact("sketches") == 4
    for k, plane in enumerate(planes[:3]):
        assert np.hypot(*plane.origin[:2]) == pytest.approx(20)
        assert abs(np.dot(plane.normal, (*plane.origin[:2], 0))) < 1e-9
        assert np.dot(plane.normal, planes[0].normal) == pytest.approx(math.cos(2 * math.pi * k / 3))
    with pytest.raises(EditError, match="runs along one picked edge"):
        model.do("sketch", on=[top(model, body)], count="3")


def test_a_spline_that_crosses_itself_closes_each_of_its_loops() -> None:
    """A figure of eight, and its mirror image: the same two areas, whose difference is what runs around its middle."""
    eight = [(0, 0), (10, 8), (20, 0), (10, -8), (0, 0.5), (-10, 8), (-20, 0), (-10, -8), (0, 0)]
    found = []
    for sign in (1, -1):
        desk = Desk()
        sketch = desk.begin()
        desk.draw(sketch, "spline", " ".join(f"{x},{sign * y}" for x, y in eight))
        (first, second) = regions_of_sketch(desk.of(sketch))
        found.append((first.amount, second.amount))
        flat = plane_curve(desk.of(sketch), next(iter(desk.of(sketch).curves.values())))
        line = flat.at(np.linspace(flat.first, flat.last, 20001))
        x, y = line.T
        around = float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum()) / 2
        assert abs(first.amount - second.amount) == pytest.approx(abs(around), rel=1e-4)
    assert found[0] == pytest.approx(found[1])


def test_an_arc_goes_on_tangent_and_stays_so() -> None:
    desk = Desk()
    sketch = desk.begin()
    (line,) = desk.draw(sketch, "line", "0,0 10,0")
    tip = desk.of(sketch).curve(int(line[1:])).points[1]
    (arc,) = desk.draw(sketch, "arc going on", f"p{tip} 20,10")
    middle = desk.of(sketch).points[desk.of(sketch).curve(int(arc[1:])).points[0]]
    assert middle == pytest.approx((10, 10))
    end = next(p for p in desk.of(sketch).curve(int(arc[1:])).points[1:] if p != tip)
    (back,) = desk.draw(sketch, "arc going on", f"p{end} 10,20")
    assert desk.of(sketch).curve(int(back[1:])).size == pytest.approx(10)
    with pytest.raises(EditError, match="straight on"):
        desk.draw(sketch, "arc going on", f"p{desk.of(sketch).curve(int(line[1:])).points[0]} -5,0")
    desk.model.do("dimension", on=[arc], kind="radius", size="14")
    a, b = (np.array(p) for p in places(desk, sketch, line))
    centre = np.array(desk.of(sketch).points[desk.of(sketch).curve(int(arc[1:])).points[0]])
    assert abs((centre - b) @ (b - a)) < 1e-6


@pytest.mark.parametrize("count", [3, 6, 11])
def test_a_polygon_over_its_sides_has_the_area_of_its_formula(count: int) -> None:
    desk = Desk()
    sketch = desk.begin()
    desk.draw(sketch, "polygon over", "5,5 15,5", count=count)
    (area,) = regions_of_sketch(desk.of(sketch))
    assert area.amount == pytest.approx(count * 100 * math.tan(math.pi / count))


def test_curves_are_moved_and_turned() -> None:
    desk = Desk()
    sketch = desk.begin()
    box = desk.draw(sketch, "rectangle", "0,0 40,20")
    corner = desk.of(sketch).curve(int(box[0][1:])).points[0]
    disc = desk.draw(sketch, "circle", f"p{corner}+30,10", size="3")
    change = desk.model.do("move curves", curves=[*box, *disc], step="5,5", angle="30°", middle="0,0")
    assert change.warnings == ("4 rules on level and upright given up",)
    first, second = regions_of_sketch(desk.of(sketch))
    assert first.amount + second.amount == pytest.approx(800)
    turned = np.array([30 * math.cos(math.pi / 6) - 10 * 0.5 + 5, 30 * 0.5 + 10 * math.cos(math.pi / 6) + 5])
    assert places(desk, sketch, disc[0])[0] == pytest.approx(turned)
    with pytest.raises(EditError, match="nothing would move"):
        desk.model.do("move curves", curves=box)
