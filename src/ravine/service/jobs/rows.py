"""Rows of jobs as pages ask for them."""

from __future__ import annotations

import json
from typing import Any

from ravine.core import RavineError
from ravine.store.tables import Design, Job

from ..designs import Designs
from .kinds import KINDS, JobKind


def queue(designs: Designs, design: Design, kind: JobKind, params: dict[str, Any]) -> Job:
    return Job.create(owner=designs.owner, design=design, kind=kind.name, params=json.dumps(params), words="waiting")


def title(job: Job) -> str:
    """What it is about: while it is under way, and when it has failed."""
    kind = KINDS.get(job.kind)
    if kind is None:
        return f"A job of another version of Ravine ({job.kind})"
    return (kind.failed if job.state == "failed" else kind.doing).format_map(json.loads(job.params))


def open_jobs(design: Design) -> list[Job]:
    """Jobs under way, and ended ones nobody has seen the end of."""
    open_ = Job.state.in_(["queued", "running"]) | ~Job.seen
    return list(Job.select().where((Job.design == design) & open_).order_by(Job.id))


def seen(design: Design, number: int) -> None:
    Job.update(seen=True).where((Job.id == number) & (Job.design == design)).execute()


def find(design: Design, number: int) -> Job:
    job = Job.get_or_none((Job.id == number) & (Job.design == design))
    if job is None:
        raise RavineError("there is no such job")
    return job


def cancel(designs: Designs, job: Job) -> None:
    Job.update(cancel=True).where((Job.id == job.id) & Job.state.in_(["queued", "running"])).execute()
    Job.update(state="cancelled", words="stopped before it began").where(
        (Job.id == job.id) & (Job.state == "queued")
    ).execute()
    designs.engine.cancel(token_of(job))


def token_of(job: Job) -> str:
    return f"job {job.id}"
