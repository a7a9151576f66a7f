"""The ladder: one family of failures, faults planted at every rung, and a record of what was tried."""

from __future__ import annotations

import logging
from importlib import import_module

import numpy as np
import OCP.Standard
import OCP.StdFail
import pytest

from ravine.core.edits.perform import perform
from ravine.core.errors import Cancelled, CannotDo, EditError, Unsettled
from ravine.core.kernel import build
from ravine.core.kernel.failures import SpoiledInput
from ravine.core.local.failure import LocalFailure
from ravine.core.model.geometry import GeometryStore
from ravine.core.model.snapshot import Snapshot
from ravine.core.operations.work import Mode, Work
from tests.parts import boss_block, drilled_block, model_of

blend_suppression, booleans, cell_push, ladder, move_faces, push, remove, reshaping, resize, tilt = (
    import_module(f"ravine.core.operations.{name}")
    for name in (
        "blend_suppression",
        "booleans",
        "cell_push",
        "ladder",
        "move_faces",
        "push",
        "remove",
        "reshaping",
        "resize",
        "tilt",
    )
)
FAMILY = [
    LocalFailure("a local reason", [0]),
    CannotDo("a worded reason"),
    EditError("a plain reason"),
    SpoiledInput(),
    OCP.Standard.Standard_ConstructionError("kernel"),
    OCP.StdFail.StdFail_NotDone("kernel"),
    np.linalg.LinAlgError("Singular matrix"),
]


@pytest.fixture
def work():
    return Work(Snapshot(), GeometryStore())


def fails(error):
    def way():
        raise error

    return way


# --- the ladder itself -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_a_failure_of_the_family_leads_to_the_next_rung_and_is_recorded(work, error, caplog):
    with caplog.at_level(logging.INFO, "ravine.ladder"):
        found = ladder.first_that_works(work, "trial", [("first", fails(error)), ("second", lambda: 7)])
    assert found == 7
    (climb,) = work.climbs
    assert (climb.what, climb.rung, [name for name, _ in climb.failed]) == ("trial", "second", ["first"])
    assert climb.failed[0][1] == ladder.reason_of(error)
    assert "first did not do it" in caplog.text
    assert "second did it" in caplog.text


@pytest.mark.parametrize("error", [ZeroDivisionError(), KeyError("x"), TypeError("x"), Cancelled("stopped")])
def test_faults_of_the_program_and_a_cancel_are_no_failures_of_a_way(work, error):
    with pytest.raises(type(error)):
        ladder.first_that_works(work, "trial", [("first", fails(error)), ("second", lambda: 7)])
    assert work.climbs == []


def test_what_is_left_for_later_ends_the_climb(work):
    with pytest.raises(Unsettled):
        ladder.first_that_works(work, "trial", [("first", fails(Unsettled("later"))), ("second", lambda: 7)])


def test_where_nothing_works_every_reason_is_known_in_order(work):
    rungs = [(f"rung {i}", fails(error)) for i, error in enumerate(FAMILY)]
    with pytest.raises(ladder.NothingWorked) as told:
        ladder.first_that_works(work, "trial", rungs)
    assert [error for _, error in told.value.failed] == FAMILY
    assert told.value.first is FAMILY[0]
    assert told.value.of("rung 2") is FAMILY[2]
    assert told.value.of("no such rung") is None
    with pytest.raises(LocalFailure, match="a local reason"):
        ladder.climbed(work, "trial", rungs)
    assert work.climbs == []


def test_a_search_leaves_no_trace_in_the_record(work):
    def climbs():
        return ladder.first_that_works(work, "inner", [("only", lambda: 1)])

    assert ladder.works(work, climbs)
    assert not ladder.works(work, fails(FAMILY[4]))
    assert not ladder.works(work, lambda: ladder.first_that_works(work, "inner", [("only", fails(FAMILY[0]))]))
    assert work.climbs == []


def test_the_largest_that_works_is_found_by_halving():
    tried = []

    def does(value):
        tried.append(value)
        return value <= 3.3

    assert ladder.largest_that_works(10.0, does) == pytest.approx(3.3, abs=0.011)
    assert len(tried) < 15
    assert ladder.largest_that_works(-10.0, lambda v: v >= -2) == pytest.approx(-2, abs=0.011)
    assert ladder.largest_that_works(10.0, lambda v: False) is None


# --- planted faults ----------------------------------------------------------------------------------------------


def climbs_of(model, name, **values):
    """What was tried for an edit, by ladder: the rung that did it and the names of those that did not."""
    work = Work(model.snapshot, model.geometry)
    _, change = perform(name, values, work)
    return {c.what: (c.rung, [n for n, _ in c.failed]) for c in work.climbs}, change


def hole_of(model, radius):
    return next(f.id for f in model.faces(kind="cylinder") if abs(f.radius - radius) < 1e-9)


@pytest.fixture
def block(tmp_path):
    return model_of(tmp_path, drilled_block(), "Block")[0]


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_a_push_whose_first_way_fails_is_done_by_the_next(block, error, monkeypatch):
    """The face is flat and its neighbours square to it, so every way gives the same body."""
    top = block.faces(normal=(0, 0, 1)).highest().id
    _, plain = climbs_of(block, "push", faces=[top], distance="4")
    monkeypatch.setattr(push, "reshape_step", lambda *a, **k: fails(error)())
    if isinstance(error, LocalFailure):
        monkeypatch.setattr(blend_suppression, "reshape_step", lambda *a, **k: fails(error)())
    climbs, change = climbs_of(block, "push", faces=[top], distance="4")
    assert climbs["push"] == ("prism", ["in place", "rounds set aside"])
    assert change.fact("volume_change") == pytest.approx(plain.fact("volume_change"), rel=1e-9)
    assert top in {f"f{i}" for b in change.after.bodies.values() for i in b.faces}
    rung = next(f for f in change.facts if f.code == "rung" and f.label == "push")
    assert rung.tone == "quiet"
    assert ladder.reason_of(error) in rung.value


def test_each_rung_of_a_push_can_do_it_when_those_before_it_fail(block, monkeypatch):
    top = block.faces(normal=(0, 0, 1)).highest().id
    wanted = 4 * (40 * 30 - np.pi * 25)
    ways = {"in place": "_locally", "rounds set aside": "_with_blends_suppressed", "prism": "_by_plain_prism"}
    done = []
    for name, method in ways.items():
        climbs, change = climbs_of(block, "push", faces=[top], distance="4")
        assert change.fact("volume_change") == pytest.approx(wanted, rel=1e-9)
        done.append(climbs["push"][0])
        monkeypatch.setattr(push._BodyPush, method, lambda self, *a, why=name: fails(LocalFailure(f"planted: {why}"))())
    climbs, change = climbs_of(block, "push", faces=[top], distance="4")
    assert [*done, climbs["push"][0]] == ["in place", "prism", "prism", "cells"]
    assert change.fact("volume_change") == pytest.approx(wanted, rel=1e-9)


def test_a_push_that_nothing_does_tells_the_first_reason_and_changes_nothing(block, monkeypatch):
    top = block.faces(normal=(0, 0, 1)).highest().id
    for method in ("_locally", "_with_blends_suppressed", "_by_plain_prism", "_by_cells", "_as_round"):
        monkeypatch.setattr(push._BodyPush, method, lambda self, *a: fails(LocalFailure("planted"))())
    before = block.snapshot
    with pytest.raises(CannotDo, match=r"^Pushing top of Block out by 4 mm: planted$"):
        block.do("push", faces=[top], distance="4")
    assert block.snapshot is before


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_a_size_whose_first_way_fails_is_given_by_cells(block, error, monkeypatch):
    hole = hole_of(block, 5)
    monkeypatch.setattr(resize, "reshape_step", lambda *a, **k: fails(error)())
    climbs, change = climbs_of(block, "resize", faces=[hole], size="12")
    assert climbs["resize"] == ("cells", ["in place"])
    assert change.fact("volume_change") == pytest.approx(-np.pi * (36 - 25) * 20, rel=1e-9)


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_a_feature_that_cannot_slide_is_planted_anew(block, error, monkeypatch):
    hole = hole_of(block, 5)
    volume = block.measure(block.bodies()[0]).volume
    monkeypatch.setattr(move_faces, "reshape_step", lambda *a, **k: fails(error)())
    climbs, change = climbs_of(block, "move faces", faces=[hole], along="x", distance="3")
    assert climbs["move"] == ("replanted", ["in place"])
    assert change.fact("volume_change") == pytest.approx(0, abs=1e-6 * volume)


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_removing_falls_back_to_the_kernel(block, error, monkeypatch):
    hole = hole_of(block, 5)
    monkeypatch.setattr(remove, "close_up", lambda *a: fails(error)())
    climbs, change = climbs_of(block, "remove", faces=[hole])
    assert climbs["remove"] == ("the kernel's removal", ["in place"])
    assert change.fact("volume_change") == pytest.approx(np.pi * 25 * 20, rel=1e-9)


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_removing_that_neither_way_does_is_refused_in_words(block, error, monkeypatch):
    monkeypatch.setattr(remove, "close_up", lambda *a: fails(error)())
    monkeypatch.setattr(remove, "defeature", lambda *a: fails(FAMILY[4])())
    before = block.snapshot
    with pytest.raises(CannotDo) as told:
        block.do("remove", faces=[hole_of(block, 5)])
    assert told.value.reason.startswith("Removing a hole of Block: ")
    assert ladder.reason_of(error) in told.value.reason
    assert block.snapshot is before


@pytest.mark.parametrize("error", FAMILY, ids=lambda e: type(e).__name__)
def test_a_tilt_that_nothing_does_is_refused_with_its_angle(block, error, monkeypatch):
    monkeypatch.setattr(tilt, "reshape_step", lambda *a, **k: fails(error)())
    monkeypatch.setattr(tilt, "reshaped_with_blends_suppressed", lambda *a, **k: fails(FAMILY[4])())
    side = block.faces(normal=(1, 0, 0)).highest((1, 0, 0)).id
    axis = block.edges(kind="line", direction=(0, 1, 0)).highest((1, 0, -1)).id
    with pytest.raises(CannotDo, match=r"^Tilting .* by 3°") as told:
        block.do("tilt", faces=[side], angle="3°", axis=[axis])
    assert told.value.field == (error.field if isinstance(error, EditError) and error.field else "angle")


def test_rounds_are_rolled_by_volume_where_the_kernel_cannot(tmp_path, monkeypatch):
    model = model_of(tmp_path, build.box(40, 20, 10), "Block")[0]
    model.do("round", edges=[model.edges(direction=(1, 0, 0)).highest().id], size="2")
    side = model.faces(normal=(0, -1, 0)).highest((0, -1, 0)).id
    before = model.measure(model.bodies()[0]).volume
    monkeypatch.setattr(push._BodyPush, "_locally", lambda self: fails(LocalFailure("planted"))())
    monkeypatch.setattr(blend_suppression, "fillet_edges", lambda *a: fails(FAMILY[5])())
    climbs, change = climbs_of(model, "push", faces=[side], distance="-1")
    assert change.fact("volume_change") == pytest.approx(-(40 * 10), rel=0.02)
    assert climbs["push"][0] in ("rounds set aside", "prism", "cells")
    assert before + change.fact("volume_change") > 0


def test_faces_spoiled_by_merging_are_left_divided_and_the_part_unharmed(block, monkeypatch):
    """The kernel's merging may damage what it is given; the shapes are then read afresh and left unmerged."""
    plain, calls = booleans.combine, []

    def spoiling(kind, shape, tools, *, merge=True):
        calls.append(merge)
        if merge:
            raise SpoiledInput
        return plain(kind, shape, tools, merge=False)

    monkeypatch.setattr(booleans, "combine", spoiling)
    body = block.body(block.bodies()[0])
    old = block.geometry.solid(body.shape)
    change = block.do(
        "drill", face=[block.faces(normal=(0, 0, 1)).highest().id], across="12", kind="plain", diameter="4"
    )
    assert calls == [True, False]
    assert change.fact("volume_change") == pytest.approx(-np.pi * 4 * 20, rel=1e-9)
    assert block.geometry.solid(body.shape) is not old


def test_a_drag_leaves_further_rungs_for_later_and_a_probe_gives_no_advice(tmp_path):
    lug = build.subtract(
        build.cylinder(20, 10), build.box(60, 60, 12, (-30, 5, -1)), build.box(60, 60, 12, (-30, -72, -1))
    )
    model, body = model_of(tmp_path, lug)
    values = {"faces": model.faces(body, kind="cylinder").ids, "distance": -9}
    with pytest.raises(Unsettled):
        perform("push", values, Work(model.snapshot, model.geometry, mode=Mode.DRAG))
    for mode in (Mode.PREVIEW, Mode.COMMIT, Mode.PROBE):
        _, change = perform("push", values, Work(model.snapshot, model.geometry, mode=mode))
        assert change.fact("volume_change") < 0
    size = {"faces": values["faces"], "distance": "-40"}
    with pytest.raises(CannotDo) as told:
        perform("push", size, Work(model.snapshot, model.geometry, mode=Mode.PROBE))
    assert told.value.nearest is None
    with pytest.raises(CannotDo) as told:
        perform("push", size, Work(model.snapshot, model.geometry, mode=Mode.COMMIT))
    assert told.value.nearest is not None
    model.do("push", faces=values["faces"], distance=told.value.nearest)


def test_refusals_take_any_failure(tmp_path):
    model = model_of(tmp_path, boss_block(), "Boss")[0]
    work = Work(model.snapshot, model.geometry)
    body = model.body(model.bodies()[0])
    for error in FAMILY:
        found = reshaping.refusal(work, body, error, "distance", "3 mm")
        assert found.reason.startswith(ladder.reason_of(error))
        assert (found.field, found.nearest) == ("distance", "3 mm")
    assert reshaping.refusal(work, body, FAMILY[0], "distance").where == (f"f{body.faces[0]}",)
    assert isinstance(cell_push.FallsApart("apart"), EditError)
