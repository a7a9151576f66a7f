"""Solids made and changed at sizes drawn at random: their volumes, areas and middles are those of the formulas."""

from __future__ import annotations

import math
from functools import cache
from pathlib import Path
from tempfile import mkdtemp

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from tests.parts import model_of, step_file
from tests.samples import area, curve, sketch

few = settings(max_examples=5, deadline=None)
side = st.floats(8, 40)


def sketched(*shapes, plane="xy", offset="0"):
    """A model with one sketch, and these drawn in it."""
    model = Model()
    model.do("sketch", plane=plane, offset=offset)
    for shape, places, more in shapes:
        model.do("draw", sketch=[sketch(model)], shape=shape, places=places, **more)
    return model


def volume(model, number=0):
    return model.measure(model.bodies()[number]).volume


def rectangle(a, b):
    return "rectangle", f"{-a / 2!r},{-b / 2!r} {a / 2!r},{b / 2!r}", {}


def circle(r, at="0,0"):
    return "circle", at, {"size": f"{r!r}"}


# --- made from areas ---------------------------------------------------------------------------------------------


@given(side, side, st.floats(2, 30), st.floats(-12, 12))
@few
def test_a_rectangle_drawn_out_with_a_taper(a, b, h, degrees):
    """∫ (a − 2 x t)(b − 2 x t) dx, for a positive taper one way, for a negative the other."""
    t = math.tan(math.radians(degrees))
    assume(min(a, b) - 2 * h * abs(t) > 1 and abs(degrees) > 0.2)
    model = sketched(rectangle(a, b))
    model.do("extrude", areas=[area(model)], distance=f"{h!r}", taper=f"{degrees!r}°")
    narrower, wider = (a * b * h - s * (a + b) * t * h**2 + 4 / 3 * t**2 * h**3 for s in (1, -1))
    assert min(abs(volume(model) - v) for v in (narrower, wider)) < 1e-6 * a * b * h


@given(side, side, st.floats(2, 30), st.floats(1, 3.5))
@few
def test_a_ring_drawn_out_to_both_sides(a, b, h, r):
    model = sketched(rectangle(a, b), circle(r))
    ring = area(model)
    model.do("extrude", areas=[ring], distance=f"{h!r}", sides="both")
    whole = (a * b - math.pi * r**2) * h
    assert min(abs(volume(model) - k * whole) for k in (1, 2)) < 1e-9 * whole, "as far in all, or as far each way"
    assert abs(model.measure(model.bodies()[0]).centroid[2]) < 1e-9


@given(st.floats(10, 30), st.floats(1, 6), st.floats(10, 360))
@few
def test_a_round_area_turned_about_an_axis(far, r, degrees):
    """Pappus: the area times the way of its middle."""
    assume(far - r > 1)
    model = sketched(circle(r, f"{far!r},0"), ("line", "0,-40 0,40", {"role": "helper"}))
    model.do("revolve", areas=[area(model)], axis=[curve(model, "line")], angle=f"{degrees!r}°")
    assert volume(model) == pytest.approx(math.pi * r**2 * far * math.radians(degrees), rel=1e-7)


@given(st.floats(3, 20), st.floats(3, 20), st.floats(5, 40))
@few
def test_two_circles_joined_to_a_frustum(r, q, h):
    assume(abs(r - q) > 0.1)
    model = sketched(circle(r))
    first = area(model)
    model.do("sketch", plane="xy", offset=f"{h!r}")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="0,0", size=f"{q!r}")
    model.do("loft", areas=[first, area(model)])
    assert volume(model) == pytest.approx(math.pi * h / 3 * (r**2 + r * q + q**2), rel=1e-5)


@given(st.floats(0.5, 3), st.floats(10, 40), st.floats(8, 25))
@few
def test_a_circle_taken_along_a_line_and_an_arc(r, straight, bend):
    """The area times the length of the way."""
    assume(bend > 2 * r)
    model = sketched(("line", f"0,0 0,{straight!r}", {}), plane="xz")
    (way,) = model.snapshot.sketches.values()
    end = next(n for n, at in way.points.items() if abs(at[1] - straight) < 1e-9)
    model.do("draw", sketch=[f"s{way.id}"], shape="arc going on", places=f"p{end} {bend!r},{straight + bend!r}")
    along = [f"c{n}" for n in model.snapshot.sketch(way.id).curves]
    model.do("sketch", plane="xy")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="0,0", size=f"{r!r}")
    model.do("sweep", areas=[area(model)], along=along)
    assert volume(model) == pytest.approx(math.pi * r**2 * (straight + math.pi / 2 * bend), rel=1e-6)


# --- changed -----------------------------------------------------------------------------------------------------


@cache
def _block() -> Model:
    return model_of(Path(mkdtemp(prefix="ravine-formula-")), build.box(40, 30, 20), "Block")[0]


def block():
    made = _block()
    return Model(snapshot=made.snapshot, geometry=made.geometry)


def edges_of(model):
    return [e.id for e in model.edges(kind="line")]


@given(st.floats(0.3, 8))
@few
def test_every_edge_of_a_block_rounded(r):
    """The block of Minkowski: an inner one, its faces grown, quarter rounds along its edges, a ball at its corners."""
    model = block()
    model.do("round", edges=edges_of(model), size=f"{r!r}")
    a, b, c = 40 - 2 * r, 30 - 2 * r, 20 - 2 * r
    wanted = a * b * c + 2 * r * (a * b + b * c + c * a) + math.pi * r**2 * (a + b + c) + 4 / 3 * math.pi * r**3
    assert volume(model) == pytest.approx(wanted, rel=1e-7)
    skin = 2 * (a * b + b * c + c * a) + 2 * math.pi * r * (a + b + c) + 4 * math.pi * r**2
    assert model.measure(model.bodies()[0]).area == pytest.approx(skin, rel=1e-6)


@given(st.floats(0.3, 8))
@few
def test_every_edge_of_a_block_chamfered(w):
    """Prisms w² / 2 along the edges, without what three of them share twice or thrice at each corner."""
    model = block()
    model.do("chamfer", edges=edges_of(model), size=f"{w!r}")
    rows = 4 * (40 + 30 + 20) * w**2 / 2
    shared = 8 * (3 * w**3 / 2 - _corner(w))
    assert volume(model) == pytest.approx(24000 - rows + shared, rel=1e-7)


def _corner(w):
    """What is taken of a cube of w at a corner: all but the tip beyond the triangle where the three chamfers end, which
    is a sixth of it."""
    return w**3 * (1 - 1 / 6)


@given(st.floats(0.5, 4), st.floats(0.2, 3))
@few
def test_a_block_hollowed_from_above(wall, other):
    model = block()
    top = model.faces(normal=(0, 0, 1)).highest().id
    bottom = model.faces(normal=(0, 0, -1)).highest((0, 0, -1)).id
    model.do("hollow", faces=[top], thickness=f"{wall!r}", other=f"{other!r}", thick=[bottom])
    inner = (40 - 2 * wall) * (30 - 2 * wall) * (20 - other)
    assert volume(model) == pytest.approx(24000 - inner, rel=1e-9)


@given(st.floats(0.2, 5))
@few
def test_a_part_scaled(factor):
    model = block()
    model.do("scale", parts=model.nodes(), factor=f"{factor!r}")
    assert volume(model) == pytest.approx(24000 * factor**3, rel=1e-9)
    assert model.measure(model.bodies()[0]).area == pytest.approx(5200 * factor**2, rel=1e-9)


@given(st.floats(1, 19), st.integers(0, 2))
@few
def test_the_pieces_of_a_split_part_add_up(share, axis):
    model = block()
    at = share / 20 * (40, 30, 20)[axis]
    model.do("split", parts=model.nodes(), along="xyz"[axis], height=f"{at!r}")
    volumes = sorted(model.measure(b).volume for b in model.bodies())
    assert volumes == pytest.approx(sorted([24000 * share / 20, 24000 * (1 - share / 20)]), rel=1e-9)


@given(st.floats(-15, 30), st.floats(-10, 20), st.floats(4, 9))
@few
def test_what_two_parts_are_together_and_what_they_share_add_up(x, y, r):
    """|A ∪ B| + |A ∩ B| = |A| + |B|, and |A − B| = |A| − |A ∩ B|."""
    assume(all(abs(abs(v) - r) > 0.05 for v in (x, x - 40, y, y - 30)))
    found = {}
    for way in ("unite", "cut", "common"):
        model = block()
        path = Path(mkdtemp(prefix="ravine-formula-")) / "Pin.step"
        model.do("import", path=str(step_file(path, build.cylinder(r, 50, (x, y, -15)), "Pin")))
        if x < -r or y < -r:  # they share no room
            with pytest.raises(EditError):
                model.do("combine", part=model.nodes("Block"), tools=model.nodes("Pin"), way=way)
            return
        model.do("combine", part=model.nodes("Block"), tools=model.nodes("Pin"), way=way)
        found[way] = volume(model)
    pin = math.pi * r**2 * 50
    assert found["unite"] + found["common"] == pytest.approx(24000 + pin, rel=1e-8)
    assert found["cut"] == pytest.approx(24000 - found["common"], rel=1e-8)


@given(st.floats(1, 6), st.floats(0.5, 10), st.floats(-60, 60))
@few
def test_a_bore_drawn_to_a_slot(r, far, degrees):
    """It grows by a bar as wide as the bore and as long as it was drawn."""
    assume(r + far < 13 and abs(degrees) > 0.1)
    turned = build.subtract(build.box(60, 60, 20, (-30, -30, 0)), build.cylinder(r, 22, (0, 0, -1)))
    model, _ = model_of(Path(mkdtemp(prefix="ravine-formula-")), turned, "Plate")
    bore = model.faces(kind="cylinder")[0].id
    model.do("move body", parts=model.nodes(), along="z", angle=f"{degrees!r}°")
    before = volume(model)
    model.do("slot", faces=[bore], distance=f"{far!r}", along="x")
    assert volume(model) == pytest.approx(before - 2 * r * far * 20, rel=1e-9)


@given(st.integers(2, 6), st.floats(9, 12), st.floats(0.5, 3))
@few
def test_a_row_of_bores(count, step, r):
    assume(10 + (count - 1) * step + r < 79)
    plate = build.subtract(build.box(80, 20, 6), build.cylinder(r, 8, (10, 10, -1)))
    model, _ = model_of(Path(mkdtemp(prefix="ravine-formula-")), plate, "Plate")
    model.do("pattern", faces=[model.faces(kind="cylinder")[0].id], count=count, along="x", step=f"{step!r}")
    assert volume(model) == pytest.approx(80 * 20 * 6 - count * math.pi * r**2 * 6, rel=1e-9)
    places = sorted(f.axis[0][0] for f in model.faces(kind="cylinder"))
    assert np.allclose(places, [10 + k * step for k in range(count)], atol=1e-9)


@given(st.floats(0.2, 6))
@few
def test_a_face_made_thick_and_an_edge_drawn_out(t):
    model = block()
    wall = model.faces(normal=(1, 0, 0)).highest((1, 0, 0)).id
    model.do("thicken", faces=[wall], thickness=f"{t!r}", way="apart")
    assert model.measure(model.bodies()[-1]).volume == pytest.approx(30 * 20 * t, rel=1e-9)
    model = block()
    rim = model.edges(kind="line", direction=(1, 0, 0)).highest((0, 1, 1)).id
    model.do("edges out", edges=[rim], distance=f"{t!r}", along="z")
    assert model.measure(model.bodies()[-1]).area == pytest.approx(40 * t, rel=1e-9)
