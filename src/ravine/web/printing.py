"""Printing beside the view at the stage Prove: what will not print, which way up, layers, the file, the service."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Blueprint, Response, current_app, jsonify, render_template, request

from ravine.core import EditError
from ravine.core.model.snapshot import Snapshot, text_id
from ravine.service.orders import orders_of, send, send_again
from ravine.service.supply import PrintShop, SupplierAway

from .asked import json_object
from .words import designs

pages = Blueprint("printing", __name__)


def _asked(snapshot: Snapshot, part: str) -> str | None:
    """The picked part, else the only one that can be printed."""
    shown = [o for o in snapshot.occurrences() if o.body.kind in ("solid", "mesh")]
    for place in shown:
        if text_id("node", place.node.id) == part:
            return part
    return text_id("node", shown[0].node.id) if len({o.body.id for o in shown}) == 1 and shown else None


@pages.get("/m/<int:ident>/printing")
def panel(ident: int) -> str:
    """part: a place in the tree; ways: whether the best ways up are asked for."""
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    part = _asked(snapshot, request.args.get("part", "")[:13])
    found: dict[str, Any] | None = None
    ways: list[dict[str, Any]] = []
    why = ""
    if part is not None:
        try:
            found = store.study(revision, "print check", part=[part])
            if request.args.get("ways"):
                ways = store.study(revision, "orientations", part=[part])
        except EditError as error:
            why = str(error)
    name = snapshot.nodes[int(part[1:])].name if part else ""
    return render_template(
        "fragments/printing.html", part=part, name=name, found=found, ways=ways, why=why, units=snapshot.units
    )


def _shop() -> PrintShop:
    found: PrintShop = current_app.extensions["printshop"]
    return found


@pages.post("/m/<int:ident>/print/quotes")
def quotes(ident: int) -> Response:
    """part, quantity: the mesh goes to the service, which looks at it and says what it asks."""
    told = json_object()
    store = designs()
    part, quantity = str(told.get("part", ""))[:13], told.get("quantity")
    if not isinstance(quantity, int) or not 0 < quantity <= 10_000:
        raise EditError("from 1 to 10000 pieces", field="quantity")
    mesh = store.study(store.head(store.get(ident)), "print mesh", part=[part])
    try:
        looked = _shop().upload(mesh)
        rows = [] if looked["problems"] else _shop().quotes(looked["upload"], quantity)
    except SupplierAway as error:
        return jsonify({"away": str(error), "quotes": []})
    return jsonify({"away": "", "looked": looked, "quotes": rows})


@pages.post("/m/<int:ident>/print/orders")
def order(ident: int) -> Response:
    """key: a new one for each order that the page begins; lines: upload, choice and quantity."""
    told = json_object()
    store = designs()
    design = store.get(ident)
    return jsonify(asdict(send(store, design, _shop(), str(told.get("key", ""))[:80], told.get("lines", []))))


@pages.post("/m/<int:ident>/print/orders/<key>")
def again(ident: int, key: str) -> Response:
    store = designs()
    return jsonify(asdict(send_again(store, store.get(ident), _shop(), key[:80])))


@pages.get("/m/<int:ident>/print/orders")
def ordered(ident: int) -> Response:
    """Of this model, with what they have come to by now."""
    store = designs()
    rows = [asdict(o) for o in orders_of(store.get(ident)) if o.answer.get("maker")]
    for row in rows:
        try:
            row["state"] = _shop().standing(row["key"])["state"]
        except SupplierAway as error:
            row["words"] = str(error)
    return jsonify(rows)
