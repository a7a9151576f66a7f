"""Two states compared: planted edits are told as what they are, by ids and by form alone."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from ravine.core import Model, compare
from ravine.core.kernel import build
from ravine.core.review.words import told
from ravine.core.view.picture import Tint, pictures
from tests.core.test_sharing import read
from tests.parts import boss_block, drilled_block, model_of, step_file


def kinds(review):
    return {f.face: f.kind for f in review.faces}


def state(model):
    """The model as it is now, whatever is done with it later."""
    return Model(snapshot=model.snapshot, geometry=model.geometry)


def top(model):
    return model.faces(kind="plane", normal=(0, 0, 1)).highest().id


def test_a_push_moves_a_face_and_resizes_those_beside_it(tmp_path):
    model, _ = model_of(tmp_path, drilled_block())
    before, face = state(model), top(model)
    model.do("push", faces=[face], distance=2.5)
    review = compare(before, model)
    assert review.by_identity
    found = kinds(review)
    assert found[face] == "moved"
    sides = {f.id for f in model.faces(kind="plane") if abs(f.normal[2]) < 0.5} | {
        f.id for f in model.faces(kind="cylinder")
    }
    assert {found[s] for s in sides} == {"resized"}
    assert found[model.faces(kind="plane", normal=(0, 0, -1))[0].id] == "unchanged"
    assert next(f.step for f in review.faces if f.face == face) == pytest.approx((0, 0, 2.5))
    (row,) = review.bodies
    assert row.volume[1] - row.volume[0] == pytest.approx(2.5 * (40 * 30 - np.pi * 25))
    assert told(review)[0]["words"] == "Part: a face moved by 2.5 mm along Z"


def test_a_bored_hole_a_new_one_and_one_that_is_gone(tmp_path):
    model, _ = model_of(tmp_path, boss_block())
    hole = min(model.faces(kind="cylinder"), key=lambda f: f.radius).id
    before = state(model)
    model.do("resize", faces=[hole], size=10, measure="diameter")
    review = compare(before, model)
    assert kinds(review)[hole] == "resized"
    assert "Part: a face: ⌀ 8 mm → ⌀ 10 mm" in [r["words"] for r in told(review)]
    wide = state(model)
    model.do("remove", faces=[hole])
    gone = compare(wide, model)
    assert kinds(gone)[hole] == "gone"
    assert compare(model, wide).counts()["new"] == gone.counts()["gone"]
    assert compare(model, model).counts()["unchanged"] == len(model.faces())


def test_parts_that_come_go_and_stand_elsewhere(tmp_path):
    model, _ = model_of(tmp_path, build.box(10, 10, 10), "Block")
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.cylinder(3, 20, (30, 0, 0)), "Pin")))
    before = state(model)
    model.do("move body", parts=model.nodes("Block"), along="x", distance=7)
    model.do("delete body", parts=model.nodes("Pin"))
    model.do("import", path=str(step_file(tmp_path / "cap.step", build.box(5, 5, 5, (0, 40, 0)), "Cap")))
    review = compare(before, model)
    assert {b.name: b.kind for b in review.bodies} == {"Block": "moved", "Cap": "new", "Pin": "gone"}
    assert {r["words"] for r in told(review)} >= {"Cap is new", "Pin is gone", "Block stands elsewhere"}


def test_files_that_share_nothing_are_compared_by_form(tmp_path):
    one, _ = model_of(tmp_path, boss_block(), "Plate")
    taller = build.unite(build.box(60, 40, 10), build.cylinder(10, 15, (30, 20, 10)))
    taller = build.subtract(taller, build.cylinder(5, 40, (30, 20, -1)), build.cylinder(2, 40, (8, 8, -1)))
    two, _ = model_of(tmp_path, taller, "Other name")
    review = compare(one, two)
    assert not review.by_identity
    found = kinds(review)
    by_radius = {round(f.radius, 6): found[f.id] for f in two.faces(kind="cylinder")}
    assert by_radius == {10: "resized", 5: "resized", 2: "new"}
    assert found[top(two)] == "moved" or found[top(two)] == "resized"  # its bore is wider, too
    sides = [found[f.id] for f in two.faces(kind="plane") if abs(f.normal[2]) < 0.5]
    assert sides == ["unchanged"] * 4
    same, _ = model_of(tmp_path, boss_block(), "Again")
    assert set(kinds(compare(one, same)).values()) == {"unchanged"}


def test_named_sizes_are_told_as_was_and_is(tmp_path):
    model, _ = model_of(tmp_path, drilled_block())
    model.do("set value", name="gap", value="9 mm")
    before = state(model)
    model.do("set value", name="gap", value="11 mm")
    model.do("set value", name="wall", value="3 mm")
    assert compare(before, model).sizes == {"gap": (9, 11), "wall": (None, 3)}
    assert "gap: 9 mm → 11 mm" in [r["words"] for r in told(compare(before, model))]


def test_a_review_is_one_page_with_its_faces_coloured(tmp_path):
    model, body = model_of(tmp_path, drilled_block())
    before, face = model.geometry.put_state(model.snapshot), top(model)
    model.do("push", faces=[face], distance=2.5)
    head, ((corners, _),) = read(model.study_named("review page", {"before": before, "notes": ["1. A: why? (open)"]}))
    counts, tints = head["shapes"][0]["counts"], head["places"][0]["tints"]
    number = model.body(body).faces.index(int(face[1:]))
    start = sum(counts[:number])
    assert [start, counts[number], "#3a8fa8"] in tints
    assert np.allclose(corners[start : start + counts[number], :, 2], 22.5, atol=1e-3)
    assert ["Part: a face moved by 2.5 mm along Z", ""] in head["notes"]
    assert head["notes"][-1] == ["1. A: why? (open)", ""]


def test_pictures_of_two_states_stand_alike_and_show_what_changed(tmp_path):
    model, _ = model_of(tmp_path, drilled_block())
    before, face = model.snapshot, top(model)
    model.do("push", faces=[face], distance=10)
    tints = {int(face[1:]): Tint("#3a8fa8", "diagonal")}
    states = [(before, tints), (model.snapshot, tints), (model.snapshot, {})]
    was, now, plain = (
        np.asarray(Image.open(io.BytesIO(p))).astype(int) for p in pictures(states, model.geometry, 480, 300)
    )

    def rows(one, seen):
        return np.flatnonzero(seen(one).any(axis=1))

    def solid(p):
        return p[:, :, 3] > 0

    def blue(p):
        return p[:, :, 2] > p[:, :, 0] + 30

    assert rows(was, solid)[-1] == rows(now, solid)[-1]  # the same ground
    assert rows(now, solid)[0] < rows(was, solid)[0]  # and higher by what it was pushed
    assert rows(now, blue)[0] < rows(was, blue)[0]
    assert not rows(plain, blue).size
    shades = now[blue(now)][:, :3].sum(axis=1)
    assert np.percentile(shades, 80) > 1.6 * np.percentile(shades, 10)  # hatched, not just coloured


def test_what_all_parts_cost_is_told_as_was_and_is(tmp_path):
    model, _ = model_of(tmp_path, drilled_block(), "Block")
    before = state(model)
    model.do("set part data", parts=model.nodes("Block"), what="price", value="12.50")
    assert "All parts: price 0.00 → 12.50" in [r["words"] for r in told(compare(before, model))]
