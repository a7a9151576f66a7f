"""The list of models."""

from __future__ import annotations

import io

from flask import Blueprint, Response, make_response, render_template, request, send_file, url_for

from ravine.core.units import MODEL_UNITS
from ravine.service import jobs
from ravine.service.rows import Design

from .exchange import import_choices
from .words import designs

pages = Blueprint("library", __name__)


def _cards(undo: Design | None = None) -> str:
    return render_template("fragments/cards.html", models=designs().all(), undo=undo)


@pages.get("/")
def index() -> str:
    return render_template("library.html", models=designs().all(), undo=None, units=MODEL_UNITS)


@pages.post("/models")
def create() -> Response:
    design = designs().create(request.form.get("name") or "New part", request.form.get("units", "mm"))
    return _go_to(url_for("workbench.show", ident=design.id))


def _go_to(address: str) -> Response:
    answer = make_response("")
    answer.headers["HX-Redirect"] = address
    return answer


@pages.post("/models/first")
def first() -> Response:
    """An empty model that tells a newcomer what to do, step by step."""
    design = designs().create("First model", "mm")
    return _go_to(url_for("workbench.show", ident=design.id, first="yes"))


@pages.post("/models/from-file")
def from_file() -> tuple[dict, int]:
    """A new model from an uploaded file; answers with its address.  The import goes on as a job."""
    file = request.files.get("file")
    if file is None or not file.filename:
        return {"reason": "no file came with the request"}, 422
    store = designs()
    design = store.create(file.filename.rpartition(".")[0][:120] or file.filename[:120], from_file=True)
    try:
        jobs.start_import(store, design, file.filename, file.read(), request.form.get("units") or None,
                          import_choices(request.form))  # fmt: skip
    except Exception:
        store.discard(design)  # nothing half made is left in the list
        raise
    return {"address": url_for("workbench.show", ident=design.id)}, 200


@pages.post("/models/<int:ident>/rename")
def rename(ident: int) -> str:
    store = designs()
    store.rename(store.get(ident), request.form.get("name", ""))
    return _cards()


@pages.post("/models/<int:ident>/delete")
def delete(ident: int) -> str:
    """A name that has just been typed comes with it: its own request may still be on its way."""
    store = designs()
    design = store.get(ident)
    typed = request.form.get("name", "").strip()
    if typed and typed != design.name:
        store.rename(design, typed)
        design = store.get(ident)
    store.delete(design)
    return _cards(undo=design)


@pages.post("/models/<int:ident>/restore")
def restore(ident: int) -> str:
    store = designs()
    store.restore(store.get(ident, deleted=True))
    return _cards()


@pages.get("/models/<int:ident>/picture.png")
def picture(ident: int) -> Response:
    """While all is busy an older one; where there is none, 202, and the page asks again."""
    data, current = designs().portrait(designs().get(ident))
    answer = Response(status=202) if data is None else send_file(io.BytesIO(data), "image/png")
    # the address names the revision
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable" if current else "no-store"
    return answer
