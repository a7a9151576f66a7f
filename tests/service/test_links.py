"""Models linked in other models, among those of one owner: looked up by the server, whatever a caller claims."""

import pytest

from ravine.core import EditError
from ravine.service.links import standings
from ravine.service.people import Person
from ravine.store.tables import Account


@pytest.fixture
def rig(designs):
    return designs.create("Rig")


@pytest.fixture
def there(designs, boss):
    """The model as it is once its file has come in."""
    return designs.get(boss.id)


def test_a_state_that_a_caller_claims_is_looked_up_anew(designs, there, rig):
    head = designs.head(there)
    claimed = {"model": there.id, "revision": head.number, "title": "Forged", "state": "0" * 64}
    done, revision = designs.edit(rig, rig.head, "link in", {"source": claimed})
    assert done.sentence == f"Linked in Boss, revision {head.number}"
    (standing,) = standings(designs, designs.snapshot(revision)).values()
    assert (standing.newest, standing.newer) == (head.number, False)


def test_it_is_told_when_the_other_model_moved_on_or_is_gone(designs, there, rig):
    _, linked = designs.edit(rig, rig.head, "link in", {"source": str(there.id)})
    part = designs.snapshot(designs.head(there))
    (body,) = part.bodies.values()
    designs.edit(there, there.head, "set finish colour", {"parts": [f"n{part.roots[0]}"], "colour": "#336699"})
    (standing,) = standings(designs, designs.snapshot(linked)).values()
    assert standing.newer
    rig = designs.get(rig.id)
    group = next(iter(standings(designs, designs.snapshot(linked))))
    done, taken = designs.edit(rig, rig.head, "take newer", {"part": [f"n{group}"], "source": str(there.id)})
    assert "revision 3" in done.sentence
    mine = next(iter(designs.snapshot(taken).bodies.values()))
    assert (mine.finish, mine.shape) == ("#336699", body.shape)
    designs.delete(there)
    (standing,) = standings(designs, designs.snapshot(taken)).values()
    assert standing.newest is None


def test_models_of_others_and_none_are_refused(designs, there, rig):
    stranger = Account.create(name="Stranger")
    try:
        other = designs.seen_by(Person(stranger.id, "Stranger"))
        theirs = other.create("Theirs")
        with pytest.raises(EditError, match=f"you have no model {theirs.id}"):
            designs.edit(rig, rig.head, "link in", {"source": str(theirs.id)})
        theirs.delete_instance(recursive=True)
    finally:
        stranger.delete_instance()
    with pytest.raises(EditError, match="not linked into itself"):
        designs.edit(rig, rig.head, "link in", {"source": str(rig.id)})
    with pytest.raises(EditError, match="Boss has no revision 99") as refused:
        designs.edit(rig, rig.head, "link in", {"source": f"{there.id}:99"})
    assert refused.value.nearest == f"{there.id}:2"
