"""Any formula: read as one who works out trees of sums and products reads it, lengths apart from plain numbers; what
is refused is refused by both."""

from __future__ import annotations

import math
import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core.errors import UnitError
from ravine.core.units import LENGTHS, MODEL_UNITS, editable_length, format_length, parse_angle, parse_length

NAMES = {"wall": 4.0, "bolt_2": 60.0, "Gap": 0.25}
numbers = st.decimals(0, 500, allow_nan=False, places=3).map(lambda d: format(d.normalize(), "f"))


class NoLength(Exception):
    """The tree means nothing: it divides by nothing, or is an area."""


leaves = st.one_of(
    numbers.map(lambda n: ("plain", n)),
    st.tuples(numbers, st.sampled_from(sorted(LENGTHS))).map(lambda r: ("length", *r)),
    st.sampled_from(sorted(NAMES)).map(lambda n: ("name", n)),
)
trees = st.recursive(
    leaves,
    lambda inner: st.one_of(st.tuples(st.sampled_from("+-*/"), inner, inner), inner.map(lambda t: ("minus", t))),
    max_leaves=6,
)


def written(tree) -> str:
    match tree:
        case ("plain", number):
            return number
        case ("length", number, unit):
            return f"{number} {unit}"
        case ("name", name):
            return name
        case ("minus", inner):
            return f"-({written(inner)})"
        case (sign, left, right):
            return f"({written(left)}) {sign} ({written(right)})"


def worked_out(tree, default: float) -> tuple[float, int]:
    """mm and 1 for a length, a number and 0 for a plain one."""
    match tree:
        case ("plain", number):
            return float(number), 0
        case ("length", number, unit):
            return float(number) * LENGTHS[unit], 1
        case ("name", name):
            return NAMES[name], 1
        case ("minus", inner):
            value, power = worked_out(inner, default)
            return -value, power
        case (sign, left, right):
            (a, p), (b, q) = worked_out(left, default), worked_out(right, default)
    if sign in "+-":
        if p != q:  # beside a length, a plain number is one in the model's unit
            a, b = (a if p else a * default), (b if q else b * default)
        return (a + b if sign == "+" else a - b), max(p, q)
    if sign == "*":
        if p and q:
            raise NoLength("an area")
        return a * b, p + q
    if b == 0 or q > p:
        raise NoLength("no ratio")
    return a / b, p - q


@given(trees, st.sampled_from(["mm", "cm", "in", "m"]))
@settings(max_examples=400, deadline=None)
def test_a_formula_comes_to_what_its_tree_comes_to(tree, units):
    text, default = written(tree), LENGTHS[units]
    try:
        value, power = worked_out(tree, default)
        if not math.isfinite(value):
            raise NoLength("too large")
    except NoLength:
        value = None
    if value is None or len(text) > 200:
        with pytest.raises(UnitError) as told:
            parse_length(text, units, names=NAMES)
        assert 10 < len(str(told.value)) < 300
        return
    wanted = value if power else value * default
    assert parse_length(text, units, names=NAMES) == pytest.approx(wanted, rel=1e-12, abs=1e-9)
    tight = text.replace(" ", "")
    if not any(f"{d}{u}" in tight for d in string.digits for u in ("e",)):
        assert parse_length(tight, units, names=NAMES) == pytest.approx(wanted, rel=1e-12, abs=1e-9)


@given(st.text(alphabet="0123456789.+-*/() mcinft°gapwall_", max_size=30))
@settings(max_examples=400, deadline=None)
def test_any_row_of_signs_is_a_length_or_is_refused_in_words(text):
    for read in (parse_length, parse_angle):
        try:
            found, refused = read(text, names=NAMES), ""
        except UnitError as error:
            found, refused = 0.0, str(error)
        assert math.isfinite(found)
        assert not refused or 8 < len(refused) < 300


@given(st.floats(-1e9, 1e9, allow_nan=False), st.sampled_from(MODEL_UNITS))
@settings(max_examples=200, deadline=None)
def test_what_a_gap_shows_is_read_back_as_it_is_shown(mm, units):
    """To the digits that are shown: once written, it does not change any more."""
    shown = editable_length(mm, units)
    again = parse_length(shown, units)
    assert editable_length(again, units) == shown
    assert format_length(again, units) == format_length(mm, units)


@pytest.mark.parametrize("value", [1e12, -3.7e15, 1e300])
def test_a_length_beyond_all_parts_is_told_short(value):
    assert len(format_length(value)) < 16
    assert parse_length(editable_length(value)) == pytest.approx(value, rel=1e-3)
