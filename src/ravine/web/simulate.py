"""Studies of strength beside the view at the stage Prove: what holds and loads them, and results with progress."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import Any

from flask import Blueprint, Response, jsonify, render_template, request

from ravine.core import EditError
from ravine.core.edits.fields import Context, TableField
from ravine.core.model.records import SIMULATIONS
from ravine.core.model.simulation import CONTACTS, LOADS, SUPPORTS, Condition, Simulation
from ravine.core.model.snapshot import Snapshot
from ravine.core.operations.study_report import report_pdf
from ravine.core.simulate import packed
from ravine.core.studies import find_study
from ravine.core.studies.simulation import MOST_ROUNDS
from ravine.core.units import format_length, format_quantity
from ravine.engine.wire import Progress
from ravine.service.connection import in_this_thread
from ravine.service.jobs import start_study
from ravine.service.jobs.simulate import standing, under_way
from ravine.service.results import kept_result
from ravine.service.rows import Design, Job, Revision

from .asked import json_object
from .streamed import streamed
from .words import designs

pages = Blueprint("simulate", __name__)
ROWS = TableField("the rows", "")
KINDS = {"pressure": "pressure", "moment": "moment", "heat": "power", "warmth": "temperature", "air": "temperature"}


@pages.get("/m/<int:ident>/simulations")
def panel(ident: int) -> str:
    store = designs()
    snapshot = store.snapshot(store.head(store.get(ident)))
    studies = [_told(snapshot, s) for s in snapshot.kept(SIMULATIONS).values()]
    driven = sorted(snapshot.named_sizes())
    return render_template("fragments/simulations.html", studies=studies, names=driven, units=snapshot.units)


def _told(snapshot: Snapshot, study: Simulation) -> dict[str, Any]:
    parts = [snapshot.nodes[n].name for n in study.nodes]
    size = "as large as fits" if study.size is None else f"up to {format_length(study.size, snapshot.units)}"
    conditions = [
        {"name": c.name, "supports": c.supports, "on": list(c.on), "words": _words(snapshot, c)}
        for c in study.conditions
    ]
    return {"name": study.name, "parts": parts, "conditions": conditions, "size": size,
            "contact": CONTACTS[study.contact] if len(parts) > 1 else "",
            "ready": any(c.supports for c in study.conditions)
            and any(not c.supports or c.kind == "displacement" or "temperature" in c.numbers for c in study.conditions),
            "held": any(c.supports for c in study.conditions)}  # fmt: skip


def _words(snapshot: Snapshot, condition: Condition) -> str:
    words = SUPPORTS.get(condition.kind) or LOADS[condition.kind]
    numbers = condition.numbers
    if condition.kind == "displacement":
        return "at " + ", ".join(
            f"{a.upper()} {format_length(numbers[a], snapshot.units)}" for a in "xyz" if a in numbers
        )
    if condition.kind == "cylindrical":
        free = [w for w in ("radial", "tangential", "axial") if not numbers.get(w, 1.0)]
        return words + (f", free: {', '.join(free)}" if free else "")
    if condition.kind in ("force", "bearing", "remote", "moment"):
        kind = KINDS.get(condition.kind, "force")
        amounts = [f"{format_quantity(numbers[a], kind)} {a.upper()}" for a in "xyz" if numbers.get(a)]
        return f"{words}: {', '.join(amounts)}"
    if condition.kind == "rotation":
        return f"{words}: {format_quantity(numbers['speed'], 'speed')}"
    if "amount" in numbers:
        return f"{words}: {format_quantity(numbers['amount'], KINDS[condition.kind])}"
    return words


def _values(told: Mapping[str, Any]) -> tuple[str, dict[str, Any]]:
    """Which study of studies/simulation.py, and its values, as a page asks for it."""
    called = str(told.get("called", ""))[:60]
    number = str(told.get("number", "1"))[:3]
    names = {"frequencies": "frequencies", "loose": "loose motion"}
    if (name := names.get(str(told.get("what")))) is not None:
        return name, {"called": called, "which": number}
    return "simulate", {"called": called, "rounds": number}


@pages.post("/m/<int:ident>/simulate")
def solve(ident: int) -> Response:
    """called, what (simulate, frequencies or loose), number (of rounds, or of the frequency or motion shown): a job."""
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    name, values = _values(json_object())
    find_study(name).read(values, Context(store.snapshot(revision)))
    return jsonify({"job": start_study(store, design, revision, name, values).id, "revision": revision.id})


@pages.get("/m/<int:ident>/simulate")
def solved(ident: int) -> Response:
    """The result where it is kept with the head, else as JSON how its job stands.  Without a number: of most rounds,
    else of the highest frequency looked at, else of what is under way for it."""
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    if "number" not in request.args:
        return _recalled(design, revision)
    name, values = _values(request.args)
    found = kept_result(design, revision, name, values)
    if found is not None:
        return Response(found, mimetype="application/octet-stream")
    job = standing(design, revision, name, values)
    return jsonify({"state": "none"} if job is None else _stands(job))


def _recalled(design: Design, revision: Revision) -> Response:
    for what in ("simulate", "frequencies"):
        for number in range(MOST_ROUNDS, 0, -1):
            found = kept_result(design, revision, *_values({**request.args, "what": what, "number": number}))
            if found is not None:
                return Response(found, mimetype="application/octet-stream")
    open_one = under_way(design, revision, str(request.args.get("called", ""))[:60])
    if open_one is None:
        return jsonify({"state": "none"})
    job, what, values = open_one
    return jsonify({**_stands(job), "what": what, "number": values.get("rounds") or values.get("which")})


def _stands(job: Job) -> dict[str, Any]:
    return {"state": job.state, "fraction": job.fraction, "words": job.words, "job": job.id}


@pages.get("/m/<int:ident>/simulate/report")
def report(ident: int) -> Response:
    """called: the study; of the result of most rounds that is kept with the head."""
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    snapshot = store.snapshot(revision)
    study = snapshot.kept(SIMULATIONS).get(request.args.get("called", "")[:60])
    if study is None:
        raise EditError("there is no such study")
    for number in range(MOST_ROUNDS, 0, -1):
        found = kept_result(design, revision, "simulate", {"called": study.name, "rounds": str(number)})
        if found is not None:
            title = f"{design.name}, revision {revision.number}"
            data = report_pdf(snapshot, study, packed.head_of(found), title)
            stem = re.sub(r"[^\w.() -]+", "_", f"{design.name} {study.name}")
            return Response(data, mimetype="application/pdf",
                            headers={"Content-Disposition": f'attachment; filename="{stem}.pdf"'})  # fmt: skip
    raise EditError("this study is not solved for the model as it is now")


@pages.post("/m/<int:ident>/simulate/variants")
def variants(ident: int) -> Response:
    """Figures of a study for each row of values, in their order, on all cores, with progress."""
    store = designs()
    revision = store.head(store.get(ident))
    asked = json_object()
    rows = ROWS.read(asked.get("rows"), Context(store.snapshot(revision)))
    if not rows:
        raise EditError("no row to try; write one, or make a range")
    called = str(asked.get("called", ""))[:60]

    def work(told: Progress, token: str) -> bytes:
        with in_this_thread():
            found = store.variants(revision, [r or {} for r in rows], told, token, "simulated variant", called=called)
        return json.dumps(found).encode()

    return streamed(store.engine, work)
