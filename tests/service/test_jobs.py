"""Durable jobs: a lease that keeps others away, runs out and is taken up; tries that end; a table of kinds."""

from __future__ import annotations

import datetime
import json

import pytest
from peewee import OperationalError

from ravine.core import Cancelled, RavineError
from ravine.service.jobs import KINDS, JobKind, cancel, find, open_jobs, running, seen
from ravine.service.jobs.rows import queue, title
from ravine.service.jobs.running import TRIES
from ravine.store.tables import Job, now


@pytest.fixture
def kind(monkeypatch):
    """A kind of the tests' own; `does` is what its jobs do."""
    does = {"work": lambda designs, job, params, tell: f"did {params['name']}"}
    made = JobKind(
        "trial",
        lambda *given: does["work"](*given),
        doing="Trying {name}",
        failed="{name} was not tried",
        stopped="stopped trying",
        kept="all is kept",
    )
    monkeypatch.setitem(KINDS, "trial", made)
    return made, does


@pytest.fixture
def job(designs, kind):
    Job.delete().execute()
    return queue(designs, designs.create("Jobs"), kind[0], {"name": "{one}"})


def again(job):
    return Job.get_by_id(job.id)


def test_a_job_is_claimed_once_done_and_told(runner, job):
    assert title(job) == "Trying {one}"
    claimed = runner._claim()
    assert (claimed.id, claimed.state, claimed.attempts) == (job.id, "running", 1)
    assert runner._claim() is None, "its lease keeps others away"
    runner._run(claimed)
    assert (again(job).state, again(job).words, again(job).lease) == ("done", "did {one}", None)
    assert runner._claim() is None


def test_a_job_whose_runner_died_is_taken_up_when_its_lease_runs_out(runner, job):
    first = runner._claim()
    Job.update(lease=now() - datetime.timedelta(seconds=1)).where(Job.id == job.id).execute()
    second = runner._claim()
    assert (second.id, second.attempts) == (first.id, 2)
    assert second.lease > now()


def test_two_runners_after_one_job_do_not_both_get_it(runner, job, monkeypatch):
    """Between looking and claiming, another one claims it."""
    row = again(job)
    monkeypatch.setattr(type(runner), "_next", staticmethod(lambda: row))
    Job.update(state="running", attempts=1, lease=now() + running.LEASE).where(Job.id == job.id).execute()
    assert runner._claim() is None


def test_interrupted_again_and_again_it_is_given_up(runner, job, kind):
    def away(*_):
        raise OperationalError("gone")

    kind[1]["work"] = away
    for number in range(TRIES):
        claimed = runner._claim()
        assert claimed.attempts == number + 1
        with pytest.raises(OperationalError):
            runner._run(claimed)
        assert again(job).state == "running", "the row stays; its lease runs out"
        Job.update(lease=now() - datetime.timedelta(seconds=1)).where(Job.id == job.id).execute()
    runner._run(runner._claim())
    assert again(job).state == "failed"
    assert again(job).words == f"given up after {TRIES} interrupted tries; all is kept"
    assert title(again(job)) == "{one} was not tried"


@pytest.mark.parametrize(
    ("error", "state", "words"),
    [
        (RavineError("no such file"), "failed", "no such file"),
        (Cancelled("x"), "cancelled", "stopped trying"),
        (KeyError("hinge"), "failed", "an unexpected fault"),
    ],
)
def test_how_a_job_ends_that_cannot_be_done(runner, job, kind, caplog, error, state, words):
    def fail(*_):
        raise error

    kind[1]["work"] = fail
    runner._run(runner._claim())
    assert again(job).state == state
    assert again(job).words.startswith(words)
    assert ("Traceback" in caplog.text) == isinstance(error, KeyError)


def test_a_kind_that_this_version_does_not_know_is_told(runner, job):
    Job.update(kind="milling").where(Job.id == job.id).execute()
    runner._run(runner._claim())
    assert again(job).state == "failed"
    assert "does not know jobs of the kind “milling”" in again(job).words
    assert "milling" in title(again(job))


def test_stopping_before_and_while_it_runs(runner, job, designs):
    cancel(designs, job)
    assert again(job).state == "cancelled"
    assert runner._claim() is None
    Job.update(state="queued").where(Job.id == job.id).execute()
    runner._run(runner._claim())
    assert again(job).state == "cancelled", "told while nobody had it"


def test_what_is_listed_until_it_was_seen(runner, job, designs):
    design = designs.get(job.design_id)
    assert [j.id for j in open_jobs(design)] == [job.id]
    runner._run(runner._claim())
    assert [j.id for j in open_jobs(design)] == [job.id]
    seen(design, job.id)
    assert open_jobs(design) == []
    with pytest.raises(RavineError, match="no such job"):
        find(designs.create("Other"), job.id)


def test_an_import_lands_on_top_of_an_edit_made_while_it_was_read(runner, boss, designs, boss_bytes, monkeypatch):
    """Its first result does not fit any more: it is done once more on the newest state, and nothing is lost."""
    from ravine.service.jobs import start_import

    start_import(designs, boss, "second.step", boss_bytes, None)
    keep, calls = designs.keep, []

    def meanwhile(design, base, values, done, stored):
        calls.append(base)
        if len(calls) == 1:
            head = designs.head(designs.get(boss.id))
            node = next(iter(designs.snapshot(head).roots))
            monkeypatch.setattr(designs, "keep", keep)
            designs.edit(designs.get(boss.id), head.id, "rename", {"part": [f"n{node}"], "to": "Meanwhile"})
            monkeypatch.setattr(designs, "keep", meanwhile)
        return keep(design, base, values, done, stored)

    monkeypatch.setattr(designs, "keep", meanwhile)
    job = runner._claim()
    runner._run(job)
    assert (again(job).state, len(calls)) == ("done", 2), again(job).words
    after = designs.snapshot(designs.head(designs.get(boss.id)))
    assert {n.name for n in after.nodes.values()} >= {"Meanwhile", "Boss"}
    assert len(after.bodies) == 2
    assert json.loads(job.params)["name"] == "second.step"


def test_a_model_begun_from_a_file_that_is_none_is_not_listed(designs, kind):
    """One that was begun empty is, whatever came of the files brought in to it."""
    Job.delete().execute()
    begun, empty = designs.create("From a file", from_file=True), designs.create("By hand")
    names = lambda: {d.name for d in designs.all()} & {"From a file", "By hand"}  # noqa: E731
    for state, listed in [("queued", True), ("running", True), ("failed", False), ("cancelled", False)]:
        for design in (begun, empty):
            Job.delete().where(Job.design == design).execute()
            Job.update(state=state).where(Job.id == queue(designs, design, kind[0], {"name": "one"}).id).execute()
        assert names() == {"By hand"} | ({"From a file"} if listed else set()), state
    assert designs.get(begun.id).name == "From a file", "the page that shows it goes on"
    designs.edit(begun, designs.head(begun).id, "sketch", {"plane": "xy"})
    assert names() == {"From a file", "By hand"}, "with something in it, it is a model like others"


def test_jobs_of_one_model_follow_one_another(runner, job, designs, kind):
    first = runner._claim()
    assert first.id == job.id
    second = queue(designs, job.design, kind[0], {"name": "{two}"})
    assert runner._claim() is None, "the first is under way"
    Job.update(state="done", lease=None).where(Job.id == first.id).execute()
    assert runner._claim().id == second.id
    Job.update(lease=now() - datetime.timedelta(seconds=1)).where(Job.id == second.id).execute()
    assert runner._claim().id == second.id, "its runner died"
