"""Studies of strength solved as jobs: they go on without the page, and after a restart."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from ravine.core import Cancelled
from ravine.store.tables import Design, Job

from ..designs import Designs
from ..results import keep_result, kept_result
from ..rows import Revision
from .kinds import JobKind, Tell, enter
from .rows import queue, token_of

OPEN = ("queued", "running")


def start_study(designs: Designs, design: Design, revision: Revision, name: str, values: Mapping[str, Any]) -> Job:
    """name: of a study; one that is under way already for the same state and values is that one."""
    params = {"study": name, "values": dict(values), "revision": revision.id, "called": values.get("called") or "study"}
    told = json.dumps(params)
    for job in Job.select().where((Job.design == design) & (Job.kind == SIMULATE.name) & Job.state.in_(OPEN)):
        if job.params == told and not job.cancel:
            return job
    job = queue(designs, design, SIMULATE, params)
    job.seen = True  # the panel of the study tells how it goes
    job.save()
    return job


def standing(design: Design, revision: Revision, name: str, values: Mapping[str, Any]) -> Job | None:
    """The newest job for that, whatever became of it."""
    return next(
        (job for job, asked in _newest(design, revision) if (asked["study"], asked["values"]) == (name, dict(values))),
        None,
    )


def under_way(design: Design, revision: Revision, called: str) -> tuple[Job, str, dict[str, Any]] | None:
    """The newest open job for a study of strength, with what it solves and for which values."""
    for job, asked in _newest(design, revision):
        if asked["called"] == called and job.state in OPEN:
            return job, asked["study"], asked["values"]
    return None


def _newest(design: Design, revision: Revision) -> Iterator[tuple[Job, dict[str, Any]]]:
    for job in Job.select().where((Job.design == design) & (Job.kind == SIMULATE.name)).order_by(Job.id.desc()):
        params = json.loads(job.params)
        if params["revision"] == revision.id:
            yield job, params


def _work(designs: Designs, job: Job, params: dict[str, Any], tell: Tell) -> str:
    design = designs.get(job.design_id)
    revision = designs.revision(design, params["revision"])
    if kept_result(design, revision, params["study"], params["values"]) is None:
        data = designs.study(revision, params["study"], tell, token_of(job), **params["values"])
        if Job.get_by_id(job.id).cancel:
            raise Cancelled(SIMULATE.stopped)
        keep_result(designs, design, revision, params["study"], params["values"], data)
    return f"{params['called']} is solved"


SIMULATE = enter(
    JobKind(
        "simulate",
        _work,
        doing="Solving {called}",
        failed="{called} was not solved",
        stopped="stopped",
        kept="the study is kept",
    )
)
