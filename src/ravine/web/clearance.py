"""Room between parts, and fits, beside the view."""

from __future__ import annotations

from flask import Blueprint, Response, render_template, request

from ravine.core.units import parse_length

from .words import designs

pages = Blueprint("clearance", __name__)


@pages.get("/m/<int:ident>/clearance")
def panel(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    units = store.snapshot(store.head(design)).units
    within = request.args.get("within") or f"1 {units}"
    found = store.clearance(design, max(0.0, parse_length(within, units)))
    return render_template("fragments/clearance.html", units=units, within=within, **found)


@pages.get("/m/<int:ident>/overlap")
def overlap(ident: int) -> Response:
    store = designs()
    nodes = [n for n in request.args.get("nodes", "").split(" ") if n]
    return Response(store.overlap(store.get(ident), nodes), mimetype="application/octet-stream")


@pages.get("/m/<int:ident>/fits")
def fits(ident: int) -> str:
    store = designs()
    picked = [p for p in request.args.get("picked", "").split(" ") if p]
    return render_template("fragments/fits.html", fit=store.fits(store.get(ident), picked))
