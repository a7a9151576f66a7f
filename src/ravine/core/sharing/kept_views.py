"""Kept views on their way out: a name, and where the eye is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..errors import EditError

MOST = 200


def views_from(rows: Any, named: bool = True) -> tuple[dict[str, Any], ...]:
    """rows: each a name and the eye: turn, lift (rad), span, target (mm); named: else they are numbered.  Raises
    EditError for what is no view."""
    if not isinstance(rows, Sequence) or isinstance(rows, str):
        raise EditError("kept views are a list", field="views")
    return tuple(_view(row, named, k) for k, row in enumerate(rows[:MOST], 1))


def _view(row: Any, named: bool, number: int) -> dict[str, Any]:
    """Raises EditError for what is no view."""
    try:
        turn, lift, span, target = row["eye"]
        eye = [float(turn), float(lift), max(float(span), 1e-6), [float(v) for v in target]]
        name = str(row["name"])[:60]
    except (KeyError, TypeError, ValueError):
        raise EditError("a kept view has a name and an eye of turn, lift, span and target", field="views") from None
    return {"name": name if named else f"view {number}", "eye": eye}
