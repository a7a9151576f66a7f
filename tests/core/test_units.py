import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ravine.core import UnitError
from ravine.core.units import (
    LENGTHS,
    MODEL_UNITS,
    editable_length,
    format_length,
    format_mass,
    format_volume,
    parse_angle,
    parse_length,
)


@pytest.mark.parametrize(
    ("text", "units", "mm"),
    [
        ("12.5", "mm", 12.5),
        ("1/2 in + 3", "mm", 15.7),
        ("3 + 1/2 in", "mm", 15.7),
        ("1/2 in + 3", "in", 88.9),
        ("1 1/2 in", "mm", 38.1),
        ("2*(3 mm + 1 in)", "mm", 56.8),
        ("-(2+3) cm", "mm", -50.0),
        ('3"', "mm", 76.2),
        ("5' 6\"".replace("' ", "' + "), "mm", 5 * 304.8 + 6 * 25.4),
        (".5", "ft", 152.4),
        ("10 / 4", "mm", 2.5),
        (2, "cm", 20.0),
    ],
)
def test_lengths_with_arithmetic(text, units, mm):
    assert parse_length(text, units) == pytest.approx(mm, abs=1e-12)


def test_a_decimal_comma_is_never_guessed():
    with pytest.raises(UnitError) as told:
        parse_length("12,5")
    assert told.value.nearest == "12.5"
    assert parse_length("12,5 cm", decimal_comma=True) == 125.0


@pytest.mark.parametrize(
    "text",
    ["", "abc", "3 4", "3 mm mm", "1/0", "(3", "3)", "2 in * 3 in", "1e999", "--", "3 km", "5;", "1" * 300, "(" * 90],
)
def test_nonsense_is_refused_with_words(text):
    with pytest.raises(UnitError) as told:
        parse_length(text)
    assert len(str(told.value)) > 15
    assert not text.strip() or f"“{text[:20].strip()}" in str(told.value), "what was written is quoted"


def test_angles():
    assert parse_angle("90") == pytest.approx(math.pi / 2)
    assert parse_angle("30° + 0.5 rad") == pytest.approx(math.pi / 6 + 0.5)
    assert parse_angle("100 gon") == pytest.approx(math.pi / 2)


@given(st.floats(-1e5, 1e5), st.sampled_from(MODEL_UNITS))
def test_what_is_written_is_read_back(mm, units):
    assert parse_length(editable_length(mm, units), units) == pytest.approx(mm, abs=LENGTHS[units] * 10**-3)


@given(st.floats(0.001, 1e4), st.floats(0.001, 1e4), st.sampled_from(["mm", "cm", "in"]))
def test_sums_agree_with_arithmetic(a, b, unit):
    expected = a * LENGTHS[unit] + b
    assert parse_length(f"{a!r} {unit} + {b!r}") == pytest.approx(expected)


def test_words_for_figures():
    assert format_length(-12.5) == "−12.5 mm"
    assert format_length(-1e-9) == "0 mm"
    assert format_length(12345.678) == "12\u202f345.678 mm"
    assert format_volume(7130.4, signed=True) == "+7130 mm³"
    assert format_mass(0.0191) == "19.1 g"
    assert format_mass(1.3712) == "1.37 kg"
