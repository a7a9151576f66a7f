"""Files in: imports into a model, as jobs."""

from __future__ import annotations

from collections.abc import Mapping

from flask import Blueprint, render_template, request

from ravine.core import RavineError
from ravine.core.formats.marks import is_idf, is_idf_library
from ravine.service import jobs

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
        raise RavineError("no file came with the request; choose a file to bring in")
    refused = []
    units, choices = request.form.get("units") or None, import_choices(request.form)
    for name, data in with_libraries([(f.filename or "file", f.read()) for f in files]):
        try:
            jobs.start_import(store, design, name, data, units, choices)
        except RavineError as error:
            refused.append(str(error))
    return jobs_fragment(ident) + "".join(
        render_template("fragments/refusal.html", error={"reason": reason}) for reason in refused
    )


def import_choices(form: Mapping[str, str]) -> dict[str, str]:
    """What the person chose for files that come in, as the fields of the import."""
    return {name: form[name] for name in ("what", "tree", "heal", "widest") if form.get(name)}


def with_libraries(files: list[tuple[str, bytes]]) -> list[tuple[str, bytes]]:
    """IDF libraries go with the boards that come in the same request, as one text; a library alone stays as it is."""
    libraries = [data for _, data in files if is_idf_library(data[:4096])]
    boards = [name for name, data in files if is_idf(data[:4096]) and not is_idf_library(data[:4096])]
    if not libraries or not boards:
        return files
    return [
        (name, b"\n".join([data, *libraries]) if name in boards else data)
        for name, data in files
        if not is_idf_library(data[:4096])
    ]


@pages.post("/m/<int:ident>/jobs/<int:number>/cancel")
def cancel(ident: int, number: int) -> str:
    store = designs()
    design = store.get(ident)
    jobs.cancel(store, jobs.find(design, number))
    return jobs_fragment(ident)
