"""Studies of strength as jobs: solved once, kept with the state, taken up by another runner, stopped at once."""

import datetime
import json
import struct

import pytest

from ravine.core.kernel import build
from ravine.service.jobs import cancel, start_study
from ravine.service.jobs.simulate import standing
from ravine.service.results import kept_result
from ravine.store.tables import Job, now
from tests.parts import step_file

VALUES = {"called": "Hanging", "rounds": "1"}


@pytest.fixture
def studied(designs, tmp_path):
    """A model with a study of a bar."""
    Job.delete().execute()
    design = designs.create("Bar")

    def do(edit, **values):
        now_ = designs.get(design.id)
        designs.edit(now_, now_.head, edit, values)
        return designs.snapshot(designs.head(designs.get(design.id)))

    path = step_file(tmp_path / "bar.step", build.box(40, 10, 10), "Bar")
    state = do("import", path=str(path), name_as="bar.step")
    (body,) = state.bodies.values()
    do("set material", parts=["Bar"], material="structural steel")
    do("begin study", called="Hanging")
    do("hold", on=[f"f{body.faces[0]}"])
    do("load", on=[f"f{body.faces[1]}"], z="-10 N")
    design = designs.get(design.id)
    return design, designs.head(design)


def head_of(data):
    return json.loads(data[8 : 8 + struct.unpack("<I", data[4:8])[0]])


def test_a_study_is_solved_once_and_kept_with_its_state(designs, runner, studied):
    design, revision = studied
    job = start_study(designs, design, revision, "simulate", VALUES)
    assert start_study(designs, design, revision, "simulate", VALUES).id == job.id, "asked for twice, it is one job"
    assert kept_result(design, revision, "simulate", VALUES) is None
    first = runner._claim()
    Job.update(lease=now() - datetime.timedelta(seconds=1)).where(Job.id == job.id).execute()
    second = runner._claim()
    assert second.id == first.id, "its runner died; another takes it up"
    runner._run(second)
    assert standing(design, revision, "simulate", VALUES).state == "done"
    head = head_of(kept_result(design, revision, "simulate", VALUES))
    assert head["reactions"]["Support 1"][2] == pytest.approx(10, rel=1e-6)
    assert kept_result(design, revision, "simulate", {**VALUES, "rounds": "2"}) is None
    designs.edit(design, design.head, "set elements", {"size": "8 mm"})
    later = designs.head(designs.get(design.id))
    assert kept_result(design, later, "simulate", VALUES) is None, "another state, another result"


def test_a_stopped_one_keeps_nothing(designs, runner, studied):
    design, revision = studied
    job = start_study(designs, design, revision, "simulate", VALUES)
    claimed = runner._claim()
    cancel(designs, job)
    claimed.cancel = False  # it had begun before it was stopped
    runner._run(claimed)
    assert standing(design, revision, "simulate", VALUES).state == "cancelled"
    assert kept_result(design, revision, "simulate", VALUES) is None
    again = start_study(designs, design, revision, "simulate", VALUES)
    assert again.id != job.id


def test_a_page_recalls_what_is_kept_or_under_way(designs, runner, studied, client):
    design, revision = studied
    place = f"/m/{design.id}/simulate?called=Hanging"
    assert client.ask("GET", place).json == {"state": "none"}
    seconds = {"called": "Hanging", "which": "2"}
    start_study(designs, design, revision, "frequencies", seconds)
    told = client.ask("GET", place).json
    assert (told["state"], told["what"], told["number"]) == ("queued", "frequencies", "2")
    assert client.ask("GET", place.replace("Hanging", "Other")).json == {"state": "none"}
    runner._run(runner._claim())
    kept = kept_result(design, revision, "frequencies", seconds)
    assert client.ask("GET", place).data == kept
    finer = {**VALUES, "rounds": "2"}
    start_study(designs, design, revision, "simulate", finer)
    runner._run(runner._claim())
    assert client.ask("GET", place).data == kept_result(design, revision, "simulate", finer) != kept, (
        "statics come first"
    )
