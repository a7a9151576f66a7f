"""What the values of an edit leave to whoever keeps the models: other models, kept views, notes."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from ravine.core.edits.base import Edit
from ravine.core.edits.fields import KeptField
from ravine.store.tables import Design, Kept

from .links import looked_up

if TYPE_CHECKING:
    from .designs import Designs


def filled(designs: Designs, design: Design, cls: type[Edit], values: Mapping[str, Any]) -> dict[str, Any]:
    """Raises EditError for another model that is not there."""
    found = looked_up(designs, design, cls, values)
    for name, field in cls.fields().items():
        if isinstance(field, KeptField) and found.get(name) is None:
            found[name] = {"views": kept_views, "notes": kept_notes}[field.what](design)
    return found


def _rows(design: Design, kind: str) -> list[tuple[str, dict[str, Any]]]:
    rows = Kept.select().where((Kept.design == design) & (Kept.kind == kind)).order_by(Kept.id)
    return [(row.name, json.loads(row.data)) for row in rows]


def kept_views(design: Design) -> list[dict[str, Any]]:
    """As core.sharing.kept_views has them."""
    eyes = [(name, data["camera"]) for name, data in _rows(design, "view") if data.get("camera")]
    return [{"name": name, "eye": [e["yaw"], e["pitch"], e["span"], e["target"]]} for name, e in eyes]


def kept_notes(design: Design) -> list[str]:
    """Threads of the review as texts."""
    return ["\n".join(f"{s['by']}: {s['text']}" for s in data["said"]) for _, data in _rows(design, "note")]
