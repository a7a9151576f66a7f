"""The nut of the logger's cable gland: drawn from nothing with the same edits a person uses.

A ribbed grip, a bore, and an M20 × 1.5 thread cut right through, with 0.15 mm of clearance for printing.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import Snapshot, area_id

GRIP, BITE, RIBS, HEIGHT = 15.0, 1.4, 20, 16.0
BORE, CREST, PITCH = 9.2, 10.15, 1.5

Do = Callable[[str, dict[str, Any]], Snapshot]


def draw_gland_nut(do: Do) -> None:
    """`do` carries out one edit and gives the state after it."""
    state = do("sketch", {"plane": "xy"})
    disc = max(state.sketches)
    here = {"sketch": [f"s{disc}"]}
    do("draw", {**here, "shape": "circle", "places": "0,0", "size": f"{GRIP} mm"})
    do("draw", {**here, "shape": "circle", "places": "0,0", "size": f"{BORE} mm"})
    state = do("draw", {**here, "shape": "circle", "places": f"{GRIP + 0.5},0", "size": f"{BITE} mm"})
    bite = max(state.sketches[disc].curves)
    values = {"curves": [f"c{bite}"], "way": "around", "middle": "0,0", "count": RIBS}
    state = do("copy curves", values)
    state = do("extrude", {"areas": [_largest(state, disc)], "distance": f"{HEIGHT} mm"})
    (body,) = state.bodies
    node = next(n.id for n in state.nodes.values() if n.body == body)
    do("rename", {"part": [f"n{node}"], "to": "Gland nut"})
    do("set material", {"parts": [f"n{node}"], "material": "acetal"})
    state = do("sketch", {"plane": "xz"})
    side = max(state.sketches)
    here = {"sketch": [f"s{side}"]}
    state = do("draw", {**here, "shape": "line", "places": f"0,-4 0,{HEIGHT + 4}", "role": "helper"})
    axis = max(state.sketches[side].curves)
    low, wide, narrow = -1.5, 0.55, 0.12
    tooth = [(BORE - 0.2, low - wide), (BORE - 0.2, low + wide), (CREST, low + narrow), (CREST, low - narrow)]
    places = " ".join(f"{x:g},{y:g}" for x, y in [*tooth, tooth[0]])
    state = do("draw", {**here, "shape": "line", "places": places})
    thread = {"areas": [_largest(state, side)], "axis": [f"c{axis}"], "height": f"{HEIGHT + 6} mm"}
    do("wind", {**thread, "pitch": f"{PITCH} mm", "way": "cutting"})


def _largest(state: Snapshot, sketch: int) -> str:
    return area_id(sketch, regions_of_sketch(state.sketches[sketch])[0].inside)
