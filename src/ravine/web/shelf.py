"""The shelf beside the view at the stages Bring in and Assemble: what there is by words and kind."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, Response, current_app, render_template, request

from ravine.core.shelf.items import Item, item_of, search
from ravine.service.supply import SupplierAway

from .words import designs

pages = Blueprint("shelf", __name__)
SHOWN = 40
KINDS = {
    "screw": "screws", "nut": "nuts", "washer": "washers", "pin": "pins", "ring": "rings", "bearing": "bearings",
    "standoff": "standoffs", "gland": "cable glands", "connector": "connectors", "knob": "knobs", "spring": "springs",
    "profile": "profiles and tubes",
}  # fmt: skip


@dataclass
class ShelfRow:
    """A family, with the items of it that were found."""

    family: str
    title: str
    standard: str
    items: list[Item]


def rows_of(found: list[Item]) -> list[ShelfRow]:
    rows: dict[str, ShelfRow] = {}
    for item in found:
        family = item.family
        rows.setdefault(family.name, ShelfRow(family.name, family.title, family.standard, [])).items.append(item)
    return list(rows.values())


@pages.get("/m/<int:ident>/shelf")
def panel(ident: int) -> str:
    """text, kind: what is looked for; whole: with the frame around the list."""
    designs().get(ident)
    text, kind = request.args.get("text", "")[:80], request.args.get("kind", "")[:20]
    found, away = search(text, kind, limit=SHOWN + 1), False
    if text and not found:
        try:
            named = current_app.extensions["supply"].find(text, SHOWN + 1)
            found = [i for i in map(item_of, named) if kind in ("", i.family.kind)]
        except SupplierAway:
            away = True
    return render_template(
        "fragments/shelf.html", rows=rows_of(found[:SHOWN]), more=len(found) > SHOWN, text=text, kind=kind, kinds=KINDS,
        away=away, whole=bool(request.args.get("whole")),
    )  # fmt: skip


@pages.get("/m/<int:ident>/shelf/<item>")
def one(ident: int, item: str) -> str:
    """What an item looks like, its sizes by the letters of its table."""
    designs().get(ident)
    found = item_of(item)
    sizes = {key: value for key, value in found.row.items() if key not in ("shortest", "longest")}
    return render_template("fragments/shelf_item.html", item=found, sizes=sizes, ident=ident)


@pages.get("/m/<int:ident>/shelf/<item>.png")
def picture(ident: int, item: str) -> Response:
    store = designs()
    found = store.study(store.head(store.get(ident)), "shelf picture", item=item_of(item).id)
    answer = Response(found, mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer
