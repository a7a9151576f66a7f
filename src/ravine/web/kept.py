"""Views and measures that stay with a model."""

from __future__ import annotations

import json
from typing import Any

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue

from ravine.service import kept
from ravine.service.rows import Design, Kept

from .asked import json_object
from .words import designs

pages = Blueprint("kept", __name__)


@pages.post("/m/<int:ident>/kept")
def keep(ident: int) -> ResponseReturnValue:
    raw = json_object()
    known = designs()
    row = kept.keep(known.owner, known.get(ident), str(raw.get("kind")), raw.get("name"), raw.get("data"))
    return jsonify(id=row.id, name=row.name)


@pages.get("/m/<int:ident>/kept/<int:number>")
def show(ident: int, number: int) -> ResponseReturnValue:
    known = designs()
    row = kept.find(known.owner, known.get(ident), number)
    return jsonify(id=row.id, name=row.name, data=json.loads(row.data))


@pages.post("/m/<int:ident>/kept/<int:number>/name")
def rename(ident: int, number: int) -> ResponseReturnValue:
    known = designs()
    row = kept.find(known.owner, known.get(ident), number)
    kept.rename(row, request.form.get("name", ""))
    return "", 204


@pages.post("/m/<int:ident>/kept/<int:number>/drop")
def drop(ident: int, number: int) -> ResponseReturnValue:
    known = designs()
    kept.drop(known.owner, known.get(ident), number)
    return "", 204


def pinned(design: Design) -> tuple[list[Kept], list[dict[str, Any]]]:
    """What is pinned to a model: the rows, and what each of them measures."""
    rows = kept.kept(design, "pin")
    return rows, [json.loads(row.data) for row in rows]


def labelled(design: Design, found: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Measures taken, with the number and the label of the pin of each."""
    rows, data = pinned(design)
    return [
        {**pin, "id": row.id, "label": d.get("label", "")} for row, d, pin in zip(rows, data, found, strict=False)
    ]  # fmt: skip


@pages.get("/m/<int:ident>/pins")
def pins(ident: int) -> ResponseReturnValue:
    """All pinned measures as the head has them."""
    store = designs()
    design = store.get(ident)
    _, data = pinned(design)
    return jsonify(labelled(design, store.study(store.head(design), "pins", pins=data) if data else []))
