"""Drawings at the stage Hand over: the sheets of a model, the open one in place of the view, and what is picked on
it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from flask import Blueprint, Response, render_template, request, send_from_directory

from ravine import core
from ravine.core import EditError
from ravine.core.drawing.paper import FIELDS
from ravine.core.edits.drawing.items import CALLED
from ravine.core.model.drawing_sheet import DrawnSheet
from ravine.core.model.records import DRAWINGS, EXPLOSIONS, SHEETS
from ravine.core.model.references import resolve
from ravine.core.model.snapshot import Snapshot
from ravine.engine.wire import Progress
from ravine.service.connection import in_this_thread

from .asked import json_object, whole
from .streamed import streamed
from .words import designs

pages = Blueprint("drawing", __name__)
FONTS = Path(core.__file__).parent / "fonts"


@pages.get("/fonts/<name>")
def font(name: str) -> Response:
    """The letters of sheets, as files of drawings embed them."""
    return send_from_directory(FONTS, name, max_age=30 * 86400)


SIZED = [("tolerance", "Tolerance"), ("limits", "Limits"), ("before", "Before"), ("after", "After"), ("role", "As")]
# what can be said of one thing written, by kind: name, words, how it is asked
WORDS: dict[str, list[tuple[str, str]]] = {
    **{kind: [*SIZED] for kind in ("distance", "radius", "diameter")},
    "hole": [("tolerance", "Tolerance"), ("thread", "Thread"), ("before", "Before"), ("after", "After")],
    "thread": [("thread", "Thread"), ("length", "Length")],
    "tolerance": [
        ("characteristic", "Of"), ("value", "Within"), ("zone", "Zone"), ("datums", "Datums"), ("modifier", "Modifier"),
    ],
    "datum": [("letter", "Letter")],
    "surface": [("value", "Texture"), ("removal", "Removal")],
    "edges": [("value", "State")],
    "weld": [("joint", "Weld"), ("size", "Size"), ("length", "Length"), ("round", "All round")],
    "note": [("text", "Text")],
    "chamfer": [("before", "Before")],
}  # fmt: skip
CHOICES = {
    ("distance", "role"): ["", "exact", "reference"], ("radius", "role"): ["", "exact", "reference"],
    ("diameter", "role"): ["", "exact", "reference"], ("distance", "limits"): ["", "shown"],
    ("radius", "limits"): ["", "shown"], ("diameter", "limits"): ["", "shown"], ("tolerance", "zone"): ["", "round"],
    ("weld", "joint"): ["fillet", "square", "v", "bevel", "spot"], ("weld", "round"): ["", "yes"],
    ("surface", "removal"): ["asked", "forbidden", "open"],
    ("tolerance", "characteristic"): [
        "position", "flatness", "straightness", "roundness", "cylindricity", "line profile", "surface profile",
        "parallelism", "perpendicularity", "angularity", "coaxiality", "symmetry", "run-out", "total run-out",
    ],
}  # fmt: skip


def _open(snapshot: Snapshot, called: str) -> DrawnSheet | None:
    return next((s for s in snapshot.kept(DRAWINGS).values() if s.name == called), None)


@pages.get("/m/<int:ident>/drawings")
def panel(ident: int) -> str:
    """open: the name of the sheet that is shown.  Both the list and the sheet."""
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    sheet = _open(snapshot, request.args.get("open", "")[:60])
    drawn, why = None, ""
    if sheet is not None:
        try:
            drawn = store.study(revision, "sheet drawing", sheet=sheet.name)
        except EditError as error:
            why = str(error)
    return render_template(
        "fragments/drawings.html", sheets=list(snapshot.kept(DRAWINGS).values()), sheet=sheet, drawn=drawn, why=why,
        fields=FIELDS, called=CALLED, has_parts=bool(snapshot.roots), apart=list(snapshot.kept(EXPLOSIONS)),
        sheet_metal=[snapshot.bodies[b].name for b in snapshot.kept(SHEETS) if b in snapshot.bodies],
    )  # fmt: skip


@pages.get("/m/<int:ident>/drawings/ahead")
def ahead(ident: int) -> Response:
    """open: the name of a sheet, which is drawn with its progress told, so that the panel has it at once."""
    store = designs()
    revision = store.head(store.get(ident))
    name = request.args.get("open", "")[:60]

    def work(progress: Progress, token: str) -> bytes:
        with in_this_thread():  # in a thread of its own
            store.study(revision, "sheet drawing", progress, token, sheet=name)
        return b"drawn"

    return streamed(store.engine, work)


def _part_of(snapshot: Snapshot, on: list[str]) -> str:
    names = {body.name for text in on[:40] if (body := resolve(snapshot, text).body) is not None}
    return ", ".join(sorted(names)[:2])


@pages.post("/m/<int:ident>/on-sheet")
def on_sheet(ident: int) -> str:
    """What is picked on the open sheet, and what can be done with it: lines of a view, a view, or one thing written."""
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    data = json_object()
    sheet = _open(snapshot, str(data.get("sheet", ""))[:60])
    if sheet is None:
        raise EditError("this sheet is not there any more; open another")
    found: dict[str, Any] = {"sheet": sheet, "view": None, "item": None, "offers": [], "lines": 0}
    if data.get("on"):
        view = whole(data, "view")
        near = data.get("near", [])
        found |= {"lines": len(data["on"]), "of_part": _part_of(snapshot, data["on"]), "view": sheet.views.get(view)}
        found["offers"] = store.study(revision, "on sheet", sheet=sheet.name, view=view, on=data["on"], near=near)
    elif "item" in data:
        found["item"] = sheet.items.get(whole(data, "item"))
    elif "view" in data:
        found["view"] = sheet.views.get(whole(data, "view"))
    found["called_view"] = str(data.get("called", ""))[:40]
    return render_template(
        "fragments/on_sheet.html", words=WORDS, choices=CHOICES, called=CALLED, says=data.get("says", ""), **found
    )
