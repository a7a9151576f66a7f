"""What comes first for each sort of pick, so that a digit always means the same action there."""

from __future__ import annotations

from collections.abc import Iterable

from .base import Edit, PickSummary

FIRST: dict[str, tuple[str, ...]] = {
    "hole": ("resize", "move faces", "pattern", "pattern around", "slot", "remove"),
    "flat face": ("push", "move faces", "sketch", "drill", "tilt", "remove"),
    "round face": ("resize", "push", "move faces", "pattern", "pattern around", "remove"),
    "chamfer": ("resize", "remove", "give back", "move faces"),
    "face": ("push", "move faces", "remove", "thicken", "tilt", "split face"),
    "rim of a hole": ("resize", "move faces", "chamfer", "round", "pattern", "remove"),
    "edge": ("round", "chamfer", "edges out", "project", "fill", "sketch"),
    "vertex": ("sketch",),
    "mesh part": ("recognise", "mesh to solid", "move body", "decimate", "smooth", "delete body"),
    "part": ("move body", "repeat parts", "combine", "mirror", "set material", "delete body"),
    "area": ("extrude", "revolve", "imprint", "sweep", "loft", "wind"),
    "curve": ("dimension", "keep", "trim", "set off", "copy curves", "erase"),
    "point": ("dimension", "keep", "drag", "round corners", "draw", "erase"),
    "sketch": ("draw", "project", "section curves", "save sketch", "picture", "erase"),
    "rule": ("erase",),
}  # fmt: skip
FIRST_AT: dict[str, dict[str, tuple[str, ...]]] = {  # at a stage of its own, in place of the above
    "Sheet": {
        "edge": ("flange", "bend edge", "rip", "round", "chamfer", "edges out"),
        "flat face": ("push", "make sheet", "mend sheet", "save flat", "drill", "remove"),
        "part": ("make sheet", "mend sheet", "save flat", "move body", "set material", "delete body"),
    },
    "Prove": {
        "hole": ("hold", "load", "set elements", "resize", "move faces", "remove"),
        "flat face": ("hold", "load", "set elements", "push", "move faces", "remove"),
        "round face": ("hold", "load", "set elements", "resize", "push", "remove"),
        "face": ("hold", "load", "set elements", "push", "thicken", "remove"),
        "part": ("begin study", "set print", "save print", "set material", "move body", "delete body"),
    },
}
SHOWN = 9  # of a stage, where nothing is picked


def sort_of(pick: PickSummary) -> str:
    """Which row of FIRST a pick belongs to; empty where nothing is picked."""
    if pick.kind == "node":
        return "mesh part" if pick.mesh else "part"
    if pick.kind == "edge":
        return "rim of a hole" if pick.rims else "edge"
    if pick.kind != "face":
        return pick.kind if pick.kind in FIRST else ""
    if pick.chamfers:
        return "chamfer"
    if pick.face_kinds == {"plane"}:
        return "flat face"
    if pick.face_kinds and pick.face_kinds <= {"cylinder", "cone"}:
        return "hole" if pick.hollow else "round face"
    return "round face" if pick.face_kinds and pick.face_kinds <= {"sphere", "torus"} else "face"


def in_order(pick: PickSummary, offered: Iterable[type[Edit]], stage: str = "") -> list[tuple[str, int]]:
    """Names of what is offered with the digit that chooses it, 0 for none: what comes first, then the rest."""
    names = [edit.name for edit in offered]
    sort = sort_of(pick)
    if not sort:
        return [(name, k + 1 if k < SHOWN else 0) for k, name in enumerate(names)]
    rows = FIRST_AT.get(stage, {}).get(sort) or FIRST[sort]
    digits = {name: k + 1 for k, name in enumerate(rows)}
    first = sorted((n for n in names if n in digits), key=lambda name: digits[name])
    return [*((n, digits[n]) for n in first), *((n, 0) for n in names if n not in digits)]
