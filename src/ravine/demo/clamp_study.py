"""The mast clamp in the current: how its study is held and loaded, and the dimension that variants drive."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ravine.core import Model

PUSH = 800.0  # N, of the current on the mast in flood

Edits = list[tuple[str, dict[str, Any]]]


def edits(path: Path) -> Edits:
    model = Model()
    model.do("import", path=str(path))
    model.do("set material", parts=model.nodes(), material="cast aluminium")
    (body,) = model.bodies()
    under = [f.id for f in model.faces(body, kind="plane", normal=(0, 0, -1)) if abs(f.centroid[2]) < 1e-6]
    bore = [f.id for f in model.faces(body, kind="cylinder", radius=25)]
    return [
        ("add dimension", {"ends": under[:1], "called": "base"}),
        ("begin study", {"parts": model.nodes(), "called": "Flood"}),
        ("hold", {"on": under, "called": "Bolted down"}),
        ("load", {"on": bore, "kind": "bearing", "x": f"{PUSH:g} N", "called": "Current"}),
    ]
