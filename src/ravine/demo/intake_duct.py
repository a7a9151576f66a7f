"""The duct of the intake, square to round and off centre, made from nothing."""

from __future__ import annotations

from .gland_nut import Do


def draw_duct(do: Do) -> None:
    """`do` carries out one edit and gives the state after it."""
    state = do("make transition", {
        "lower_across": "140 mm", "lower_deep": "110 mm", "upper_across": "90 mm", "height": "120 mm", "x": "25 mm",
        "seam": "-90°", "called": "Intake duct",
    })  # fmt: skip
    (node,) = state.nodes
    do("set material", {"parts": [f"n{node}"], "material": "stainless steel"})
