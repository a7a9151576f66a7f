"""Parts that stand in for a board's components: put for all of a number, kept for the next board, put differently."""

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.model.snapshot import Snapshot
from tests.parts import step_file
from tests.samples import BOARD, board_model


@pytest.fixture
def model(tmp_path):
    return board_model(tmp_path)


def standing(model, name):
    return next(o for o in model.snapshot.occurrences() if o.node.name == name)


def test_all_of_a_number_are_replaced_by_an_item_of_the_shelf(model):
    change = model.do(
        "stand in", component=["U1 SO14"], item="terminal-5.08x4", turn="90°", lift="0.5 mm", across="1 mm"
    )
    assert change.sentence.endswith("for every LVL-07")
    assert change.fact("replaced") == 2
    assert "SO14" not in {model.body(b).name for b in model.bodies()}, "the block is shown no more"
    one, two = standing(model, "U1 SO14"), standing(model, "U2 SO14")
    assert one.body is two.body
    assert one.matrix.point((0, 0, 0)) == pytest.approx((31, 20, 2.1))
    assert two.matrix.point((0, 0, 0)) == pytest.approx((45, 31, 2.1)), "turned with the component"
    assert one.matrix.direction((1, 0, 0)) == pytest.approx((0, 1, 0))
    assert [row.quantity for row in model.bill("flat") if "Terminal" in row.name] == [2]
    assert Snapshot.from_json(model.snapshot.to_json()) == model.snapshot


def test_put_again_they_stand_by_the_new_rule_alone(model):
    model.do("stand in", component=["U1 SO14"], item="terminal-5.08x4", turn="90°", lift="0.5 mm")
    model.do("stand in", component=["U2 SO14"], item="terminal-5.08x4", lift="2 mm")
    assert standing(model, "U1 SO14").matrix.point((0, 0, 0)) == pytest.approx((30, 20, 3.6))
    assert standing(model, "U1 SO14").matrix.direction((1, 0, 0)) == pytest.approx((1, 0, 0))


def test_the_next_board_gets_them_too(model, tmp_path):
    model.do("import", path=str(step_file(tmp_path / "Can.step", build.cylinder(3, 8), "Can")))
    change = model.do("stand in", component=["C4 CAP"], by=["Can"])
    assert change.sentence == "Put Can for every CP-22"
    assert len(model.nodes("Can")) == 0, "it stands on the board instead"
    assert standing(model, "C4 CAP").matrix.direction((0, 0, 1)) == pytest.approx((0, 0, -1)), "below the board"
    path = tmp_path / "next.emn"
    path.write_text(BOARD.replace("45 10 0.2 0 BOTTOM", "20 10 0.2 0 BOTTOM").replace("Logger", "Later"))
    change = model.do("import", path=str(path))
    assert "1 component replaced by the parts that stand in for them" in change.warnings
    both = [o for o in model.snapshot.occurrences() if o.node.name == "C4 CAP"]
    assert [o.body.name for o in both] == ["Can", "Can"]
    assert both[0].body is both[1].body
    assert both[1].matrix.point((0, 0, 0))[0] == pytest.approx(20)


def test_standoffs_follow_the_board(model):
    hole = next(f for f in model.faces(kind="cylinder") if abs(f.radius - 1.6) < 1e-9)
    model.do("take from the shelf", item="standoff", on=[hole.id], holes="alike")
    before = {n.id: m.point((0, 0, 0)) for n, m, _ in model.snapshot.walk()}
    stands = [o for o in model.snapshot.occurrences() if "tandoff" in o.node.name]
    assert len(stands) == 2
    model.do("move body", parts=["Logger"], along="x", distance="25 mm")
    for stand in stands:
        now = next(m for n, m, _ in model.snapshot.walk() if n.id == stand.node.id).point((0, 0, 0))
        assert now[0] - before[stand.node.id][0] == pytest.approx(25, abs=1e-6)


def test_refusals(model):
    with pytest.raises(EditError, match="one of the two"):
        model.do("stand in", component=["U1 SO14"])
    with pytest.raises(EditError, match="no part number"):
        model.do("stand in", component=["Board"], item="terminal-5.08x4")
    with pytest.raises(EditError, match="component itself"):
        model.do("stand in", component=["U1 SO14"], by=["C4 CAP"])
    with pytest.raises(EditError, match="nothing for"):
        model.do("stand in", component=["U1 SO14"], item="flux capacitor")
