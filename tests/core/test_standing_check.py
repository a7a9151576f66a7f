"""The standing check: planted faults are found, sound stacks give none, what is accepted stays, nothing done twice."""

import math

import pytest

from ravine.core import EditError, Model
from ravine.core.clearance import pairs
from ravine.core.kernel import build
from tests.core.test_shelf import lid_hole, stack
from tests.parts import step_file


def kinds(model, least=0.2):
    return [f.kind for f in model.clearances(least) if not f.note]


def screw(model, item, **values):
    return model.do("take from the shelf", item=item, on=[lid_hole(model)], **values)


def test_what_was_put_in_as_proposed_is_sound(tmp_path):
    model = stack(tmp_path)
    screw(model, "iso4762", holes="alike", extras="washer")
    assert kinds(model) == [], "a thread in its tapping hole is no overlap"
    other = stack(tmp_path, 5.5, 5.5, 20.0)
    screw(other, "iso4017", holes="alike", extras="nut and washers")
    assert kinds(other) == []


@pytest.mark.parametrize(
    ("holes", "item", "kind", "words"),
    [
        ((5.5, 4.2, 8.0), "iso4762-m5x16", "bottoms", "is 4 mm longer than its hole is deep"),
        ((5.5, 4.2, 8.0), "iso4762-m5x8", None, ""),
        ((5.5, 4.2, 8.0, 5.0), "iso4762-m5x8", "short", "goes 3 mm into its thread, less than 0.8 times its diameter"),
        ((5.5, 4.6, 8.0), "iso4762-m5x10", "thread", "goes into a hole of Ø 4.6 mm; its tapping drill is Ø 4.2 mm"),
        ((5.5, 5.5, 20.0), "iso4762-m5x30", "loose", "goes through, and neither thread nor nut holds it"),
    ],
)
def test_screws_that_do_not_hold(tmp_path, holes, item, kind, words):
    model = stack(tmp_path, *holes)
    screw(model, item)
    found = [f for f in model.clearances(0.0) if f.kind != "overlap"]
    assert [f.kind for f in found] == ([kind] if kind else [])
    assert not kind or words in found[0].words


def test_a_screw_alone_and_one_too_short_for_its_nut(tmp_path):
    model = stack(tmp_path, 5.5, 5.5, 20.0)
    model.do("take from the shelf", item="iso4762-m5x16")
    model.do("move body", parts=["ISO 4762 M5 × 16"], along="x", distance=500)
    (alone,) = model.clearances()
    assert (alone.kind, alone.words) == ("no hole", "ISO 4762 M5 × 16 stands in no hole")
    model.undo()
    model.undo()
    screw(model, "iso4762-m5x25", extras="nut")
    (short,) = model.clearances()
    assert short.kind == "short"
    assert "ends 3.7 mm before the far face of its nut" in short.words, "grip 24, nut 4.7, screw 25"


def three(folder):
    model = Model()
    shapes = {
        "A": build.box(10, 10, 10),
        "B": build.box(10, 10, 10, (10.1, 0, 0)),
        "C": build.cylinder(3, 10, (5, 5, 8)),
    }
    for name, shape in shapes.items():
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    return model


def test_overlaps_and_narrow_gaps_and_what_is_accepted(tmp_path):
    model = three(tmp_path)
    overlap, gap = model.clearances(0.2)
    assert (overlap.kind, overlap.names) == ("overlap", ("A", "C"))
    assert f"{math.pi * 9 * 2:.5g}"[:4] in overlap.words
    assert (gap.kind, gap.words) == ("gap", "0.1 mm between A and B")
    assert kinds(model, 0.05) == ["overlap"]
    model.do("accept finding", key=overlap.key, note="pressed in")
    gap, accepted = model.clearances(0.2)
    assert (accepted.kind, accepted.note) == ("overlap", "pressed in")
    assert kinds(model) == ["gap"]
    model.do("accept finding", key=overlap.key)
    assert kinds(model) == ["overlap", "gap"]
    with pytest.raises(EditError, match="was not accepted"):
        model.do("accept finding", key=overlap.key)
    with pytest.raises(EditError, match="no finding “overlap n1 n999”"):
        model.do("accept finding", key="overlap n1 n999", note="x")
    model.do("accept finding", key=overlap.key, note="pressed in")
    model.do("delete body", parts=["C"])
    assert model.snapshot.records.get("accepted", {}) == {}, "it goes with its part"


def test_only_what_moved_is_measured_again(tmp_path, monkeypatch):
    model = three(tmp_path)
    model.clearances()
    measured = []
    real = pairs._pair
    monkeypatch.setattr(
        pairs, "_pair", lambda a, b: measured.append((a.place.node.name, b.place.node.name)) or real(a, b)
    )
    model.clearances()
    assert measured == []
    model.do("move body", parts=["C"], along="z", distance=1)
    moved = model.clearances()
    assert measured == [("A", "C")]
    assert f"{math.pi * 9:.5g}"[:4] in moved[0].words
    model.do("move body", parts=["A", "B", "C"], along="x", distance=300)
    assert [f.words for f in model.clearances()] == [f.words for f in moved]
    assert measured == [("A", "C")], "all moved alike: nothing stands otherwise to anything"
    assert model.clearances()[0].places[0][0] == pytest.approx(moved[0].places[0][0] + 300)


def test_every_shaft_in_a_hole_is_found_with_the_fits_it_agrees_with(tmp_path):
    """Figures of ISO 286-2 for 20 mm: H7 is 0 to 21 µm, g6 -20 to -7 µm: the play of H7/g6 lies within 7 and 41 µm."""
    plate = build.subtract(
        build.box(80, 40, 12), build.cylinder(10, 14, (20, 20, -1)), build.cylinder(5, 14, (60, 20, -1))
    )
    model = Model()
    shaft, pins = build.cylinder(9.99, 40, (20, 20, -10)), [build.cylinder(5, 20, (60, 20, z)) for z in (0, 20)]
    shapes = {"Plate": plate, "Shaft": shaft, "Pin": pins[0], "Apart": pins[1]}
    for name, shape in shapes.items():
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", shape, name)))
    pin, shaft = model.study("fits of all")
    assert (pin["names"], pin["clearance"], pin["fits"]) == (("Plate", "Pin"), pytest.approx(0, abs=1e-9), ())
    assert (shaft["names"], shaft["hole"], shaft["shaft"]) == (("Plate", "Shaft"), 20, pytest.approx(19.98))
    assert "H7/g6" in shaft["fits"]
    assert "H7/p6" not in shaft["fits"]
    model.do("move body", parts=["Shaft"], along="x", distance=1)
    assert [f["names"][1] for f in model.study("fits of all")] == ["Pin"], "off its axis it is no fit"
