"""The mast clamp in the current: how its study is held and loaded, the dimension that variants drive, its drawing."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ravine.core import Model
from ravine.core.model.records import DRAWINGS

PUSH = 800.0  # N, of the current on the mast in flood

Edits = list[tuple[str, dict[str, Any]]]


def edits(path: Path) -> Edits:
    model = Model()
    model.do("import", path=str(path))
    model.do("set material", parts=model.nodes(), material="cast aluminium")
    (body,) = model.bodies()
    under = [f.id for f in model.faces(body, kind="plane", normal=(0, 0, -1)) if abs(f.centroid[2]) < 1e-6]
    bore = [f.id for f in model.faces(body, kind="cylinder", radius=25)]
    study = [
        ("add dimension", {"ends": under[:1], "called": "base"}),
        ("begin study", {"parts": model.nodes(), "called": "Flood"}),
        ("hold", {"on": under, "called": "Bolted down"}),
        ("load", {"on": bore, "kind": "bearing", "x": f"{PUSH:g} N", "called": "Current"}),
    ]
    for name, values in study:
        model.do_named(name, values)
    return study + _drawing(model)


def _drawing(model: Model) -> Edits:
    """One sheet: four views with sizes, and a section through the bore."""
    says = {"owner": "Lower Ilse river survey", "number": "RG-101", "creator": "M. Aksel", "approver": "J. Ortun",
            "date": "2026-11-20", "revision": "B", "status": "released"}  # fmt: skip
    begun = ("begin sheet", {"size": "A3", "called": "Mast clamp", "says": says})
    model.do_named(*begun)
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    top = next(v for v in sheet.views.values() if v.eye == (0.0, 0.0, 1.0))
    return [begun, ("cut view", {"view": top.id, "toward": "left", "at": [245.0, top.at[1]]}), ("propose sizes", {})]
