"""The bill of materials on a page of its own: edited in place, saved as files, and ordered from."""

from __future__ import annotations

import contextlib
from dataclasses import asdict
from typing import Any

from flask import Blueprint, Response, current_app, jsonify, render_template, request

from ravine.core import EditError
from ravine.core.bill.lots import Lot
from ravine.core.bill.rows import LEVELS
from ravine.core.model.materials import MATERIALS
from ravine.core.model.part_data import SOURCES
from ravine.core.model.records import PARTS
from ravine.core.units import format_mass
from ravine.service.designs import Designs
from ravine.service.orders import orders_of, send, send_again
from ravine.service.rows import Revision
from ravine.service.supply import SupplierAway, Supply

from .asked import json_object, whole
from .words import designs

pages = Blueprint("bill", __name__)
FILES = {
    "csv": "text/csv; charset=utf-8", "json": "application/json", "pdf": "application/pdf",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}  # fmt: skip


def _supply() -> Supply:
    found: Supply = current_app.extensions["supply"]
    return found


@pages.get("/m/<int:ident>/bill")
def show(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    level = request.args.get("level", LEVELS[0])
    rows: list[dict[str, Any]] = store.study(revision, "bill", level=level)
    snapshot = store.snapshot(revision)
    items = {f"b{body}": data.item for body, data in snapshot.kept(PARTS).items()}
    return render_template(
        "bill.html", design=design, revision=revision, level=level, rows=rows, items=items, sources=SOURCES,
        told=_told(rows),
        materials=list(MATERIALS), orders=orders_of(design), files=list(FILES),
    )  # fmt: skip


@pages.get("/m/<int:ident>/bill.<kind>")
def file(ident: int, kind: str) -> Response:
    """level, columns, lot and spares: as on the page; a lot is priced by what makers offer at its quantities."""
    if kind not in FILES:
        raise EditError(f"a bill is saved as {', '.join(FILES)}", field="kind")
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    values: dict[str, Any] = {"level": request.args.get("level", LEVELS[0]), "kind": kind, "title": design.name}
    if "columns" in request.args:
        values["columns"] = request.args["columns"].split()
    if "lot" in request.args:
        prices: dict[str, float] = {}
        with contextlib.suppress(SupplierAway):  # what is said of the parts themselves is still written
            offered = _offers(store, revision).items()
            prices = {body: row["offers"][0]["price"] for body, row in offered if row["offers"]}
        count, spares = _lot()
        values["lot"] = {"count": count, "spares": spares, "prices": prices}
    data = store.study(revision, "bill file", **values)
    name = "".join(c if c.isalnum() or c in " -_" else "_" for c in design.name)
    headers = {"Content-Disposition": f"attachment; filename=\"bill.{kind}\"; filename*=UTF-8''{_quoted(name)}.{kind}"}
    return Response(data, mimetype=FILES[kind], headers=headers)


def _told(rows: list[dict[str, Any]]) -> str:
    """What they are all together, as far as it is known: parts, not groups, of a flat bill."""
    counted = [r for r in rows if r["body"] and r["source"] != "reference"]
    pieces, unknown = sum(r["quantity"] for r in counted), sum(r["quantity"] for r in counted if r["mass"] is None)
    mass = format_mass(sum(r["quantity"] * r["mass"] for r in counted if r["mass"] is not None))
    return f"{pieces} pieces, {mass}" + (f" without {unknown} of unknown mass" if unknown else "")


def _quoted(text: str) -> str:
    from urllib.parse import quote

    return quote(f"{text} bill")


@pages.get("/m/<int:ident>/offers")
def offers(ident: int) -> Response:
    """By body, for a lot and spares (%): how many are needed, what makers offer, best first; or why the supplier
    is away."""
    store = designs()
    try:
        return jsonify({"away": "", "rows": _offers(store, store.head(store.get(ident)))})
    except SupplierAway as error:
        return jsonify({"away": str(error), "rows": {}})


def _lot() -> tuple[int, int]:
    return whole(request.args, "lot"), whole(request.args, "spares")


def _offers(store: Designs, revision: Revision) -> dict[str, dict[str, Any]]:
    """Raises SupplierAway."""
    lot = Lot(*_lot())
    known = {f"b{body}": data for body, data in store.snapshot(revision).kept(PARTS).items()}
    rows = [r for r in store.study(revision, "bill") if r["body"] in known and known[r["body"]].item]
    found = _supply().offers(known[r["body"]].item for r in rows)
    told = {}
    for row in rows:
        data = known[row["body"]]
        count = lot.needed(row["quantity"], row["source"])
        told[row["body"]] = {"quantity": count, "offers": _ranked(found.get(data.item, []), count, data.stock_number)}
    return told


def _ranked(offers_: list[dict[str, Any]], count: int, chosen: str) -> list[dict[str, Any]]:
    """What is chosen by its stock number first, then what is there in full, then by price."""
    priced = [{**o, "price": _price(o, count), "enough": o["stock"] >= count} for o in offers_]
    return sorted(priced, key=lambda o: (o["stock_number"] != chosen, not o["enough"], o["price"]))


def _price(offer: dict[str, Any], count: int) -> float:
    fit = [price for least, price in offer["prices"] if count >= least]
    return float(fit[-1] if fit else offer["prices"][0][1])


@pages.post("/m/<int:ident>/orders")
def order(ident: int) -> Response:
    """key: a new one for each order that the page begins; lines: stock number, item and quantity."""
    told = json_object()
    store = designs()
    lines: Any = told.get("lines")
    return jsonify(asdict(send(store, store.get(ident), _supply(), str(told.get("key", ""))[:80], lines)))


@pages.post("/m/<int:ident>/orders/<key>")
def again(ident: int, key: str) -> Response:
    store = designs()
    return jsonify(asdict(send_again(store, store.get(ident), _supply(), key[:80])))
