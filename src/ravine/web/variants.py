"""The page of variants: rows of values, tried on all cores, compared, taken over, saved."""

from __future__ import annotations

import io
import json
import zipfile

from flask import Blueprint, Response, render_template
from flask.typing import ResponseReturnValue

from ravine.core import EditError
from ravine.core.edits.fields import Context, TableField
from ravine.core.model.records import VARIANTS
from ravine.engine.wire import Progress
from ravine.service.connection import in_this_thread

from .asked import json_object
from .streamed import streamed
from .values import value_rows
from .words import designs

pages = Blueprint("variants", __name__)
MOST_FILES = 200  # rows that are saved at once
FIELD = TableField("the rows", "")


@pages.get("/m/<int:ident>/variants")
def show(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    snapshot = store.snapshot(revision)
    rows = [row for _, row in sorted(snapshot.kept(VARIANTS).items())]
    told = {"names": {r.name: r.shown for r in value_rows(snapshot)}, "rows": rows, "units": snapshot.units}
    return render_template("variants.html", design=design, revision=revision, told=told, names=list(told["names"]))


def _asked(ident: int) -> tuple:
    store = designs()
    revision = store.head(store.get(ident))
    rows = FIELD.read(json_object().get("rows"), Context(store.snapshot(revision)))
    if not rows:
        raise EditError("no row to try; write one, or make a range")
    return store, revision, [row or {} for row in rows]


@pages.post("/m/<int:ident>/variants/try")
def tried(ident: int) -> Response:
    """Each row's figures, in their order, with progress."""
    store, revision, rows = _asked(ident)

    def work(told: Progress, token: str) -> bytes:
        with in_this_thread():
            return json.dumps(store.variants(revision, rows, told, token)).encode()

    return streamed(store.engine, work)


@pages.post("/m/<int:ident>/variants/files")
def files(ident: int) -> ResponseReturnValue:
    """Those that work, as STEP in one archive, beside a table that says which is which and why others are missing."""
    store, revision, rows = _asked(ident)
    if len(rows) > MOST_FILES:
        raise EditError(f"{len(rows)} rows are too many for one archive; up to {MOST_FILES} are saved at once")

    def work(told: Progress, token: str) -> bytes:
        with in_this_thread():
            made = store.variants(revision, rows, told, token, "variant file")
        return archive(rows, made)

    return streamed(store.engine, work)


def archive(rows: list[dict[str, str]], made: list[bytes | dict]) -> bytes:
    out, table = io.BytesIO(), ["row;file;values;why not"]
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as whole:
        for number, (row, data) in enumerate(zip(rows, made, strict=True), 1):
            name = f"variant-{number:03}.step" if isinstance(data, bytes) else ""
            if isinstance(data, bytes):
                whole.writestr(name, data)
            values = ", ".join(f"{n} = {v}" for n, v in row.items())
            table.append(f"{number};{name};{values};{'' if isinstance(data, bytes) else data['why']}")
        whole.writestr("variants.csv", "\n".join(table))
    return out.getvalue()
