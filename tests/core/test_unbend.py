"""Bends laid flat and bent again: lengths by the formula, holes cut in between where they belong, ids that stay."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.model.records import LAID_BENDS
from tests.core.test_sheet import body, flat_is_whole, plate, uppers


def volume(model):
    return model.measure(body(model)).volume


def bracket(folder, **sizes):
    model = plate(folder, 100, 60, 1.5)
    model.do("flange", edges=[uppers(model, 1.5)[1, 0, 0]], **{"length": 30, "radius": 2, **sizes})
    return model


def bend_of(model, number=0):
    return model.sheet(body(model)).bends[number]


def strips(model):
    """Flat faces on the upper side of the plate, where what was laid flat lies."""
    return [f.id for f in model.faces(kind="plane") if f.normal[2] > 1 - 1e-9]


@settings(max_examples=12, deadline=None)
@given(
    st.floats(0.5, 3), st.floats(0.3, 3), st.floats(15, 165), st.floats(0.3, 0.5), st.sampled_from([(0, 0), (8, 12)]),
    st.floats(2, 9), st.floats(-20, 20), st.floats(-8, 20),
)  # fmt: skip
def test_cut_between_is_cut_on_the_flat(tmp_path_factory, t, ratio, degrees, k, free, size, aside, far):
    """Laid flat, the part has the area of its flat; a hole cut through it then, anywhere near the strip, is the one
    that the flat of the bent part would have given it."""
    parts = []
    for between in (True, False):
        model = plate(tmp_path_factory.mktemp("p"), 100, 60, t)
        model.do("flange", edges=[uppers(model, t)[1, 0, 0]], length=40 + 8 * t * (1 + ratio), angle=degrees,
                 radius=ratio * t, counted="tangent", first=free[0], last=free[1])  # fmt: skip
        model.do("make sheet", on=model.nodes(), k_factor=k)
        flat, ident = model.flat(body(model)), bend_of(model).id
        (x, y), (u, v) = flat.bends[0].line
        at = ((x + u) / 2 + far, (y + v) / 2 + aside)
        if between:
            model.do("unbend", bends=[ident])
            laid = model.flat(body(model))
            assert volume(model) == pytest.approx(flat.area * t, rel=1e-9)
            assert (laid.size, len(laid.bends)) == (pytest.approx(flat.size, rel=1e-9), 0)
            model.do("cut flat", on=model.nodes(), at=list(at), size=size)
            model.do("bend again", on=strips(model))
            assert not model.snapshot.kept(LAID_BENDS)
        else:
            model.do("cut flat", on=model.nodes(), at=list(at), size=size)
        parts.append(model)
    (one, two), flats = parts, [flat_is_whole(m, 1e-5) for m in parts]
    assert volume(one) == pytest.approx(volume(two), rel=1e-7)
    assert flats[0].area == pytest.approx(flats[1].area, rel=1e-7)
    assert sorted(b.angle for b in flats[0].bends) == pytest.approx(sorted(b.angle for b in flats[1].bends), abs=1e-3)


@pytest.mark.parametrize("order", [(0, 1), (1, 0)])
@pytest.mark.parametrize("angle", [60, 135])
def test_bends_hang_on_one_another_in_any_order(tmp_path, order, angle):
    """A channel and a lip: both laid flat is the flat; bent again it is the part, with every id it had."""
    model = bracket(tmp_path, angle=angle)
    rim = max((e for e in model.edges(kind="line") if abs(e.length - 60) < 1e-6), key=lambda e: round(e.middle[2], 3))
    model.do("flange", edges=[rim.id], length=15, radius=1, angle=70)
    known, whole, flat = model.body(body(model)), volume(model), model.flat(body(model))
    bends = [bend_of(model, k) for k in order]
    for bend in bends:
        model.do("unbend", bends=[bend.id])
    assert volume(model) == pytest.approx(flat.area * 1.5, rel=1e-9)
    assert set(model.body(body(model)).faces) == set(known.faces)
    assert len(model.snapshot.kept(LAID_BENDS)) == 2
    for bend in bends:
        model.do("bend again", on=[bend.faces[1]])
    assert volume(model) == pytest.approx(whole, rel=1e-12)
    assert set(model.body(body(model)).faces) == set(known.faces)
    assert [(b.id, pytest.approx(b.angle)) for b in flat_is_whole(model).bends] == [(b.id, b.angle) for b in flat.bends]


def test_a_border_moved_in_the_flat_goes_round_the_bend(tmp_path):
    """Wall, strip and leg made 5 mm wider while flat."""
    model = bracket(tmp_path)
    ident, flat, whole = bend_of(model).id, model.flat(body(model)), volume(model)
    model.do("unbend", bends=[ident])
    side = next(f.id for f in model.faces(kind="plane") if f.normal[1] > 1 - 1e-9)
    model.do("push", faces=[side], distance=5)
    model.do("bend again", on=[ident])
    found = flat_is_whole(model)
    assert found.area == pytest.approx(flat.area * 65 / 60, rel=1e-9)
    assert volume(model) == pytest.approx(whole * 65 / 60, rel=1e-9)
    assert bend_of(model).length == pytest.approx(65)


def test_a_bend_that_a_hole_divides_is_one(tmp_path):
    model = bracket(tmp_path)
    (x, _), _ = model.flat(body(model)).bends[0].line
    model.do("cut flat", on=model.nodes(), at=[x, 30], size=20)
    rows = [b.id for b in model.sheet(body(model)).bends]
    assert len(rows) == 2
    area, whole = model.flat(body(model)).area, volume(model)
    assert model.do("unbend", bends=[rows[0]]).fact("bends") == 1
    assert volume(model) == pytest.approx(area * 1.5, rel=1e-6)
    model.do("bend again", on=[rows[1]])
    assert volume(model) == pytest.approx(whole, rel=1e-7)
    assert {b.id for b in flat_is_whole(model, 1e-5).bends} == set(rows)


def test_a_hem_and_a_mitred_tray(tmp_path):
    model = bracket(tmp_path, length=15, radius=0.4, shape="hem")
    whole, flat = volume(model), model.flat(body(model)).area
    model.do("unbend", bends=[bend_of(model).id])
    assert volume(model) == pytest.approx(flat * 1.5, rel=1e-9)
    model.do("bend again", on=strips(model))
    assert volume(model) == pytest.approx(whole, rel=1e-12)
    tray = plate(tmp_path)
    tray.do("flange", edges=list(uppers(tray, 1.5).values()), length=20, angle=75, radius=2, corners="closed")
    whole, flat = volume(tray), tray.flat(body(tray))
    tray.do("unbend", bends=[b.id for b in flat.bends])
    assert tray.flat(body(tray)).size == pytest.approx(flat.size, rel=1e-9)
    assert volume(tray) == pytest.approx(flat.area * 1.5, rel=1e-9)
    assert tray.do("bend again", on=strips(tray)).fact("bends") == 4
    assert volume(tray) == pytest.approx(whole, rel=1e-12)
    flat_is_whole(tray)


def test_refusals_say_what_is_in_the_way(tmp_path):
    torn = bracket(tmp_path, first=10, last=10, relief="none", placed="flush")
    with pytest.raises(EditError, match="give the ends of the bend reliefs"):
        torn.do("unbend", bends=[bend_of(torn).id])
    model = bracket(tmp_path)
    with pytest.raises(EditError, match="no bend of this part was laid flat"):
        model.do("bend again", on=strips(model))
    model.do("unbend", bends=[bend_of(model).id])
    leg = max((f for f in model.faces(kind="plane") if f.normal[0] > 1 - 1e-9), key=lambda f: f.area)
    with pytest.raises(EditError, match="no bend was laid flat in this face") as told:
        model.do("bend again", on=[leg.id])
    assert told.value.nearest in strips(model)
    model.do("push", faces=strips(model), distance=1)
    with pytest.raises(EditError, match="no wall any more"):
        model.do("bend again", on=strips(model))
