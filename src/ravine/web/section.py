"""The section: what it cuts, the plane that a pick gives, areas, and the width at the pointer."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, render_template, request

from ravine.service.designs import Designs

from .asked import ids, numbers
from .words import designs

pages = Blueprint("section", __name__)


def _plane() -> list[float]:
    return numbers(request.args.get("plane", ""), 6)


def _cut_study(store: Designs, ident: int, name: str, **values: Any) -> Any:
    """Of the head, as the person sees it: without what is hidden."""
    design = store.get(ident)
    return store.study(store.head(design), name, plane=_plane(), hidden=store.hidden(design), **values)


@pages.get("/m/<int:ident>/cut")
def cut(ident: int) -> Response:
    store = designs()
    return Response(_cut_study(store, ident, "cut"), mimetype="application/x-ravine")


@pages.get("/m/<int:ident>/plane")
def plane(ident: int) -> dict:
    """Through what is picked."""
    store = designs()
    picked = ids("picked", request.args)
    return {"plane": store.study(store.head(store.get(ident)), "plane through", picked=picked)}


@pages.get("/m/<int:ident>/cut/facts")
def facts(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    units = store.snapshot(store.head(design)).units
    return render_template("fragments/section.html", parts=_cut_study(store, ident, "section facts"), units=units)


@pages.get("/m/<int:ident>/cut/width")
def width(ident: int) -> dict:
    store = designs()
    return {"width": _cut_study(store, ident, "section width", at=numbers(request.args.get("at", ""), 2))}
