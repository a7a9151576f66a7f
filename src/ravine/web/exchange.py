"""Files in: imports into a model, as jobs."""

from __future__ import annotations

from flask import Blueprint, render_template, request

from ravine.core import RavineError
from ravine.service import jobs
from ravine.store.tables import Job

from .words import designs
from .workbench import jobs as jobs_fragment

pages = Blueprint("exchange", __name__)


@pages.post("/m/<int:ident>/import")
def bring_in(ident: int) -> str:
    """One or several files; each becomes a job of its own.  A file that no reader takes is told and leaves nothing."""
    store = designs()
    design = store.get(ident)
    files = [f for f in request.files.getlist("file") if f.filename]
    if not files:
        raise RavineError("no file came with the request; choose a STEP or STL file")
    refused = []
    for file in files:
        try:
            jobs.start_import(store, design, file.filename or "file", file.read(), request.form.get("units") or None)
        except RavineError as error:
            refused.append(str(error))
    return jobs_fragment(ident) + "".join(
        render_template("fragments/refusal.html", error={"reason": reason}) for reason in refused
    )


@pages.post("/m/<int:ident>/jobs/<int:number>/cancel")
def cancel(ident: int, number: int) -> str:
    store = designs()
    design = store.get(ident)
    job = Job.get_or_none((Job.id == number) & (Job.design == design))
    if job is None:
        raise RavineError("there is no such job")
    jobs.cancel(store, job)
    return jobs_fragment(ident)
