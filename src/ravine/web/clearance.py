"""Room between parts, and fits, beside the view."""

from __future__ import annotations

from flask import Blueprint, Response, render_template, request

from ravine.core import EditError
from ravine.core.model.accepted import KINDS

from .asked import ids
from .words import designs

pages = Blueprint("clearance", __name__)


@pages.get("/m/<int:ident>/clearance")
def panel(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    head = store.head(design)
    units = store.snapshot(head).units
    within = request.args.get("within") or f"1 {units}"
    found = store.study(head, "clearance", within=within, hidden=store.hidden(design))
    return render_template("fragments/clearance.html", units=units, within=within, **found)


@pages.get("/m/<int:ident>/standing")
def standing(ident: int) -> str:
    """The standing check, whose count is told at the foot of the page; fits: with the shafts in holes."""
    store = designs()
    head = store.head(store.get(ident))
    units = store.snapshot(head).units
    least = request.args.get("least") or "0.2 mm"
    found = store.study(head, "standing check", least=least)
    open_ = sum(not f["note"] for f in found["findings"])
    rows = store.study(head, "fits of all") if request.args.get("fits") else []
    return render_template(
        "fragments/standing.html", units=units, least=least, open=open_, kinds=KINDS, fits=rows, **found
    )


@pages.get("/m/<int:ident>/overlap")
def overlap(ident: int) -> Response:
    store = designs()
    nodes = ids("nodes", request.args)
    return Response(
        store.study(store.head(store.get(ident)), "overlap", nodes=nodes), mimetype="application/octet-stream"
    )


@pages.get("/m/<int:ident>/fits")
def fits(ident: int) -> str:
    store = designs()
    picked = ids("picked", request.args)
    try:
        fit = store.study(store.head(store.get(ident)), "fits", picked=picked)
    except EditError:
        return ""  # asked of any two round faces that are picked; two holes have none to tell
    return render_template("fragments/fits.html", fit=fit)
