"""How surfaces look: our own starting values for woods, metals, plastics and paints.

A finish is kept as text: its colour, and after a space the name of a surface from this table; a colour alone is plain.
"""

from __future__ import annotations

from dataclasses import dataclass

PLAIN_COLOUR = "#7c8b86"


@dataclass(frozen=True)
class SurfaceFinish:
    """colour: `#rrggbb` as it comes; roughness, metal: 0 to 1; grain: what the colour does over the surface, one of
    GRAINS; scale: of the grain, mm."""

    family: str
    colour: str
    roughness: float
    metal: float = 0.0
    grain: str = "none"
    scale: float = 1.0


SURFACES: dict[str, SurfaceFinish] = {
    "oiled oak": SurfaceFinish("woods", "#b98d58", 0.62, grain="wood", scale=5.0),
    "dark walnut": SurfaceFinish("woods", "#6b4a35", 0.55, grain="wood", scale=4.0),
    "birch plywood": SurfaceFinish("woods", "#d9bd8c", 0.7, grain="layers", scale=1.5),
    "brushed aluminium": SurfaceFinish("metals", "#b6babb", 0.36, 1.0, "brushed", 0.4),
    "cast aluminium": SurfaceFinish("metals", "#a3a8a6", 0.62, 0.85, "speckled", 0.7),
    "polished steel": SurfaceFinish("metals", "#c3c7c9", 0.12, 1.0),
    "blackened steel": SurfaceFinish("metals", "#3c4144", 0.5, 0.9, "speckled", 0.5),
    "brass": SurfaceFinish("metals", "#c7a253", 0.24, 1.0),
    "bronze": SurfaceFinish("metals", "#9a6f43", 0.34, 1.0, "brushed", 0.5),
    "glossy plastic": SurfaceFinish("plastics", "#d8d6cd", 0.16),
    "satin plastic": SurfaceFinish("plastics", "#c7c3b4", 0.48),
    "grained plastic": SurfaceFinish("plastics", "#4d5659", 0.72, grain="speckled", scale=0.4),
    "printed plastic": SurfaceFinish("plastics", "#6f8a8c", 0.66, grain="layers", scale=0.2),
    "rubber": SurfaceFinish("plastics", "#2c3032", 0.92),
    "matt paint": SurfaceFinish("paints", "#5f7f73", 0.85),
    "gloss paint": SurfaceFinish("paints", "#2f6f8a", 0.12),
    "hammered paint": SurfaceFinish("paints", "#57626b", 0.32, 0.35, "speckled", 2.0),
}
GRAINS = ("none", "wood", "layers", "brushed", "speckled")  # in the order the page numbers them


def colour_of(finish: str | None) -> str | None:
    """`#rrggbb`, whatever surface it is on."""
    return finish[:7] if finish else None


def surface_of(finish: str | None) -> str:
    """Name in the table; empty for a plain colour."""
    return finish[8:] if finish else ""


def with_colour(finish: str | None, colour: str) -> str:
    surface = surface_of(finish)
    return f"{colour} {surface}" if surface else colour
