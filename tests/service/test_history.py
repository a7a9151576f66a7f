"""The history of a model is a tree that one walks: whatever is done, undone, done over and gone to, in whatever order,
it is where a plain tree of states says, and nothing that was saved is lost."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Model, RavineError
from ravine.core.kernel import build
from ravine.service.designs import Conflict
from ravine.store.tables import Revision
from tests.parts import model_of


class Walk:
    """The tree as a plain one: states by number, each with its parent, and the way back to where one came from."""

    def __init__(self, root):
        self.parent, self.child, self.at = {root: None}, {}, root

    def edit(self, number):
        self.parent[number], self.child[self.at], self.at = self.at, number, number

    def back(self):
        if self.parent[self.at] is None:
            return False
        self.child[self.parent[self.at]] = self.at
        self.at = self.parent[self.at]
        return True

    def on(self):
        if self.at not in self.child:
            return False
        self.at = self.child[self.at]
        return True


def name_of(designs, design):
    """What the part is called in the state that is shown."""
    state = designs.snapshot(designs.head(designs.get(design.id)))
    return next(n.name for n in state.nodes.values() if n.body is not None)


@pytest.mark.parametrize("seed", range(5))
def test_any_walk_through_the_states_ends_where_a_plain_tree_says(designs, boss, seed):
    """Every state has its own name for the part, so a wrong one shows."""
    draw = random.Random(seed)
    steps = [draw.choice(("edit", "edit", "back", "back", "on", draw.randrange(30))) for _ in range(16)]
    start = designs.get(boss.id).head
    walk, called = Walk(start), {start: name_of(designs, boss)}
    for step in steps:
        head = designs.get(boss.id).head
        assert head == walk.at
        if step == "edit":
            (node,) = [f"n{n.id}" for n in designs.snapshot(designs.head(designs.get(boss.id))).nodes.values()]
            word = f"Part {len(called)}"
            _, made = designs.edit(designs.get(boss.id), head, "rename", {"part": [node], "to": word})
            walk.edit(made.id)
            called[made.id] = word
        elif step in ("back", "on"):
            if step == "back" and head == start:
                continue  # before it lies the empty state, in which no part came in yet
            way = -1 if step == "back" else 1
            if getattr(walk, step)():
                assert designs.step(designs.get(boss.id), head, way).id == walk.at
            else:
                with pytest.raises(RavineError, match="there is no edit to step to"):
                    designs.step(designs.get(boss.id), head, way)
        else:
            known = [r.id for r in designs.journal(designs.get(boss.id)) if r.id in called]
            target = known[step % len(known)]
            designs.go_to(designs.get(boss.id), head, target)
            walk.at = target
        assert name_of(designs, boss) == called[walk.at]
    kept = {r.id for r in Revision.select().where(Revision.design == boss)}
    assert set(called) <= kept, "nothing that was saved is lost"
    designs.go_to(designs.get(boss.id), designs.get(boss.id).head, start) if designs.get(
        boss.id
    ).head != start else None


def refused(action) -> bool:
    try:
        action()
    except RavineError as error:
        return bool(str(error))
    return False


def test_whoever_looks_at_an_older_state_changes_nothing(designs, boss):
    """An edit, a step and a way to another state are all refused from a base that is not the head any more."""
    old = designs.get(boss.id)
    (node,) = [f"n{n.id}" for n in designs.snapshot(designs.head(old)).nodes.values()]
    _, made = designs.edit(old, old.head, "rename", {"part": [node], "to": "Newer"})
    now = designs.get(boss.id)
    actions = [lambda: designs.edit(now, old.head, "rename", {"part": [node], "to": "Other"}),
               lambda: designs.step(now, old.head, -1), lambda: designs.go_to(now, old.head, old.head)]  # fmt: skip
    for action in actions:
        with pytest.raises(Conflict):
            action()
    assert designs.get(boss.id).head == made.id
    assert name_of(designs, boss) == "Newer"


def test_an_edit_that_is_refused_leaves_no_state(designs, boss):
    before = designs.get(boss.id).head
    count = Revision.select().where(Revision.design == boss).count()
    for edit, values in (("rename", {"part": ["n999999"], "to": "x"}), ("melt", {}), ("push", {"distance": "1"})):
        with pytest.raises(RavineError):
            designs.edit(designs.get(boss.id), before, edit, values)
    assert designs.get(boss.id).head == before
    assert Revision.select().where(Revision.design == boss).count() == count


# --- the same without a database ---------------------------------------------------------------------------------


@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=30))
@settings(max_examples=10, deadline=None)
def test_steps_of_a_script_are_those_of_a_list(tmp_path_factory, steps):
    model, _ = model_of(tmp_path_factory.mktemp("walk"), build.box(4, 3, 2), "Part 0")
    made = Model(snapshot=model.snapshot, geometry=model.geometry)
    names, at = ["Part 0"], 0
    for step in steps:
        if step == "edit":
            names, at = [*names[: at + 1], f"Part {len(names)}/{at}"], at + 1
            made.do("rename", part=made.nodes(), to=names[at])
        elif step == "undo":
            assert refused(made.undo) is (at == 0)
            at = max(at - 1, 0)
        else:
            assert refused(made.redo) is (at == len(names) - 1)
            at = min(at + 1, len(names) - 1)
        assert made.parts()[0].name == names[at]
        assert len(made.journal) == at
