"""./ravine run RECIPE FILES…: the same edits as on the page, without a screen, over many files.

A recipe is JSON: {"steps": [{"edit": "push", "faces": {"kind": "plane", "normal": [0, 0, 1], "take": "highest"},
"distance": "2 mm"}, …]}.  Faces are asked for as in the scripting interface; parts are "all" or names.  Results lie
beside each file, or in --out; the report says what was done to each.  With --variants, rows of named values (which the
recipe's dimensions have made) are tried on it, on all cores, and their figures written as a table.

Words in braces stand for what differs from file to file: {stem}, the file's name without ending; named groups of the
recipe's "file_name", a regular expression over it, as (?P<thickness>[0-9.]+); and, with --each, the columns of a CSV
whose column "file" names the file.
"""

from __future__ import annotations

import argparse
import csv
import json
import re
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


def words_of(path: Path, pattern: str | None, rows: dict[str, dict[str, str]]) -> dict[str, str]:
    """What words in braces stand for.  Raises EditError for a file whose name the pattern does not fit."""
    words = {"stem": path.stem}
    if pattern:
        found = re.search(pattern, path.stem)
        if found is None:
            raise EditError(f"the name {path.stem} does not fit the recipe's file_name")
        words |= {name: value or "" for name, value in found.groupdict().items()}
    return words | rows.get(path.name, rows.get(path.stem, {}))


def _filled(step: dict[str, Any], words: dict[str, str]) -> dict[str, Any]:
    """Raises EditError for a word that stands for nothing."""

    def put(text: str) -> str:
        lacking = [w for w in re.findall(r"\{(\w+)\}", text) if w not in words]
        if lacking:
            raise EditError(f"{{{lacking[0]}}} stands for nothing here; there is {', '.join(words)}")
        return re.sub(r"\{(\w+)\}", lambda m: words[m[1]], text)

    return {k: put(v) if isinstance(v, str) else v for k, v in step.items()}


def _each(path: Path | None) -> dict[str, dict[str, str]]:
    if path is None:
        return {}
    with path.open(newline="", encoding="utf-8-sig") as file:
        rows = list(csv.DictReader(file))
    if not rows or "file" not in rows[0]:
        raise RavineError(f"{path} has no column “file”")
    return {row["file"]: {k: v or "" for k, v in row.items() if k and k != "file"} for row in rows}


def apply_recipe(
    steps: list[dict[str, Any]],
    path: Path,
    out: Path,
    units: str | None,
    table: Path | None = None,
    words: dict[str, str] | None = None,
) -> dict[str, Any]:
    """One file through the recipe, and the rows of a table tried on what it has become.  Returns its row of the report;
    raises RavineError."""
    model = Model()
    model.do_named("import", {"path": str(path), **({"units": units} if units else {})})
    told: list[str] = []
    warned: list[str] = []
    for step in steps:
        change = model.do_named(step["edit"], _resolve(model, _filled(step, words or {"stem": path.stem})))
        told.append(change.sentence)
        warned += [w for w in change.warnings if w not in warned]
        for name, data in change.files.items():
            (out / name).write_bytes(data)
            told[-1] += f" → {out / name}"
    volume = sum(model.measure(b).volume for b in model.bodies())
    row: dict[str, Any] = {"file": path.name, "done": told, "volume_mm3": volume}
    if warned:
        row["warnings"] = warned
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
    parser.add_argument("--each", type=Path, metavar="TABLE", help="a CSV with a row of words for every file")
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
    each = _each(options.each)
    failed = 0
    for path in options.files:
        try:
            words = words_of(path, recipe.get("file_name"), each)
            row = apply_recipe(steps, path, options.out or path.parent, options.units, options.variants, words)
        except RavineError as error:
            failed += 1
            row = {"file": path.name, "failed": str(error)}
        print(json.dumps(row, ensure_ascii=False), flush=True)
    return 1 if failed else 0
