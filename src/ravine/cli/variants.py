"""Rows of a table tried on a file, for `./ravine run … --variants TABLE`."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ravine.core import Model
from ravine.core.edits.fields import Context, TableField
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from ravine.engine.variants import try_rows

FIGURES = ("volume", "mass", "wall", "size", "why")


def read_table(path: Path, model: Model) -> list[dict[str, str]]:
    """Names in the first line; commas, semicolons or tabs between.  Raises RavineError."""
    text = path.read_text(encoding="utf-8-sig")
    if ";" not in text and "\t" not in text:
        text = text.replace(",", ";")
    return list(TableField("the rows", "").read(text, Context(model.snapshot)))


def tried(model: Model, rows: list[dict[str, str]]) -> list[dict[str, Any]]:
    """Each on the model as it is, on all cores."""
    address, state = model.snapshot.stored()
    blobs = {address: state, **{b.shape: model.geometry.blob(b.shape) for b in model.snapshot.bodies.values()}}
    engine = LocalEngine(Settings())
    try:
        return try_rows(engine, address, blobs.__getitem__, rows)
    finally:
        engine.close()


def as_table(rows: list[dict[str, str]], found: list[dict[str, Any]], units: str) -> str:
    names = list(dict.fromkeys(n for row in rows for n in row))
    head = [*names, "works", f"volume {units}3", "mass kg", f"wall {units}", f"size {units}", "why not"]
    lines = [";".join(head)]
    for row, one in zip(rows, found, strict=True):
        figures = [_cell(one.get(name)) for name in FIGURES]
        lines.append(";".join([*(row.get(n, "") for n in names), "yes" if one["works"] else "no", *figures]))
    return "\n".join(lines) + "\n"


def _cell(value: Any) -> str:
    if isinstance(value, list):
        return " x ".join(f"{v:.6g}" for v in value)
    return "" if value is None else f"{value:.9g}" if isinstance(value, float) else str(value).replace(";", ",")
