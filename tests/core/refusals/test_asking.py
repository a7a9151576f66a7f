"""What questions about a model refuse: maps, fits, growing a pick, alike faces, pins."""

from __future__ import annotations

import pytest

from ravine.core import EditError, Model
from ravine.core.clearance.iso286 import fit, limits, tolerance
from ravine.core.edits.perform import perform
from ravine.core.maps.body_map import KINDS
from ravine.core.operations.work import Mode, Work
from tests.samples import BASES, node, top


@pytest.fixture(scope="module")
def pair(tmp_path_factory) -> Model:
    return BASES["pair"](tmp_path_factory.mktemp("pair"))


STUDIES = [
    ("map", {"nodes": node, "kind": "colour"}, "there is no map of “colour”; there is walls"),
    ("map", {"nodes": lambda m: [p.id for p in m.parts()], "kind": "walls"}, "are picked"),
    ("map", {"nodes": node, "kind": "deviation"}, "1 are picked"),
    ("map", {"nodes": node, "kind": "draft", "pull": "up"}, "one of|along x, y or z"),
    ("map", {"parts": node}, "map has no field “parts”; it has kind, nodes, pull"),
    ("describe", {"picked": lambda m: ["f999999"]}, "there is no face"),
    ("grow selection", {"picked": top, "way": "sideways"}, "widened by|one of"),
    ("alike", {"picked": node}, "takes text"),
    ("clearance", {"within": "much"}, "length|number"),
    ("no such study", {}, "there is no study “no such study”; nearest are"),
]


@pytest.mark.parametrize(("name", "values", "words"), STUDIES, ids=[f"{n}: {w}" for n, _, w in STUDIES])
def test_a_study_refuses_in_words(pair, name, values, words):
    with pytest.raises(EditError, match=words) as told:
        pair.study_named(name, {k: v(pair) if callable(v) else v for k, v in values.items()})
    assert "Traceback" not in str(told.value)
    assert KINDS


FITS = [
    (lambda: tolerance(12, 99), "grades from .* are here, not 99"),
    (lambda: limits(9000, "H7"), "the tables go up to .* mm; this is 9000 mm"),
    (lambda: limits(0, "H7"), "the tables go up to"),
    (lambda: limits(12, "Q7"), "holes .* are here, not Q"),
    (lambda: limits(12, "q6"), "shafts .* are here, not q"),
    (lambda: limits(12, "7H"), "is no tolerance zone"),
    (lambda: fit(12, "g6/H7"), "is no fit; write hole and shaft"),
    (lambda: fit(12, "H7"), "is no fit"),
]


@pytest.mark.parametrize(("way", "words"), FITS, ids=[w for _, w in FITS])
def test_a_fit_outside_the_tables_says_where_they_end(way, words):
    with pytest.raises(EditError, match=words):
        way()


def test_a_refusal_changes_nothing_and_names_its_field(pair):
    before = pair.snapshot
    with pytest.raises(EditError) as told:
        perform("push", {"faces": [top(pair)], "distance": "much"}, Work(before, pair.geometry, mode=Mode.PREVIEW))
    assert told.value.field == "distance"
    assert pair.snapshot is before
