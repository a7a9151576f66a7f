"""Named values: formulas over dimensions, sketch sizes and values of their own; what follows, rings, what is lost."""

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.volumes import volume_properties
from tests.core.test_dimensions import dimension, ends, plate
from tests.parts import model_of, step_file


@pytest.fixture
def part(tmp_path):
    model, body = model_of(tmp_path, plate())
    low, high, one, two = ends(model, body)
    for name, on in (("length", (low, high)), ("first", (low, one)), ("last", (two, high)), ("bore", (one,))):
        dimension(model, *on, called=name)
    return model, body


def built(model, body, **sizes):
    want = volume_properties(plate(**sizes))
    got = model.measure(body)
    assert got.volume == pytest.approx(want.amount, rel=1e-9)
    assert got.centroid == pytest.approx(want.centroid, abs=1e-6)


def test_a_dimension_with_a_formula_follows_a_value_and_another_dimension(part):
    model, body = part
    model.do("set value", name="edge", value="15 mm")
    model.do("set value", name="first", value="edge")
    model.do("set value", name="last", value="edge + 1 mm - 1 mm")
    built(model, body)
    model.do("set value", name="edge", value="18 mm")
    built(model, body, first=18, last=62)
    assert model.values == pytest.approx({"edge": 18, "length": 80, "first": 18, "last": 18, "bore": 6})
    model.do("drive", dimension="length", value=100)
    built(model, body, length=100, first=18, last=82)


def test_several_follow_at_once_though_no_order_of_them_would_do(part):
    """Both holes cross the place of the other: in one step there is nothing in between."""
    model, body = part
    model.do("set values", rows={"length": "120 mm", "first": "30", "last": "length/4"})
    built(model, body, length=120, first=30, last=90)
    assert [d.text for d in model.snapshot.kept(_dimensions()).values()] == ["", "", "length/4", ""]


def _dimensions():
    from ravine.core.model.records import DIMENSIONS

    return DIMENSIONS


def test_a_diameter_follows_as_a_size_of_its_face(part):
    model, body = part
    model.do("set value", name="bore", value="length/10")
    assert model.values["bore"] == pytest.approx(8)
    model.do("drive", dimension="length", value="90 mm")
    assert model.values["bore"] == pytest.approx(9)
    assert model.faces(body, kind="cylinder", radius=4.5)


def test_sizes_of_sketches_and_solids_follow_one_another(tmp_path):
    model, body = model_of(tmp_path, plate())
    low, high, *_ = ends(model, body)
    dimension(model, low, high, called="length")
    model.do("sketch", plane="xy")
    (sketch,) = model.snapshot.sketches
    model.do("draw", sketch=[f"s{sketch}"], shape="rectangle", places="0,50 20,60")
    curve = next(iter(model.snapshot.sketches[sketch].curves))
    model.do("dimension", on=[f"c{curve}"], kind="distance", size="length/2", called="wide")
    assert model.values["wide"] == pytest.approx(40)
    model.do("drive", dimension="length", value=100)
    assert model.values["wide"] == pytest.approx(50)
    with pytest.raises(EditError, match="leads back to itself"):
        model.do("set value", name="length", value="2*wide - 10")


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ({"first": "last", "last": "first"}, "leads back to itself"),
        ({"first": "2*first"}, "leads back to itself"),
        ({"frist": "3"}, "no value is called “frist”; there is length, first, last, bore"),
        ({"first": "2*wand"}, "no size is called “wand”"),
        ({"first": "length - 80"}, "first = length - 80 would be 0 mm"),
        ({"first": "3 kg"}, "“kg” is no unit here|no size is called “kg”"),
        ({"first": "100"}, "."),
        ({"2x": "3"}, "no value is called"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_changes(part, rows, words):
    model, _ = part
    before = model.snapshot
    with pytest.raises(EditError, match=words):
        model.do("set values", rows=rows)
    assert model.snapshot is before


def test_names_are_checked_and_used_once(part):
    model, body = part
    low, high, *_ = ends(model, body)
    with pytest.raises(EditError, match="is a unit"):
        model.do("set value", name="mm", value="3")
    with pytest.raises(EditError, match="is no name"):
        model.do("set value", name="two words", value="3")
    model.do("set value", name="wall", value="3")
    with pytest.raises(EditError, match="something called wall already"):
        dimension(model, low, high, called="wall")


def test_after_another_edit_what_no_longer_agrees_is_told_and_not_forced(part):
    model, body = part
    model.do("set value", name="length", value="8*10 mm + 0*first")
    _, high, *_ = ends(model, body)
    model.do("push", faces=[high], distance=5)
    assert model.values["length"] == pytest.approx(85)
    (view,) = [v for v in _view(model) if v.name == "length"]
    assert (view.text, view.off) == ("8*10 mm + 0*first", pytest.approx(80))
    model.do("set value", name="first", value=16)  # the next value that is set brings it back
    assert model.values["length"] == pytest.approx(80)


def _view(model):
    from ravine.core.dimensions.table import view_values

    return view_values(model.snapshot)


def test_a_formula_whose_name_goes_keeps_its_value_and_says_so(part):
    model, _ = part
    model.do("set value", name="wall", value="15")
    model.do("set value", name="first", value="wall")
    change = model.do("forget value", name="wall")
    assert change.warnings == ("first = wall keeps its value, since a size in it is gone",)
    assert model.snapshot.formulas() == {}
    with pytest.raises(EditError, match="no value is called “wall”; there is none yet"):
        model.do("forget value", name="wall")


def test_values_are_stored_with_the_model(part):
    model, body = part
    model.do("set value", name="edge", value="15 mm")
    model.do("set value", name="first", value="edge")
    again = Model(snapshot=type(model.snapshot).from_json(model.snapshot.to_json()), geometry=model.geometry)
    assert again.values == model.values
    again.do("set value", name="edge", value="20 mm")
    built(again, body, first=20)


@settings(max_examples=10, deadline=None, phases=(Phase.generate,))
@given(st.floats(70, 140), st.floats(0.12, 0.2))
def test_random_lengths_leave_the_part_built_by_the_formulas(tmp_path_factory, length, share):
    model, body = model_of(tmp_path_factory.mktemp("values"), plate())
    low, high, one, two = ends(model, body)
    for name, on in (("length", (low, high)), ("first", (low, one)), ("last", (two, high))):
        dimension(model, *on, called=name)
    model.do("set values", rows={"first": f"{share}*length", "last": "first + 1"})
    model.do("set value", name="length", value=length)
    built(model, body, length=length, first=share * length, last=length - share * length - 1)


def test_variants_tell_what_works_and_what_it_comes_to(part):
    model, _ = part
    model.do("set material", parts=model.nodes(), material="ABS")
    before = model.snapshot
    rows = [{"length": "100"}, {"first": "500"}, {"nothing": 3}, {"length": 90, "last": "first"}]
    good, bad, unknown, other = model.variants(rows)
    assert model.snapshot is before
    assert good["volume"] == pytest.approx(volume_properties(plate(length=100)).amount, rel=1e-9)
    assert good["size"] == pytest.approx([100, 40, 18])
    assert good["mass"] == pytest.approx(good["volume"] * 1e-9 * 1040, rel=0.05)
    assert good["wall"] == pytest.approx(3, abs=0.6)  # between the bore in the end and the faces of the plate
    assert (bad["works"], bool(bad["why"])) == (False, True)
    assert "no value is called “nothing”" in unknown["why"]
    assert other["volume"] == pytest.approx(volume_properties(plate(length=90, last=75)).amount, rel=1e-9)
    assert model.study("variant file", rows=rows[0])[:12] == b"ISO-10303-21"


def test_the_smallest_wall_is_none_of_the_edges_that_lean(tmp_path):
    """Beside a sharp lower edge the matter ends, though no wall is thin there."""
    model, body = model_of(tmp_path, build.box(60, 30, 20))
    bottom = model.faces(body, kind="plane", normal=(0, 0, -1)).largest().id
    end = model.faces(body, kind="plane", normal=(1, 0, 0)).largest().id
    dimension(model, bottom, end, called="lean")
    model.do("drive", dimension="lean", value="70°")
    model.do("set value", name="any", value=1)
    assert model.variants([{"any": 2}])[0]["wall"] == pytest.approx(20)


def test_an_angle_on_a_small_part_in_inches_is_no_length(tmp_path):
    path = step_file(tmp_path / "small.step", build.box(6, 3, 2), "Small")
    model = Model(units="in")
    model.do("import", path=str(path))
    (body,) = model.bodies()
    on = [model.faces(body, kind="plane", normal=n).largest().id for n in ((0, 0, -1), (1, 0, 0))]
    dimension(model, *on, called="lean")
    model.do("drive", dimension="lean", value="120°")
    assert [d.value for d in model.dimensions()] == pytest.approx([120])
