"""Joints between parts beside the view at the stage Assemble, and what they leave free."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, render_template, request

from ravine.core.model.records import JOINTS, PARTS

from .words import designs

pages = Blueprint("joints", __name__)


@pages.get("/m/<int:ident>/joints")
def panel(ident: int) -> str:
    """part: whose freedoms are told as well."""
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    rows: list[dict[str, Any]] = store.study(revision, "joints") if snapshot.kept(JOINTS) else []
    asked = request.args.get("part", "")[:13]
    items = {body for body, data in snapshot.kept(PARTS).items() if data.item}
    bought = {f"n{o.node.id}" for o in snapshot.occurrences() if o.body.id in items}
    own = [row for row in rows if row["nodes"][0] not in bought]
    part = next((node for node in snapshot.nodes.values() if f"n{node.id}" == asked), None)
    free = store.study(revision, "freedoms", node=asked) if part is not None and rows else []
    joined = part is not None and any(
        f"n{n}" in row["nodes"] for row in rows for n in (part.id, *snapshot.leaves_below(part.id))
    )
    return render_template(
        "fragments/joints.html", own=own, bought=[r for r in rows if r not in own], part=part, free=free,
        joined=joined, units=snapshot.units, several=len(snapshot.occurrences()) > 1,
    )  # fmt: skip
