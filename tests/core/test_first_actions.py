"""What is offered first, by which digit, for each sort of pick."""

from __future__ import annotations

import pytest

from ravine.core import Model
from ravine.core.edits import registry
from ravine.core.edits.base import PickSummary
from ravine.core.edits.first import FIRST, FIRST_AT, in_order, sort_of
from ravine.core.edits.registry import offered
from ravine.core.kernel import build
from ravine.core.model.query import holes_around
from tests.parts import boss_block, model_of
from tests.samples import BASES, area, curve, edge, hole, node, sketch, top


def actions(model: Model, *picked: str) -> dict[str, int]:
    return dict(model.study("describe", picked=list(picked))["actions"])


def rim(model: Model) -> str:
    return next(e.id for e in model.edges(kind="circle") if abs((e.radius or 0) - 4) < 1e-9)


def test_every_edit_that_comes_first_exists() -> None:
    for sort, names in [*FIRST.items(), *(row for rows in FIRST_AT.values() for row in rows.items())]:
        assert set(names) <= set(registry()), sort
        assert len(names) == len(set(names)) <= 6


@pytest.mark.parametrize(
    ("pick", "sort"),
    [
        (PickSummary("face", 1, frozenset({"plane"})), "flat face"),
        (PickSummary("face", 1, frozenset({"plane"}), chamfers=True), "chamfer"),
        (PickSummary("face", 4, frozenset({"cylinder"}), hollow=True), "hole"),
        (PickSummary("face", 1, frozenset({"cylinder"})), "round face"),
        (PickSummary("face", 2, frozenset({"plane", "cylinder"})), "face"),
        (PickSummary("face", 1, frozenset({"spline"})), "face"),
        (PickSummary("edge", 1), "edge"),
        (PickSummary("edge", 2, rims=True), "rim of a hole"),
        (PickSummary("node", 1, mesh=True), "mesh part"),
        (PickSummary(), ""),
    ],
)
def test_sorts_of_picks(pick: PickSummary, sort: str) -> None:
    assert sort_of(pick) == sort


def test_digits_are_those_of_the_sort_whatever_else_is_offered(tmp_path) -> None:
    boss = model_of(tmp_path, boss_block())[0]
    one = actions(boss, top(boss))
    assert [n for n, digit in one.items() if digit] == [n for n in FIRST["flat face"] if n in one]
    assert (one["push"], one["drill"]) == (1, 4)
    two = actions(boss, top(boss), boss.faces(kind="plane", normal=(0, 0, -1))[0].id)
    assert "drill" not in two  # it takes one face; the digits of the others stay
    assert (two["push"], two["remove"]) == (1, 6)
    assert actions(boss, hole(boss))["resize"] == 1
    assert actions(boss, *node(boss))["move body"] == 1
    names = list(one)
    assert names.index("remove") < names.index("letter")
    drawn = BASES["drawn"](tmp_path)
    assert actions(drawn, area(drawn))["extrude"] == 1
    assert actions(drawn, curve(drawn, "circle"))["dimension"] == 1
    assert actions(drawn, sketch(drawn))["draw"] == 1
    boss.do("lock", parts=node(boss))
    assert not any(actions(boss, top(boss)).get(n) for n in ("push", "move faces"))


def test_nothing_picked_counts_what_the_stage_offers() -> None:
    rows = in_order(PickSummary(), offered(PickSummary(), "Shape"))
    assert [digit for _, digit in rows][:9] == list(range(1, min(len(rows), 9) + 1))


def test_the_rim_of_a_hole_offers_what_the_hole_offers(tmp_path) -> None:
    model = model_of(tmp_path, boss_block())[0]
    at_rim, at_wall = actions(model, rim(model)), actions(model, hole(model))
    first = ("resize", "move faces", "pattern", "remove")
    assert set(first) <= set(at_rim) & set(at_wall)
    assert at_rim["resize"] == 1
    assert {"chamfer", "round"} <= set(at_rim)
    plain = actions(model, edge(model))
    assert not set(first) & set(plain)
    assert plain["round"] == 1
    assert holes_around(model.snapshot, model.geometry, [rim(model), edge(model)]) == [hole(model), edge(model)]


def test_a_pin_has_no_rim_of_a_hole(tmp_path) -> None:
    pin = model_of(tmp_path, build.cylinder(4, 20))[0]
    assert "resize" not in actions(pin, pin.edges(kind="circle")[0].id)
