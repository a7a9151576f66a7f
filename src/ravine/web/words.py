"""Filters and lists that the templates share."""

from __future__ import annotations

import datetime
import json
from dataclasses import asdict
from typing import Any

from flask import Flask, current_app, g

from ravine.core.edits.exchange.import_file import ImportFile
from ravine.core.formats import ENDINGS
from ravine.core.model.finishes import SURFACES
from ravine.core.units import format_area, format_length, format_mass, format_volume
from ravine.service.designs import Designs
from ravine.service.jobs.rows import title

from . import guide

STAGES = list(guide.STAGES)


def designs() -> Designs:
    """The models of the person behind this request."""
    return current_app.extensions["designs"].seen_by(g.person)


def fact_text(fact: dict[str, Any], units: str) -> str:
    """`+7130 mm³`, `joins Lid`, `3 parts`."""
    value, quantity = fact["value"], fact["quantity"]
    if quantity == "volume":
        return format_volume(value, units, signed=True) if value else f"0 {units}³"
    if fact["quantity"] == "area":
        return f"{fact['label']} {format_area(value, units)}"
    if quantity == "mass":
        return format_mass(value, signed=True)
    if quantity == "length":
        return f"{fact['label']} {format_length(value, units)}"
    if quantity == "count":
        count = int(value)
        return f"{count} {fact.get('one') or fact['label'].removesuffix('s') if count == 1 else fact['label']}"
    return f"{fact['label']} {value}"


def ago(moment: datetime.datetime) -> str:
    seconds = (datetime.datetime.now(datetime.UTC).replace(tzinfo=None) - moment).total_seconds()
    for limit, size, word in ((3600, 60, "minute"), (86400, 3600, "hour"), (1e12, 86400, "day")):
        if seconds < limit:
            count = int(seconds // size)
            if word == "minute" and count == 0:
                return "just now"
            return f"{count} {word}{'s' if count != 1 else ''} ago"
    return ""


def register(app: Flask) -> None:
    app.add_template_filter(fact_text)
    app.add_template_filter(ago)
    app.add_template_filter(format_mass, "mass")
    app.add_template_filter(format_area, "area")
    app.add_template_filter(format_volume, "volume")
    app.add_template_filter(format_length, "length_in")
    app.add_template_filter(span_in)
    app.add_template_filter(json.loads, "from_json")
    app.add_template_filter(title, "job_title")
    app.add_template_global(STAGES, "stages")
    app.add_template_global(guide.STAGES, "stage_words")
    app.add_template_global({name: asdict(surface) for name, surface in SURFACES.items()}, "surfaces")
    how = {name: field for name, field in ImportFile.fields().items() if name in ("what", "tree", "heal", "widest")}
    app.add_template_global(how, "import_fields")
    app.add_template_global(",".join(f".{e}" for e in ENDINGS), "file_endings")


def span_in(low: float, high: float, units: str) -> str:
    """Two lengths (mm) with the unit once."""
    return f"{format_length(low, units).removesuffix(f' {units}')} to {format_length(high, units)}"
