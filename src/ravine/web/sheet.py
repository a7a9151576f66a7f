"""Sheet metal beside the view at the stage Sheet: how a part reads, and its flat."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, render_template, request

from ravine.core import EditError
from ravine.core.model.records import SHEETS
from ravine.core.model.snapshot import Snapshot, text_id
from ravine.service.designs import Designs
from ravine.service.rows import Revision

from .words import designs

pages = Blueprint("sheet", __name__)
MENDABLE = ("round", "square", "thickness", "wedge", "axis", "kink")


def _asked(snapshot: Snapshot, on: str) -> str | None:
    """What is picked; else a part that was taken as sheet; else the only solid."""
    if on:
        return on
    solids = [o for o in snapshot.occurrences() if o.body.kind == "solid"]
    known = [o for o in solids if o.body.id in snapshot.kept(SHEETS)]
    chosen = known or (solids if len({o.body.id for o in solids}) == 1 else [])
    return text_id("node", chosen[0].node.id) if chosen else None


def _stock(store: Designs, revision: Revision, on: str) -> dict[str, Any] | None:
    """What a usual stock sheet gives; None where not one blank fits."""
    try:
        return store.study(revision, "blanks", on=[on])
    except EditError:
        return None


@pages.get("/m/<int:ident>/sheet")
def panel(ident: int) -> str:
    """on: a face, edge or part.  Both the panel and the flat."""
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    on = _asked(snapshot, request.args.get("on", "")[:26])
    flat, why, data, shop, stock = None, "", None, None, None
    if on is not None:
        try:
            flat = store.study(revision, "flat", on=[on])
            shop = store.study(revision, "sheet checks", on=[on])
            stock = _stock(store, revision, on)
        except EditError as error:
            why = str(error)
    if flat is not None:
        data = snapshot.kept(SHEETS).get(int(flat["body"][1:]))
    return render_template(
        "fragments/sheet.html",
        on=on,
        flat=flat,
        why=why,
        data=data,
        units=snapshot.units,
        mendable=MENDABLE,
        shop=shop,
        stock=stock,
    )
