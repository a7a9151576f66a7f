"""The forms in which snapshots were stored so far, and the steps from each to the next.

Old states are never rewritten (they lie under the address of their bytes); they are brought up each time they are read.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import RavineError

FORMAT = 3


def _records(data: dict[str, Any]) -> dict[str, Any]:
    """1 to 2: sketches, patterns and sets, each in a form of its own, become records of trades."""
    rest = {key: value for key, value in data.items() if key not in ("patterns", "sketches", "sets")}
    records = {name: [[r["id"], r] for r in data.get(name, ())] for name in ("sketches", "patterns")}
    records["sets"] = [[name, things] for name, things in data.get("sets", {}).items()]
    return {**rest, "records": {name: rows for name, rows in records.items() if rows}}


def _measured(data: dict[str, Any]) -> dict[str, Any]:
    """2 to 3: dimensions keep what they measure, and their formula."""
    records = data.get("records", {})
    rows = [[key, {"value": None, "text": "", "stays": None, **one}] for key, one in records.get("dimensions", ())]
    return {**data, "records": {**records, "dimensions": rows} if rows else records}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _records, 2: _measured}


def upgraded(data: dict[str, Any]) -> dict[str, Any]:
    """In the form of this version.  Raises RavineError for one that is newer or none at all."""
    while data.get("format") != FORMAT:
        step = STEPS.get(data.get("format", 0))
        if step is None:
            raise RavineError(
                f"this model was stored by another version of Ravine (format {data.get('format')}; this one knows 1 to "
                f"{FORMAT}); open it with a newer one"
            )
        data = {**step(data), "format": data["format"] + 1}
    return data
