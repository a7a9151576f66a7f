"""The check-up beside the view at the stage Mend."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, render_template

from ravine.core.mending.findings import KINDS
from ravine.core.model.snapshot import Snapshot, text_id
from ravine.core.units import format_length

from .words import designs

pages = Blueprint("checkup", __name__)
MOST_PLACES = 200  # of one kind to go to


@dataclass
class KindRow:
    """One kind of finding as the panel shows it; nodes: places of the bodies that have it."""

    title: str
    count: int
    means: str
    parts: str
    size: str
    fix: str | None
    note: bool
    places: list[dict[str, Any]]
    where: list[str]
    nodes: list[str]


def kind_rows(snapshot: Snapshot, findings: list[dict[str, Any]]) -> list[KindRow]:
    rows = []
    for code, kind in KINDS.items():
        own = [f for f in findings if f["code"] == code]
        if not own:
            continue
        bodies = list(dict.fromkeys(int(f["body"][1:]) for f in own))
        names = [snapshot.bodies[b].name for b in bodies]
        sizes = sorted(f["size"] for f in own if f["size"] is not None)
        ends = dict.fromkeys(format_length(v, snapshot.units) for v in (sizes[:1] + sizes[-1:]))
        count = sum(f["count"] for f in own)
        rows.append(
            KindRow(
                kind.one if count == 1 else kind.many, count, kind.means,
                ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else ""),
                " to ".join(ends), kind.fix, kind.note,
                [{"at": f["place"], "where": f["where"], "size": f["size"]} for f in own[:MOST_PLACES]],
                [w for f in own for w in f["where"]],
                [text_id("node", o.node.id) for b in bodies for o in snapshot.occurrences(b)[:1]],
            )
        )  # fmt: skip
    return rows


@pages.get("/m/<int:ident>/checkup")
def panel(ident: int) -> str:
    store = designs()
    revision = store.head(store.get(ident))
    snapshot = store.snapshot(revision)
    kinds = kind_rows(snapshot, store.study(revision, "check up")) if snapshot.bodies else []
    nodes = list(dict.fromkeys(n for k in kinds if k.fix for n in k.nodes))
    total = sum(k.count for k in kinds if not k.note)
    return render_template("fragments/checkup.html", kinds=kinds, nodes=nodes, total=total, snapshot=snapshot)
