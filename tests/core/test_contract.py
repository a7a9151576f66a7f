"""What holds for every edit alike: how it is declared, what it leaves behind, how it fails."""

from __future__ import annotations

import dataclasses
import importlib
import inspect
import re
from xml.etree import ElementTree

import OCP.Standard
import pytest

from ravine.core import Model, RavineError
from ravine.core.edits import find_edit, registry
from ravine.core.edits.base import context_of
from ravine.core.edits.perform import perform
from ravine.core.errors import EditError, UnknownId, Unsettled
from ravine.core.kernel.failures import SpoiledInput
from ravine.core.model.geometry import GeometryStore, Solid
from ravine.core.model.snapshot import Snapshot
from ravine.core.operations.work import Mode, Work
from ravine.core.studies import studies
from tests.parts import boss_block, step_file
from tests.samples import SAMPLES

EDITS = [name for name in registry() if not name.startswith("zz ")]


@pytest.fixture
def sampled(bases, tmp_path, request):
    """A model and raw values with which the edit does something."""
    name = request.param
    if name == "import":
        return bases("empty"), name, {"path": str(step_file(tmp_path / "boss.step", boss_block()))}
    model = bases(SAMPLES[name].base)
    values = SAMPLES[name].values(model)
    return Model(snapshot=model.snapshot, geometry=model.geometry), name, values


def every_edit(test):
    return pytest.mark.parametrize("sampled", EDITS, indirect=True)(test)


# --- declarations ------------------------------------------------------------------------------------------------


def test_every_edit_has_a_sample():
    assert set(SAMPLES) | {"import"} == set(EDITS)


@pytest.mark.parametrize("name", EDITS)
def test_an_edit_says_all_that_is_shown_of_it(name):
    cls = find_edit(name)
    assert all([cls.title, cls.sentence, cls.past, len(cls.help) > 20])
    assert cls.offered_for or cls.stages or "offers" in vars(cls)
    drawn = ElementTree.fromstring(f"<svg>{cls.drawing}</svg>")
    assert {e.tag for e in drawn.iter()} <= {"svg", "path", "circle"}
    assert any(e.get("class") == "hot" for e in drawn.iter())
    assert all(f.label and f.help for f in cls.fields().values())
    assert set(cls.keeps_open) <= set(cls.fields())
    assert not {n for n in cls.folds if cls.fields()[n].required}, "what has to be filled never folds"
    shown = set(re.findall(r"\{(\w+)\}", cls.sentence))
    hidden = {n for n, f in cls.fields().items() if f.required} - shown
    assert not hidden, "what has to be filled stands in the sentence"


def test_no_two_edits_claim_one_place_among_the_actions():
    """Titles tell edits apart wherever both may be offered."""
    seen: dict[tuple[str, str], str] = {}
    for cls in registry().values():
        key = (cls.offered_for, cls.title)
        assert key not in seen, f"{cls.name} and {seen.get(key)} are both called {cls.title}"
        seen[key] = cls.name


@pytest.mark.parametrize("name", EDITS)
def test_an_operation_takes_nothing_that_its_edit_does_not_have(name):
    cls = find_edit(name)
    for module, operation in re.findall(r"self\.(?:done_by|planned)\((\w+)\.(\w+)", inspect.getsource(cls)):
        made = getattr(importlib.import_module(f"ravine.core.operations.{module}"), operation)
        assert {f.name for f in dataclasses.fields(made)} <= set(cls.fields())
        for field in dataclasses.fields(made):
            declared = cls.fields()[field.name]
            known = declared.default if not declared.required else dataclasses.MISSING
            assert field.default == known, f"{operation}.{field.name} has another default than the edit"


@every_edit
def test_the_schema_agrees_with_what_is_read(sampled):
    _, name, values = sampled
    schema = find_edit(name).schema()
    assert set(schema["required"]) <= set(values) <= set(schema["properties"])
    for key, value in values.items():
        rule = schema["properties"][key]
        if "enum" in rule:
            assert value in rule["enum"]
        if rule.get("type") == "array":
            pattern = re.compile(rule["items"].get("pattern", ""))
            numbers = rule["items"].get("type") == "number"
            assert all(isinstance(v, int | float) if numbers else pattern.match(v) for v in value)
            assert rule["minItems"] <= len(value) <= rule.get("maxItems", len(value))


@pytest.mark.parametrize("name", list(studies()))
def test_a_study_says_what_it_takes(name):
    schema = studies()[name].schema()
    assert schema["description"]
    assert all(p["description"] for p in schema["properties"].values())


# --- what an edit leaves -----------------------------------------------------------------------------------------


def told(change) -> list:
    return [(f.code, pytest.approx(f.value, rel=1e-6, abs=1e-9) if isinstance(f.value, float) else f.value)
            for f in change.facts if f.tone != "quiet"]  # fmt: skip


@every_edit
def test_a_preview_shows_what_accepting_does_and_stepping_back_restores(sampled):
    model, name, values = sampled
    before = model.snapshot
    with model.geometry.drafts():
        _, shown = perform(name, values, Work(before, model.geometry, mode=Mode.PREVIEW))
        try:
            _, dragged = perform(name, values, Work(before, model.geometry, mode=Mode.DRAG))
        except Unsettled:
            dragged = shown
        seen, quick = told(shown), told(dragged)
    assert model.snapshot is before
    change = model.do(name, **values)
    assert told(change) == seen == quick
    assert shown.sentence == change.sentence
    assert len(shown.after.bodies) == len(change.after.bodies) + sum(p.dropped for p in change.pieces)
    if change.after == before:
        assert change.files, "an edit changes the model or gives a file"
        return
    assert model.journal == [change.sentence]
    model.undo()
    assert model.snapshot is before
    model.redo()
    assert model.snapshot is change.after


@every_edit
def test_a_state_is_whole_after_every_edit(sampled):
    """Ids are those of the shapes, none stands twice, none was never given; and the state comes back from what is
    stored of it alone."""
    model, name, values = sampled
    model.do(name, **values)
    after = model.snapshot
    given: list[tuple[str, int]] = []
    for body in after.bodies.values():
        geometry = model.geometry.get(body.shape)
        if isinstance(geometry, Solid):
            assert {k: len(row) for k, row in body.ids().items()} == {k: geometry.index.count(k) for k in body.ids()}
        given += [(kind, i) for kind, row in body.ids().items() for i in row]
        assert set(body.face_finishes) <= set(body.faces)
    assert len(given) == len(set(given))
    assert all(0 < i < after.next_id for _, i in given)
    assert all(n.body in after.bodies for n in after.nodes.values() if n.body is not None)
    address, data = after.stored()
    back = Snapshot.from_json(data.decode())
    assert back == after
    assert back.stored() == (address, data)
    fresh = GeometryStore(model.geometry.blob)
    for number, body in back.bodies.items():
        read = fresh.get(body.shape)
        if isinstance(read, Solid):
            assert read.index.count("face") == len(after.bodies[number].faces)


# --- how an edit fails -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("raised", [OCP.Standard.Standard_ConstructionError, SpoiledInput], ids=["kernel", "spoiled"])
@every_edit
def test_no_failure_of_the_kernel_escapes_an_edit(sampled, raised, monkeypatch):
    """Planted where every new shape passes: the edit refuses in words, and the state is as it was.  Edits that make no
    shape are not touched by it."""
    model, name, values = sampled
    before, planted = model.snapshot, []

    def fail(self, solid):
        planted.append(name)
        raise raised("planted")

    with monkeypatch.context() as patch:
        patch.setattr(GeometryStore, "put_solid", fail)
        refused = None
        try:
            model.do(name, **values)
        except EditError as error:
            refused = error.reason
        if refused is None and model.snapshot is not before:
            model.undo()
    assert bool(planted) == (refused is not None)
    assert refused is None or len(refused) > 20
    assert model.snapshot is before
    model.do(name, **values)  # and what it worked on is unharmed


ODD = [True, -1, 1e300, float("nan"), "\x00", "x" * 400, "§", [], [None], ["f0"], {"a": 1}, "1/0", "1e999"]


@every_edit
def test_raw_values_of_any_kind_are_read_or_refused_in_words(sampled):
    """A page or script may send anything for a field: it is never an error of the program."""
    model, name, values = sampled
    context = context_of(Work(model.snapshot, model.geometry))
    refused: list[tuple[str, RavineError]] = []
    for key in find_edit(name).fields():
        for raw in ODD:
            try:
                find_edit(name).read({**values, key: raw}, context)
            except RavineError as error:
                refused.append((key, error))
    assert all(len(str(error)) > 8 for _, error in refused)
    assert all(isinstance(error, UnknownId) or error.field == key for key, error in refused)
