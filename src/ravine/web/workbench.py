"""The workbench: its page, its side panels, and stepping through the journal."""

from __future__ import annotations

import json
from dataclasses import dataclass

from flask import Blueprint, Response, jsonify, render_template, request

from ravine.core import EditError
from ravine.core.model.records import EXPLOSIONS
from ravine.core.model.snapshot import Node, Snapshot, text_id
from ravine.service import kept
from ravine.service.designs import Designs
from ravine.service.jobs import open_jobs, seen
from ravine.service.links import Standing, standings
from ravine.service.rows import Design, Revision

from .asked import ids, json_object, whole
from .words import STAGES, designs

pages = Blueprint("workbench", __name__)


@dataclass
class PartRow:
    """One line of the parts list; equal siblings share a line and are counted."""

    id: str
    ids: list[str]
    name: str
    depth: int
    quantity: int
    mass: float | None
    material: str | None
    locked: bool
    group: bool
    leaves: list[str]
    link: Standing | None = None


def part_rows(
    snapshot: Snapshot, masses: dict[str, float | None], links: dict[int, Standing] | None = None
) -> list[PartRow]:
    rows: list[PartRow] = []
    linked = snapshot.linked

    def visit(numbers: tuple[int, ...], depth: int) -> None:
        alike: dict[object, list[Node]] = {}
        for number in numbers:
            node = snapshot.nodes[number]
            alike.setdefault((node.body, node.name) if node.body is not None else number, []).append(node)
        for nodes in alike.values():
            first = nodes[0]
            body = snapshot.bodies[first.body] if first.body is not None else None
            leaves = [text_id("node", leaf) for n in nodes for leaf in snapshot.leaves_below(n.id)]
            ids = [text_id("node", n.id) for n in nodes]
            rows.append(
                PartRow(ids[0], ids, first.name, depth, len(nodes), masses.get(ids[0]), body.material if body else None,
                        bool(body and body.locked and body.id not in linked), body is None, leaves,
                        (links or {}).get(first.id))
            )  # fmt: skip
            visit(first.children, depth + 1)

    visit(snapshot.roots, 0)
    return rows


def view_rows(store: Designs, design: Design) -> list[dict]:
    """What is kept of the model to look at, and what each holds besides the place of the eye."""
    rows = []
    for row in kept.kept(design, "view"):
        data = json.loads(row.data)
        holds = [word for word in ("section", "hidden", "picked") if data.get(word)]
        rows.append({"id": row.id, "name": row.name, "holds": ", ".join(holds) or "the eye", "eye": "camera" in data})
    return rows


def panel_data(store: Designs, design: Design, revision: Revision) -> dict:
    snapshot = store.snapshot(revision)
    masses = store.study(revision, "masses") if snapshot.roots else {}
    path = store.journal(design)
    place = next((i for i, row in enumerate(path) if row.id == revision.id), len(path) - 1)
    return {
        "design": design,
        "revision": revision,
        "snapshot": snapshot,
        "rows": part_rows(snapshot, masses, standings(store, snapshot)),
        "hidden": set(store.hidden(design)),
        "apart": {name: len(e.steps) for name, e in snapshot.kept(EXPLOSIONS).items()},
        "views": view_rows(store, design),
        "journal": path,
        "place": place,
    }


def _stage(name: str | None) -> str:
    return name if name in STAGES else "Shape"


@pages.get("/m/<int:ident>")
def show(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    jobs = open_jobs(design)
    snapshot = store.snapshot(revision)
    stage = "Shape" if snapshot.roots or snapshot.sketches or jobs else "Bring in"
    return render_template(
        "workbench.html", stage=stage, jobs=jobs, pick=[], description=store.describe(revision, [], stage),
        **panel_data(store, design, revision),
    )  # fmt: skip


@pages.get("/m/<int:ident>/panels")
def panels(ident: int) -> str:
    """Everything beside the view, for the newest state; swapped out of band."""
    store = designs()
    design = store.get(ident)
    return render_template("fragments/panels.html", **panel_data(store, design, store.head(design)))


@pages.post("/m/<int:ident>/pick")
def pick(ident: int) -> str:
    """The Actions panel for what is picked."""
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    picked = ids("picked", request.form)
    stage = _stage(request.form.get("stage"))
    try:
        found = store.describe(revision, picked, stage)
    except EditError:  # a thing that ended between the click and now: nothing is picked any more
        picked, found = [], store.describe(revision, [], stage)
    return render_template("fragments/actions.html", description=found, pick=picked, stage=stage)


@pages.post("/m/<int:ident>/hidden")
def hidden(ident: int) -> tuple[str, int]:
    store = designs()
    design = store.get(ident)
    snapshot = store.snapshot(store.head(design))
    known = {text_id("node", n) for n in snapshot.nodes} | {text_id("sketch", n) for n in snapshot.sketches}
    store.hide(design, [n for n in request.form.get("hidden", "").split(" ") if n in known])
    return "", 204


@pages.post("/m/<int:ident>/step")
def step(ident: int) -> Response:
    store = designs()
    design = store.get(ident)
    data = json_object()
    base = whole(data, "base")
    if "target" in data:
        revision = store.go_to(design, base, whole(data, "target"))
    else:
        revision = store.step(design, base, -1 if data.get("direction") == -1 else 1)
    return jsonify(revision=revision.id)


@pages.get("/m/<int:ident>/jobs")
def jobs(ident: int) -> str:
    design = designs().get(ident)
    return render_template("fragments/jobs.html", design=design, jobs=open_jobs(design))


@pages.post("/m/<int:ident>/jobs/<int:number>/seen")
def job_seen(ident: int, number: int) -> str:
    design = designs().get(ident)
    seen(design, number)
    return jobs(ident)
