"""What is picked is resolved once: by id, with the place it was picked in, by name, or as what a query gave."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError, Model, UnknownId
from ravine.core.edits.fields import Context, PickField
from ravine.core.kernel import build
from ravine.core.model.references import part_of, references, resolve
from ravine.core.operations.axes import face_middle, picked_axis
from ravine.core.operations.push import Push
from ravine.core.operations.work import Work
from ravine.core.rigid import IDENTITY
from tests.parts import boss_block, model_of, step_file


@pytest.fixture
def twins(tmp_path):
    """One body at two places: as it came, and 100 mm along x, turned by 90° about z."""
    model, body = model_of(tmp_path, boss_block(), "Boss")
    model.do("repeat parts", parts=["Boss"], count=2, along="x", step="100")
    second = model.nodes()[-1]
    model.do("move body", parts=[second], angle="90°", along="z")
    return model, body, second


def test_a_face_knows_its_body_place_and_placement(twins):
    model, body, second = twins
    top = model.faces(body, normal=(0, 0, 1)).highest()
    plain, there = references(model.snapshot, [top.id])[0], resolve(model.snapshot, f"{top.id}@{second}")
    assert plain == there == top.id, "it is its id, wherever it was picked"
    assert (plain.kind, plain.number, plain.owner[0].id, plain.owner[1]) == (
        "face",
        int(top.id[1:]),
        int(body[1:]),
        top.index,
    )
    assert plain.matrix == IDENTITY
    assert f"n{there.node}" == second
    assert there.matrix[3] != 0
    assert there.placed == f"{top.id}@{second}"
    assert resolve(model.snapshot, there).placed == there.placed, "resolving it again keeps the place"
    other = part_of(there, "face", 0)
    assert (other.node, other.matrix, other.at) == (there.node, there.matrix, 0)


def test_picked_in_another_place_the_handle_and_the_axis_are_there(twins):
    model, body, second = twins
    work = Work(model.snapshot, model.geometry)
    hole = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 4) < 1e-9)
    here, there = resolve(model.snapshot, hole.id), resolve(model.snapshot, f"{hole.id}@{second}")
    a, b = picked_axis(work, here).point, picked_axis(work, there).point
    assert math.dist(a[:2], (30, 20)) == pytest.approx(0, abs=1e-9)
    assert math.dist(a[:2], b[:2]) > 50
    assert face_middle(work, there)[0] == pytest.approx(there.matrix.point(face_middle(work, here)[0]), abs=1e-9)


def test_a_direction_of_the_model_is_that_of_the_copy_that_was_picked(twins):
    """The copy is turned: moving its hole along the model's X moves it along the body's own −Y."""
    model, body, second = twins
    hole = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 4) < 1e-9)

    def middle():
        return next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 4) < 1e-9).axis[0]

    before = middle()
    model.do("move faces", faces=[hole.id], along="x", distance="2")
    assert [b - a for a, b in zip(before, middle(), strict=True)][:2] == pytest.approx([2, 0], abs=1e-9)
    model.undo()
    model.do("move faces", faces=[f"{hole.id}@{second}"], along="x", distance="2")
    assert [b - a for a, b in zip(before, middle(), strict=True)][:2] == pytest.approx([0, -2], abs=1e-9)


def test_the_place_is_told_back_only_where_there_are_several(twins, tmp_path):
    model, body, second = twins
    field = PickField("the face", "A face.", element="face")
    context = Context(model.snapshot, model.geometry)
    top = model.faces(body, normal=(0, 0, 1)).highest().id
    assert field.edit_text(field.read([f"{top}@{second}"], context), context) == f"{top}@{second}"
    single, other = model_of(tmp_path, build.box(1, 1, 1), "Single")
    alone = Context(single.snapshot, single.geometry)
    face = single.faces(other)[0].id
    assert field.edit_text(field.read([face], alone), alone) == face


@pytest.mark.parametrize(
    ("text", "words"),
    [("f999999", "there is no face"), ("f1@n999999", "does not show"), ("x1", "is not the id"), ("", "is not the id")],
)
def test_what_is_not_there_is_told(twins, text, words):
    model, body, _ = twins
    face = model.faces(body)[0].id
    with pytest.raises(UnknownId, match=words):
        resolve(model.snapshot, text.replace("f1@", f"{face}@"))


def test_a_part_is_named_by_its_place_its_body_or_its_name(twins):
    model, body, second = twins
    by_body = model.do("set material", parts=[body], material="ABS")
    assert by_body.after.bodies[int(body[1:])].material == "ABS"
    model.do("rename", part=[second], to="Second")
    assert model.do("lock", parts=["Second"]).after.bodies[int(body[1:])].locked
    with pytest.raises(UnknownId, match="is not the id"):
        model.do("lock", parts=["No such part"])


def test_what_queries_give_stands_for_its_id(tmp_path):
    model, body = model_of(tmp_path, boss_block(), "Boss")
    before = model.measure(body).volume
    model.do("push", faces=model.faces(body, normal=(1, 0, 0)), distance=1)
    model.do("round", edges=[model.edges(body, kind="line", convexity="convex").longest()], size=1)
    model.do("set material", parts=model.parts(name="Boss"), material="ABS")
    assert model.measure(body).volume > before
    with pytest.raises(EditError, match="takes ids such as"):
        model.do("push", faces=[object()], distance=1)


def test_edges_and_parts_are_found_by_what_they_are(twins):
    model, body, second = twins
    assert len(model.edges(body, kind="circle", radius=4)) == 2
    assert {e.length for e in model.edges(body, length=60)} == {60}
    assert all(e.direction == pytest.approx((0, 0, 1)) or e.direction == pytest.approx((0, 0, -1))
               for e in model.edges(body, direction=(0, 0, 1)))  # fmt: skip
    assert {e.convexity for e in model.edges(body, convexity="concave")} == {"concave"}
    assert model.edges(body).highest().middle[2] == pytest.approx(22)
    assert model.parts(name="Boss").ids == [model.nodes("Boss")[0], second]
    assert model.parts(kind="mesh") == []
    assert model.parts().largest().size == pytest.approx(math.dist((0, 0, 0), (60, 40, 22)), abs=0.1)
    for empty in (
        model.parts(kind="mesh").largest,
        model.edges(body, radius=99).longest,
        model.edges(body, radius=99).highest,
    ):
        with pytest.raises(EditError, match="matches"):
            empty()


def test_help_of_the_model_lists_the_edits_and_studies():
    told = Model.do.__doc__ + Model.study.__doc__
    assert "push" in told
    assert "distance" in told
    assert "clearance" in told


def test_the_handle_stands_at_the_copy_that_was_picked(twins):
    model, body, second = twins
    face = model.faces(body, normal=(0, 0, 1)).highest().id
    stands = {}
    for text in (face, f"{face}@{second}"):
        (reference,) = references(model.snapshot, [text])
        handle = Push(faces=(reference,), distance=1.0).handle(Work(model.snapshot, model.geometry))
        stands[text] = handle.origin
        assert handle.origin == pytest.approx(reference.matrix.point(model.face(face).centroid), abs=1e-6)
    assert math.dist(*stands.values()) > 50


def test_lining_up_moves_the_copy_that_was_picked(tmp_path):
    model, body = model_of(tmp_path, boss_block(), "Boss")
    model.do("repeat parts", parts=["Boss"], count=2, along="x", step="100")
    path = step_file(tmp_path / "pin.step", build.cylinder(3, 10, (7, 9, 0)), "Pin")
    pin = model.do("import", path=str(path)).added[0]
    first, second = model.nodes("Boss")
    hole = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 4) < 1e-9).id
    still = model.snapshot.nodes[int(first[1:])].placement
    wall = model.faces(pin, kind="cylinder")[0].id
    model.do("line up", faces=[wall, f"{hole}@{second}"], stays="first", moving="part")
    assert model.snapshot.nodes[int(first[1:])].placement == still
    work = Work(model.snapshot, model.geometry)
    (axis,) = references(model.snapshot, [f"{hole}@{second}"])
    assert face_middle(work, axis)[0][:2] == pytest.approx((7, 9), abs=4.1)
