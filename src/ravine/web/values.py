"""The table of named values beside the view at the stage Shape."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, render_template, request

from ravine.core.clearance.size_tolerance import CLASSES
from ravine.core.dimensions.table import ValueView, view_values
from ravine.core.model.records import TOLERANCES
from ravine.core.model.snapshot import Snapshot
from ravine.core.units import LENGTHS, editable_length, format_length

from .words import designs

pages = Blueprint("values", __name__)
KINDS = {"dimension": "dimension on {0}", "sketch": "size in {0}", "value": "a value of its own"}


@dataclass
class ValueRow:
    """typed: what its input holds; shown: what it measures; off: what its formula gives, where that is another length;
    whose: where it comes from; own: whether it is nothing but a value."""

    name: str
    text: str
    typed: str
    shown: str
    off: str | None
    whose: str
    own: bool
    tolerance: str


def value_rows(snapshot: Snapshot) -> list[ValueRow]:
    written = {t.name: t.text for t in snapshot.kept(TOLERANCES).values()}
    return [_row(view, snapshot.units, written.get(view.name, "")) for view in view_values(snapshot)]


def _row(view: ValueView, units: str, tolerance: str) -> ValueRow:
    mm = view.value * LENGTHS[units]
    off = None if view.off is None else format_length(view.off * LENGTHS[units], units)
    whose = KINDS[view.kind].format(view.place)
    typed = view.text or editable_length(mm, units)
    return ValueRow(view.name, view.text, typed, format_length(mm, units), off, whose, view.kind == "value",
                    tolerance)  # fmt: skip


@pages.get("/m/<int:ident>/values")
def panel(ident: int) -> str:
    store = designs()
    rows = value_rows(store.snapshot(store.head(store.get(ident))))
    return render_template("fragments/values.html", rows=rows, ident=ident, classes=CLASSES)


@pages.get("/m/<int:ident>/chain")
def chain(ident: int) -> str:
    """What toleranced sizes add up to, beside their table."""
    store = designs()
    revision = store.head(store.get(ident))
    asked = {"formula": request.args.get("formula", ""), "general": request.args.get("general", "m")}
    found = store.study(revision, "tolerance chain", **asked)
    return render_template("fragments/chain.html", chain=found, units=store.snapshot(revision).units, **asked)
