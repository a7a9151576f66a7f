"""Printing beside the view at the stage Prove: what will not print, which way up, layers, the file, the service."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, render_template, request

from ravine.core import EditError
from ravine.core.model.snapshot import Snapshot, text_id

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
