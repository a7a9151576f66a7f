"""./ravine run RECIPE FILES…: the same edits as on the page, without a screen, over many files.

A recipe is JSON: {"steps": [{"edit": "push", "faces": {"kind": "plane", "normal": [0, 0, 1], "take": "highest"},
"distance": "2 mm"}, …]}.  Faces are asked for as in the scripting interface; parts are "all" or names.  Results lie
beside each file, or in --out; the report says what was done to each.  With --variants, rows of named values (which the
recipe's dimensions have made) are tried on it, on all cores, and their figures written as a table.
"""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from ravine.core import EditError, Model, RavineError
from ravine.core.edits import find_edit
from ravine.core.edits.fields import PickField

from . import variants

FACES = {"kind", "normal", "radius", "axis", "take"}
EDGES = {"kind", "radius", "length", "direction", "convexity", "take"}
PARTS = {"name", "material", "kind", "take"}
TAKES = {"face": ("highest", "largest"), "edge": ("highest", "longest"), "node": ("largest",)}


def _asked_for(model: Model, element: str, asked: dict[str, Any]) -> list[str]:
    """Ids of the faces, edges or parts with these properties.  Raises EditError where none fits."""
    known = {"face": FACES, "edge": EDGES, "node": PARTS}[element]
    unknown = set(asked) - known
    what = {"face": "faces", "edge": "edges", "node": "parts"}[element]
    if unknown:
        raise EditError(f"{what} are asked for by {', '.join(sorted(known))}, not by “{sorted(unknown)[0]}”")
    criteria = {k: v for k, v in asked.items() if k != "take"}
    found: Any = {"face": model.faces, "edge": model.edges, "node": model.parts}[element](None, **criteria)
    take = asked.get("take", "all")
    if not found:
        raise EditError(f"no {what[:-1]} matches {json.dumps(asked)}")
    if take == "all":
        return found.ids
    if take in TAKES[element]:
        return [getattr(found, take)().id]
    raise EditError(f"take is all, {' or '.join(TAKES[element])} for {what}, not “{take}”")


def _resolve(model: Model, step: dict[str, Any]) -> dict[str, Any]:
    """Raw values of one step: what is asked for by properties becomes ids of this model."""
    values = {k: v for k, v in step.items() if k != "edit"}
    for name, field in find_edit(step.get("edit", "")).fields().items():
        if not isinstance(field, PickField) or name not in values:
            continue
        asked = values[name]
        if isinstance(asked, dict):
            of = asked.get("of", field.element)
            if of not in field.elements or of not in TAKES:
                raise EditError(f"{name} of {step['edit']} takes {' or '.join(field.elements)}, not “{of}”")
            values[name] = _asked_for(model, of, {k: v for k, v in asked.items() if k != "of"})
        elif field.element == "node" and asked == "all":
            values[name] = [f"n{n}" for n in model.snapshot.roots]
    return values


def apply_recipe(
    steps: list[dict[str, Any]], path: Path, out: Path, units: str | None, table: Path | None = None
) -> dict[str, Any]:
    """One file through the recipe, and the rows of a table tried on what it has become.  Returns its row of the report;
    raises RavineError."""
    model = Model()
    model.do_named("import", {"path": str(path), **({"units": units} if units else {})})
    told: list[str] = []
    for step in steps:
        change = model.do_named(step["edit"], _resolve(model, step))
        told.append(change.sentence)
        for name, data in change.files.items():
            (out / name).write_bytes(data)
            told[-1] += f" → {out / name}"
    volume = sum(model.measure(b).volume for b in model.bodies())
    row = {"file": path.name, "done": told, "volume_mm3": volume}
    if table is not None:
        rows = variants.read_table(table, model)
        found = variants.tried(model, rows)
        target = out / f"{path.stem}-variants.csv"
        target.write_text(variants.as_table(rows, found, model.units))
        row["variants"] = f"{sum(f['works'] for f in found)} of {len(rows)} rows work → {target}"
    return row


def run(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="ravine run")
    parser.add_argument("recipe", type=Path)
    parser.add_argument("files", type=Path, nargs="+")
    parser.add_argument("--out", type=Path, help="folder for results (that of each file when left out)")
    parser.add_argument("--units", choices=["mm", "cm", "m", "in", "ft"], help="unit of STL files")
    parser.add_argument("--variants", type=Path, metavar="TABLE",
                        help="a CSV of named values, each row tried on every file after the recipe")  # fmt: skip
    options = parser.parse_args(arguments)
    try:
        recipe = json.loads(options.recipe.read_text())
        steps = recipe["steps"]
        names = [step["edit"] for step in steps]
    except (OSError, ValueError, KeyError, TypeError) as error:
        raise RavineError(f"{options.recipe} is no recipe: it must be JSON with a list “steps” of edits") from error
    for name in names:
        find_edit(name)
    if options.out:
        options.out.mkdir(parents=True, exist_ok=True)
    failed = 0
    for path in options.files:
        try:
            row = apply_recipe(steps, path, options.out or path.parent, options.units, options.variants)
        except RavineError as error:
            failed += 1
            row = {"file": path.name, "failed": str(error)}
        print(json.dumps(row, ensure_ascii=False), flush=True)
    return 1 if failed else 0
