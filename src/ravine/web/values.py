"""The table of named values beside the view at the stage Shape."""

from __future__ import annotations

import math
from dataclasses import dataclass

from flask import Blueprint, render_template, request

from ravine.core.clearance.size_tolerance import CLASSES
from ravine.core.dimensions.table import ValueView, view_values
from ravine.core.model.records import TOLERANCES
from ravine.core.model.snapshot import Snapshot
from ravine.core.units import LENGTHS, editable_length, format_angle, format_length

from .words import designs

pages = Blueprint("values", __name__)
KINDS = {"dimension": "dimension on {0}", "sketch": "size in {0}", "value": "a value of its own"}


@dataclass
class ValueRow:
    """typed: what its input holds; shown: what it measures; off: what its formula gives, where that is something else;
    whose: where it comes from; own: whether it is nothing but a value; tolerance: none of an angle."""

    name: str
    text: str
    typed: str
    shown: str
    off: str | None
    whose: str
    own: bool
    tolerance: str | None


def value_rows(snapshot: Snapshot) -> list[ValueRow]:
    written = {t.name: t.text for t in snapshot.kept(TOLERANCES).values()}
    return [_row(view, snapshot.units, written.get(view.name, "")) for view in view_values(snapshot)]


def _row(view: ValueView, units: str, tolerance: str) -> ValueRow:
    def told(value: float) -> str:
        return format_angle(math.radians(value)) if view.angle else format_length(value * LENGTHS[units], units)

    off = None if view.off is None else told(view.off)
    whose = KINDS[view.kind].format(view.place)
    plain = f"{view.value:.6g}°" if view.angle else editable_length(view.value * LENGTHS[units], units)
    return ValueRow(view.name, view.text, view.text or plain, told(view.value), off, whose, view.kind == "value",
                    None if view.angle else tolerance)  # fmt: skip


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
