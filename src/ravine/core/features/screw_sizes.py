"""What a hole's diameter is the size of."""

from __future__ import annotations

from ..model.holes import SCREWS

WITHIN = 0.01  # mm
FITS = ("fine", "medium", "coarse")


def screw_note(diameter: float) -> str:
    """ "clearance for M8, medium" or "tapping for M10"; empty where it is no such size.  Metric sizes go first."""
    for screw in SCREWS.values():
        if abs(screw.tap_drill - diameter) < WITHIN:
            return f"tapping for {screw.name}"
        for fit, wide in zip(FITS, screw.clearance, strict=True):
            if abs(wide - diameter) < WITHIN:
                return f"clearance for {screw.name}" + (f", {fit}" if screw.name.startswith("M") else "")
    return ""
