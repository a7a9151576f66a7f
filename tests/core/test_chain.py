"""Tolerance chains: read from what people write, ISO 2768-1, worst case and root sum square against closed forms."""

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.clearance.chain import chain_of
from ravine.core.clearance.size_tolerance import general, read_tolerance


@pytest.fixture
def model():
    found = Model()
    for name, size in (("lid", 40), ("wall", 3), ("gap", 0.5)):
        found.do("set value", name=name, value=f"{size} mm")
    return found


@pytest.mark.parametrize(
    ("text", "low", "high"),
    [("±0.1", -0.1, 0.1), ("+0.2 -0.05", -0.05, 0.2), ("+0.2/-0.05", -0.05, 0.2), ("-0.1 -0.3", -0.3, -0.1),
     ("+0.1", 0, 0.1), ("-0.1", -0.1, 0), ("± 50 µm", -0.05, 0.05), ("H7", 0, 0.021), ("g6", -0.02, -0.007)],
)  # fmt: skip
def test_tolerances_are_read_as_people_write_them(text, low, high):
    found = read_tolerance(text, 20)
    assert (found.low, found.high) == pytest.approx((low, high))


@pytest.mark.parametrize("text", ["", "0.1", "+0.1 +0.1", "about 1", "±", "Q7", "±0.1 0.2"])
def test_what_is_no_tolerance_is_refused_by_name(text):
    with pytest.raises(EditError):
        read_tolerance(text, 20)


def test_general_tolerances_are_those_of_the_standard():
    """ISO 2768-1, table 1: at the ends of its ranges."""
    for size, grade, off in [(0.5, "f", 0.05), (3, "m", 0.1), (6.1, "m", 0.2), (30, "m", 0.2), (30.1, "m", 0.3),
                             (120, "c", 0.8), (400, "m", 0.5), (1000, "v", 4), (2000, "f", 0.5)]:  # fmt: skip
        assert general(size, grade).high == off
    for size, grade in [(0.4, "m"), (4001, "m"), (2001, "f"), (3, "v")]:
        with pytest.raises(EditError, match="ISO 2768"):
            general(size, grade)


def test_worst_case_and_root_sum_square(model):
    model.do("set tolerance", called="lid", text="+0.2 -0.1")
    model.do("set tolerance", called="gap", text="±0.05")
    found = chain_of(model.snapshot, "lid - 2*wall - gap")
    assert found.nominal == pytest.approx(33.5)
    assert found.worst == pytest.approx((33.5 - 0.1 - 0.2 - 0.05, 33.5 + 0.2 + 0.2 + 0.05)), "wall is ±0.1, twice"
    spread = math.sqrt(0.15**2 + 0.2**2 + 0.05**2)
    assert found.likely == pytest.approx((33.55 - spread, 33.55 + spread)), "about the middle of the zones"
    assert [link.text for link in found.links] == ["+0.2 -0.1", "ISO 2768-m", "±0.05"]
    assert sum(link.share for link in found.links) == pytest.approx(1)
    assert found.straight


def test_a_size_with_a_formula_stands_for_what_is_in_it(model):
    """So that a size that counts twice does not count as two independent ones."""
    model.do("set value", name="inner", value="lid - 2*wall")
    one = chain_of(model.snapshot, "inner + 2*wall")
    assert one.worst == pytest.approx((39.7, 40.3)), "the walls cancel"
    assert {link.name: round(link.slope, 6) for link in one.links} == {"lid": 1, "wall": 0}
    model.do("set tolerance", called="inner", text="±0.05")
    two = chain_of(model.snapshot, "inner + 2*wall")
    assert two.worst == pytest.approx((40 - 0.25, 40 + 0.25)), "made to its own tolerance, it is a size of its own"


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(1, 90), st.integers(-3, 3), st.integers(1, 40)), min_size=1, max_size=5))
def test_random_sums_against_brute_force(rows):
    """The worst of all corners of the zones."""
    model = Model()
    for k, (size, _, off) in enumerate(rows):
        model.do("set value", name=f"s{k}", value=f"{size} mm")
        model.do("set tolerance", called=f"s{k}", text=f"+{off / 100} -{off / 200}")
    formula = " + ".join(
        f"{slope}*s{k}" if slope >= 0 else f"(0-{-slope})*s{k}" for k, (_, slope, _) in enumerate(rows)
    )
    corners = [
        sum(slope * (size + off) for (size, slope, _), off in zip(rows, offs, strict=True))
        for offs in itertools.product(*((off / 100, -off / 200) for _, _, off in rows))
    ]
    found = chain_of(model.snapshot, formula)
    assert found.worst == pytest.approx((min(corners), max(corners)), abs=1e-6)
    assert found.worst[0] - 1e-9 <= found.likely[0] <= found.likely[1] <= found.worst[1] + 1e-9


def test_refusals_name_the_size(model):
    with pytest.raises(EditError, match="no named size is in"):
        chain_of(model.snapshot, "3 mm + 2 mm")
    with pytest.raises(EditError, match=r"gap: ISO 2768-v gives nothing for 0\.5 mm"):
        chain_of(model.snapshot, "gap", "v")
    with pytest.raises(EditError, match="no value is called"):
        model.do("set tolerance", called="lip", text="±0.1")
    model.do("set tolerance", called="gap", text="±0.1")
    model.do("set tolerance", called="gap")
    with pytest.raises(EditError, match="gap has no tolerance"):
        model.do("set tolerance", called="gap")
