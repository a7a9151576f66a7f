import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ravine.core.model.snapshot import Body, Node, Snapshot
from ravine.core.rigid import Rigid

number = st.floats(-1e3, 1e3)
vector = st.tuples(number, number, number)
axis = vector.filter(lambda v: math.hypot(*v) > 1e-3)


@st.composite
def motions(draw):
    return Rigid.about(draw(vector), draw(axis), draw(st.floats(-7, 7))) @ Rigid.slide(draw(vector))


@given(motions(), vector)
def test_a_motion_and_its_inverse_cancel(motion, point):
    assert motion.inverse.point(motion.point(point)) == pytest.approx(point, abs=1e-6)


@given(motions(), motions(), vector)
def test_one_motion_after_another(a, b, point):
    assert (a @ b).point(point) == pytest.approx(a.point(b.point(point)), abs=1e-6)


@given(motions(), vector, vector)
def test_motions_keep_lengths_and_directions(motion, a, b):
    assert math.dist(motion.point(a), motion.point(b)) == pytest.approx(math.dist(a, b), abs=1e-6)
    assert math.hypot(*motion.direction(a)) == pytest.approx(math.hypot(*a), abs=1e-6)


@given(axis, st.floats(-3, 3), vector)
def test_a_turn_leaves_its_axis_alone(along, angle, centre):
    turn = Rigid.about(centre, along, angle)
    assert turn.point(centre) == pytest.approx(centre, abs=1e-6)
    assert turn.direction(along) == pytest.approx(along, abs=1e-6)


@st.composite
def trees(draw):
    """A random tree: groups and leaves, some leaves showing one body."""
    nodes, bodies, roots = {}, {}, []
    counter = iter(range(1, 1000))

    def grow(depth):
        ident = next(counter)
        if depth == 0 or draw(st.booleans()):
            shared = list(bodies) if bodies and draw(st.booleans()) else None
            body = draw(st.sampled_from(shared)) if shared else next(counter)
            bodies.setdefault(body, Body(body, f"b{body}", "solid", "0" * 40, (next(counter),)))
            nodes[ident] = Node(ident, f"n{ident}", body=body)
        else:
            children = tuple(grow(depth - 1) for _ in range(draw(st.integers(1, 3))))
            nodes[ident] = Node(ident, f"n{ident}", children=children)
        return ident

    for _ in range(draw(st.integers(1, 3))):
        roots.append(grow(draw(st.integers(0, 3))))
    return Snapshot("mm", tuple(roots), nodes, bodies, next(counter))


@given(trees(), st.data())
def test_taking_nodes_out_leaves_a_whole_tree(snapshot, data):
    doomed = set(data.draw(st.lists(st.sampled_from(sorted(snapshot.nodes)), min_size=1, max_size=4)))
    after = snapshot.without_nodes(set(doomed))
    reached = {node.id for node, _, _ in after.walk()}
    assert reached == set(after.nodes)
    assert not doomed & reached
    assert {n.body for n in after.nodes.values() if n.body is not None} == set(after.bodies)
    assert all(n.body is not None or n.children for n in after.nodes.values())
    assert Snapshot.from_json(after.to_json()) == after
    for leaf in snapshot.occurrences():
        gone = leaf.node.id in doomed or doomed & set(leaf.path)
        assert (leaf.node.id in reached) == (not gone)
