"""The review at the stage Hand over: what changed since an earlier state, in words and on the faces."""

from __future__ import annotations

import json
from typing import Any

from flask import Blueprint, Response, render_template, request

from ravine.core import EditError
from ravine.service import notes
from ravine.service.designs import Designs, NotFound
from ravine.service.rows import Design

from .asked import ids, json_object
from .words import designs

pages = Blueprint("review", __name__)
KINDS = ("moved", "resized", "new", "gone")


@pages.get("/m/<int:ident>/review")
def panel(ident: int) -> str:
    """since: the revision to compare with; without it the list to choose from."""
    store = designs()
    design = store.get(ident)
    head = store.head(design)
    earlier = [row for row in store.journal(design) if row.id < head.id][-60:]
    since, found, why = request.args.get("since", type=int), None, ""
    if since is not None:
        try:
            found = store.study(head, "compare", before=store.revision(design, since).state_id)
        except (EditError, NotFound) as error:
            why = str(error)
    data = json.dumps({"faces": found["faces"], "gone": found["gone"]}) if found else ""
    return render_template("fragments/review.html", earlier=earlier[::-1], since=since, found=found, why=why, data=data,
                           kinds=KINDS, ident=ident)  # fmt: skip


def _notes(store: Designs, design: Design) -> str:
    return render_template("fragments/notes.html", notes=notes.notes_of(design), verdicts=notes.verdicts_of(design))


@pages.get("/m/<int:ident>/review.html")
def page(ident: int) -> Response:
    """since: the revision to compare with.  One file to keep or to send, with the notes and what was decided."""
    store = designs()
    design = store.get(ident)
    head, before = store.head(design), store.revision(design, request.args.get("since", 0, type=int))
    said = f"revision {before.number} to {head.number}"
    threads = [(n.state, "; ".join(f"{s['by']}: {s['text']}" for s in n.said)) for n in notes.notes_of(design)]
    told = [f"{k}. {words} ({state})" for k, (state, words) in enumerate(threads, 1)]
    told += [f"Revision {v['revision']} {v['text']} by {v['by']}, {v['when']}" for v in notes.verdicts_of(design)[:1]]
    data = store.study(head, "review page", before=before.state_id, title=design.name, said=said, notes=told)
    answer = Response(data, mimetype="text/html")
    answer.headers["Content-Disposition"] = f'attachment; filename="review {before.number} to {head.number}.html"'
    return answer


@pages.get("/m/<int:ident>/notes")
def all_notes(ident: int) -> str:
    store = designs()
    return _notes(store, store.get(ident))


@pages.post("/m/<int:ident>/notes")
def add_note(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    data = json_object()
    notes.add(store, design, data.get("on", []), data.get("at"), data.get("text"))
    return _notes(store, design)


@pages.post("/m/<int:ident>/notes/<int:number>")
def change_note(ident: int, number: int) -> str:
    """text: an answer; state: open or settled."""
    store = designs()
    design = store.get(ident)
    data = json_object()
    notes.change(store, design, number, data.get("text"), data.get("state"))
    return _notes(store, design)


@pages.post("/m/<int:ident>/verdict")
def verdict(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    notes.judge(store, design, str(json_object().get("what")))
    return _notes(store, design)


@pages.post("/m/<int:ident>/package")
def package(ident: int) -> str:
    """What is missing before parts go to a supplier."""
    store = designs()
    head = store.head(store.get(ident))
    parts = ids("parts", {"parts": str(json_object().get("parts", ""))})
    lacks: list[dict[str, Any]] = []
    why = ""
    try:
        lacks = store.study(head, "package missing", parts=parts)
    except EditError as error:
        why = str(error)
    return render_template("fragments/missing.html", lacks=lacks, why=why)
