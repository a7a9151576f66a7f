"""The flat as paths for the eye: panels to point at, outline, bend lines, clashes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..formats.svg import curve_path, loop_path
from ..sheet.flat_curves import area_of
from ..sheet.unfold import Flat
from ..sketch.loops import followed


def flat_drawing(flat: Flat, names: Sequence[str]) -> dict[str, Any]:
    """names: ids of the faces by number.  box: low x, low y, high x, high y in mm, y up; paths have y down."""
    behind = {p.face: p.backs[0].face for p in flat.reading.panels.values()}
    panels = [
        {"face": names[p.face], "back": names[behind[p.face]], "bend": flat.reading.panels[p.face].bend,
         "path": "".join(loop_path(loop) for loop in p.loops)}
        for p in flat.panels.values()
    ]  # fmt: skip
    bends = [
        {
            "face": names[b.face],
            "direction": b.direction,
            "sharp": b.edge is not None,
            "line": [b.start[0], -b.start[1], b.end[0], -b.end[1]],
        }
        for b in flat.bends
    ]
    clashes = []
    for clash in flat.clashes:
        shared = flat.panels[clash.faces[0]].shape.intersection(flat.panels[clash.faces[1]].shape)
        clashes.append({"faces": [names[f] for f in clash.faces], "path": _path(shared)})
    return {
        "box": list(flat.box), "panels": panels, "bends": bends, "clashes": clashes, "borders": _borders(flat, names),
        "outline": "".join(loop_path(loop) for loop in flat.loops),
        "forms": "".join(loop_path(loop) for loop in flat.forms),
    }  # fmt: skip


def _borders(flat: Flat, names: Sequence[str]) -> list[dict[str, Any]]:
    """Pieces of the outline with the cut face behind each; out: the way (y down) in which a straight one grows the
    sheet."""
    topology, found = flat.reading.topology, []
    sides = set(flat.reading.panels) | flat.reading.behind
    for laid in flat.panels.values():
        for number, (loop, edges) in enumerate(zip(laid.loops, laid.edges, strict=True)):
            sense = 1.0 if (area_of(loop) > 0) == (number == 0) else -1.0
            for (curve, back), edge in zip(followed(loop), edges, strict=True):
                cut = topology.other_face(edge, laid.face) if edge >= 0 else laid.face
                if cut in sides:
                    continue
                row: dict[str, Any] = {"face": names[cut], "path": curve_path(curve), "out": None}
                if curve.kind == "line":
                    x, y = ((-1.0 if back else 1.0) * sense * curve.x / np.hypot(*curve.x)).tolist()
                    row["out"] = [round(y, 9), round(x, 9)]
                found.append(row)
    return found


def _path(shape: BaseGeometry) -> str:
    found = ""
    for part in getattr(shape, "geoms", [shape]):
        if part.geom_type == "Polygon":
            for ring in (part.exterior, *part.interiors):
                rows = np.array(ring.coords)
                found += "M" + "L".join(f"{x:.6g} {-y:.6g}" for x, y in rows) + "Z"
    return found
