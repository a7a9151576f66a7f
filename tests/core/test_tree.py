"""Parts in their tree: grouped, put elsewhere, independent of their copies, standing where they stood."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.model.references import resolve
from ravine.core.model.snapshot import Node, Snapshot
from ravine.core.operations.tree import GroupParts, PutInto
from ravine.core.operations.work import Work
from ravine.core.rigid import Rigid
from tests.core.test_bill import _body
from tests.parts import step_file


@pytest.fixture
def model(tmp_path):
    found = Model()
    for name, x in (("A", 0), ("B", 20), ("C", 40)):
        found.do("import", path=str(step_file(tmp_path / f"{name}.step", build.box(10, 10, 10, (x, 0, 0)), name)))
    return found


def tree(model):
    return [(node.name, len(path)) for node, _, path in model.snapshot.walk()]


def test_groups_come_and_go(model):
    change = model.do("group parts", parts=["A", "C"], called="Pair")
    assert change.sentence == "Put A, C into the group Pair"
    assert tree(model) == [("B", 0), ("Pair", 0), ("A", 1), ("C", 1)]
    model.do("into group", parts=["B"], group=["Pair"])
    assert tree(model) == [("Pair", 0), ("A", 1), ("C", 1), ("B", 1)]
    model.do("group parts", parts=["A", "B"], called="Inner")
    assert tree(model) == [("Pair", 0), ("C", 1), ("Inner", 1), ("A", 2), ("B", 2)]
    with pytest.raises(EditError, match="a group does not go into itself"):
        model.do("into group", parts=["Pair"], group=["Inner"])
    with pytest.raises(EditError, match="A is a part; parts go into groups"):
        model.do("into group", parts=["B"], group=["A"])
    assert model.do("into group", parts=["A", "B"]).sentence == "Put A, B into the outermost level"
    assert tree(model) == [("Pair", 0), ("C", 1), ("A", 0), ("B", 0)], "the group left empty went"


def test_a_copy_goes_its_own_way(model):
    model.do("move body", parts=["A"], way="copy", along="y", distance=30)
    first, second = model.nodes("A")
    model.do("make independent", parts=[second])
    assert model.snapshot.nodes[int(second[1:])].name == "A 2"
    ones = {model.body(b).name: b for b in model.bodies()}
    assert not set(model.body(ones["A"]).faces) & set(model.body(ones["A 2"]).faces)
    top = model.faces(ones["A 2"], normal=(0, 0, 1)).highest().id
    model.do("push", faces=[top], distance=5)
    assert model.measure(ones["A"]).volume == pytest.approx(1000)
    assert model.measure(ones["A 2"]).volume == pytest.approx(1500)
    with pytest.raises(EditError, match="independent already"):
        model.do("make independent", parts=[first])


MOVES = st.lists(st.tuples(st.integers(0, 9), st.integers(-1, 9), st.booleans()), max_size=8)


@settings(max_examples=60)
@given(MOVES)
def test_whatever_is_put_where_all_stand_as_before(moves):
    """A tree of turned groups: after any moves each part stands where it stood, and none is lost or doubled."""
    nodes, bodies = {}, {}
    for n in range(10):
        children = tuple(c for c in (2 * n + 1, 2 * n + 2) if c < 10)
        body = None if children else 100 + n
        place = Rigid.about((n, 0, 1), (1, n, 2), 0.3 * n) @ Rigid.slide((n, 2 * n, math.sin(n)))
        nodes[n] = Node(n, f"N{n}", place, children, body)
        if body:
            bodies[body] = _body(body)
    snapshot = Snapshot(roots=(0,), nodes=nodes, bodies=bodies, next_id=5000)
    before = {o.node.id: o.matrix for o in snapshot.occurrences()}
    for which, target, grouped in moves:
        parts = [t for t in snapshot.nodes if t % 10 == which][:1]
        if not parts:
            continue
        picked = (resolve(snapshot, f"n{parts[0]}"),)
        group = (resolve(snapshot, f"n{target}"),) if target in snapshot.nodes and not grouped else ()
        operation = GroupParts(parts=picked) if grouped else PutInto(parts=picked, group=group)
        try:
            snapshot = operation.do(Work(snapshot, None)).snapshot
        except EditError:
            continue
    after = {o.node.id: o.matrix for o in snapshot.occurrences()}
    assert after.keys() == before.keys()
    assert all(after[n].near(before[n], 1e-9) for n in before)
