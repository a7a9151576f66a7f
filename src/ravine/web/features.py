"""Features of a part beside the view at the stage Shape."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from ravine.core.model.records import ASIDE, DIMENSIONS
from ravine.core.model.snapshot import Snapshot

from .words import designs

pages = Blueprint("features", __name__)
TITLES = {
    "hole": "Holes", "slot": "Slots", "pocket": "Pockets", "step": "Steps", "groove": "Grooves", "boss": "Bosses",
    "rib": "Ribs", "fillet": "Rounds", "chamfer": "Chamfers", "cluster": "Clusters",
}  # fmt: skip
LAYOUTS = {"row": "in a row", "grid": "in a grid", "around": "around an axis", "mirrored": "a pair", "alike": "alike"}


@dataclass
class SizeShown:
    """value: as the field shows it; set: whether it can be set."""

    name: str
    words: str
    value: str
    set: bool


@dataclass
class FeatureRow:
    """Features of one kind, form and sizes; faces: of all; ones: the faces and the place of each; words: all
    of it in one line."""

    title: str
    words: str
    sizes: list[SizeShown]
    note: str
    faces: list[str]
    first: list[str]
    ones: list[tuple[list[str], str]]


def kind_rows(found: dict[str, Any]) -> dict[str, list[FeatureRow]]:
    """By title of the kind."""
    layouts = {m: _layout(r) for r in found["repeats"] for m in r["members"]}
    groups: dict[tuple, list[dict[str, Any]]] = {}
    for item in found["features"]:
        key = item["kind"], item["form"], tuple((n, f"{v:.6g}") for n, v in item["sizes"].items())
        groups.setdefault(key, []).append(item)
    rows: dict[str, list[FeatureRow]] = {}
    for (kind, form, sizes), items in groups.items():
        told = {layouts[i["number"]] for i in items if i["number"] in layouts}
        notes = [*items[0]["notes"], *sorted(told - {LAYOUTS["alike"]})]
        if items[0]["other"]:
            notes.append(f"or a {items[0]['other']}")
        shown = [SizeShown(n, n.replace("_", " "), v, n in items[0]["settable"]) for n, v in sizes]
        title = f"{len(items)} × {form or _one(kind)}" if len(items) > 1 else form or _one(kind)
        ones = [(list(i["faces"]), ", ".join(f"{v:.5g}" for v in i["place"])) for i in items]
        called = f"{_one(kind)}, {form}" if form else _one(kind)
        words = f"{called.capitalize()}, " + ", ".join(f"{s.words} {s.value}" for s in shown)
        words += f", one of {len(items)}" if len(items) > 1 else ""
        row = FeatureRow(title, words, shown, "; ".join(notes), [f for i in items for f in i["faces"]],
                         [i["faces"][0] for i in items], ones)  # fmt: skip
        rows.setdefault(TITLES[kind], []).append(row)
    return rows


def _one(kind: str) -> str:
    return {"fillet": "round"}.get(kind, kind)


def _layout(repeat: dict[str, Any]) -> str:
    step = repeat["sizes"].get("step")
    return LAYOUTS[repeat["layout"]] + (f", {step:.5g} apart" if step is not None and repeat["layout"] == "row" else "")


def part_meant(snapshot: Snapshot, asked: str, hidden: frozenset[str]) -> str | None:
    """The part that is picked, else the only solid in sight; None where there are none or several."""
    shown = [o for o in snapshot.occurrences() if o.body.kind == "solid"]
    ids = [f"n{o.node.id}" for o in shown]
    if asked in ids:
        return asked
    left = [i for i in ids if i not in hidden]
    return left[0] if len(left) == 1 else None


@pages.get("/m/<int:ident>/dimensions")
def dimensions(ident: int) -> ResponseReturnValue:
    """Those kept on solids, as the head has them."""
    store = designs()
    revision = store.head(store.get(ident))
    known = store.snapshot(revision).kept(DIMENSIONS)
    return jsonify(store.study(revision, "dimensions") if known else [])


@pages.get("/m/<int:ident>/features")
def panel(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    snapshot = store.snapshot(revision)
    part = part_meant(snapshot, request.args.get("part", "")[:20], frozenset(store.hidden(design)))
    found = store.study(revision, "features", part=part) if part else None
    body = snapshot.nodes[int(part[1:])].body if part else None
    waiting = [record for record in snapshot.kept(ASIDE).values() if record.body == body]
    kinds = kind_rows(found) if found else {}
    return render_template(
        "fragments/features.html", part=part, name=found and found["name"], kinds=kinds, units=snapshot.units,
        waiting=waiting, several=len(snapshot.bodies) > 0,
    )  # fmt: skip


@pages.get("/m/<int:ident>/symmetry")
def symmetry(ident: int) -> str:
    """In words, asked for once the list stands."""
    store = designs()
    words: str = store.study(store.head(store.get(ident)), "symmetry", part=request.args.get("part", "")[:20])["words"]
    return f"{words[:1].upper()}{words[1:]}"
