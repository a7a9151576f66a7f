"""From damaged faces to a sound solid, step by step: what each step did, and what is left to do.

Twins go, faces with a crossing outline give way to fresh ones on their surface, slivers go, borders are sewn within
the smallest tolerance that closes them, missing faces are laid, all faces turned to one side; then edges that were
sewn over a gap are drawn anew where their faces really cross, and faces split for no reason become one.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..kernel.carriers import read_surface
from ..kernel.check import fault
from ..kernel.defeature import merge_faces
from ..kernel.kin import twins
from ..kernel.properties import area_properties, length_properties, rough_box
from ..kernel.rebuild import rooted, tolerance_of
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.soup import Sewn, facing_alike, open_edges, outline_fault, sewn_within, solid_of, tightened
from ..kernel.volumes import volume_properties
from ..local.engine import carry_out
from ..local.fabric import Fabric
from ..local.failure import LocalFailure
from ..local.plan import Plan
from ..local.surfaces import Surface
from .patches import Closing, patches_for

Progress = Callable[[float, str], None]
STEPS = (1e-6, 1e-5, 1e-4, 1e-3, 3e-3, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0)  # mm, tolerances to sew with
COARSE = 1e-4  # mm: edges above it are drawn anew
MOST_CHANGE = 5e-3  # of the volume, by drawing edges anew


def _silent(fraction: float, words: str) -> None:
    return None


def size_of(shape: Shape) -> float:
    low, high = rough_box(shape)
    return max(b - a for a, b in zip(low, high, strict=True))


def sliver_width(face: Shape) -> float:
    """How wide a face is about: twice its area over its outline's length."""
    around = length_properties(face).amount
    return 2 * abs(area_properties(face).amount) / around if around > 0 else 0.0


@dataclass(frozen=True)
class Prepared:
    """faces: worth sewing; hints: surfaces of those taken out as unsound; dropped: how many of each kind."""

    faces: tuple[Shape, ...]
    hints: tuple[Surface, ...]
    dropped: dict[str, int]


def prepared(shape: Shape, narrow: float) -> Prepared:
    """Without twins, slivers narrower than `narrow` mm and faces whose outline crosses itself."""
    faces = parts_of(shape, "face")
    dropped: dict[str, int] = {}
    gone = twins(faces)
    if gone:
        dropped["duplicate face"] = len(gone)
    kept, hints = [], []
    for number, face in enumerate(faces):
        if number in gone:
            continue
        if sliver_width(face) < narrow:
            dropped["sliver"] = dropped.get("sliver", 0) + 1
            continue
        bad = outline_fault(face)
        if bad:
            hints.append(Surface.read(read_surface(face)))
            dropped[bad] = dropped.get(bad, 0) + 1
            continue
        kept.append(face)
    return Prepared(tuple(kept), tuple(hints), dropped)


def sewn(faces: Sequence[Shape], most: float) -> tuple[Sewn, float, int]:
    """Sewn within the smallest of STEPS up to `most` mm that leaves the fewest edges open; also that tolerance and
    how many edges stay open."""
    best: tuple[Sewn, float, int] | None = None
    for tolerance in (*(s for s in STEPS if s < most), most):
        made = sewn_within(faces, tolerance)
        if any(b is None for b in made.became) and best is not None:
            break  # a face was swallowed: too coarse
        count = len(open_edges(ShapeIndex(made.shape)))
        if best is None or count < best[2]:
            best = made, tolerance, count
        if not count:
            break
    assert best is not None
    return best


@dataclass(frozen=True)
class Mended:
    """shape: a solid, or sewn faces where something is left; done: how many of each kind were put right; tolerance:
    mm that borders were sewn with; left: loops still open; trouble: why it is no solid, in words."""

    shape: Shape
    done: dict[str, int]
    tolerance: float
    left: int
    trouble: str | None


def mended(shape: Shape, most: float | None = None, progress: Progress = _silent) -> Mended:
    """most: mm that a gap may be wide; a five hundredth of the size when None."""
    size = size_of(shape)
    most = most or size / 500
    progress(0.05, "looking at every face")
    ready = prepared(shape, min(0.01, size / 5000))
    done = dict(ready.dropped)
    before = len(open_edges(ShapeIndex(shape)))
    progress(0.2, "sewing borders")
    made, tolerance, count = sewn(ready.faces, most)
    whole = made.shape
    closing = Closing((), ())
    if count:
        progress(0.4, "laying missing faces")
        closing = patches_for(whole, ready.hints, max(1e-3, 2 * tolerance))
        fresh = [p.face for p in closing.patches]
        if fresh:
            made, other, count = sewn([*parts_of(whole, "face"), *fresh], max(most, tolerance))
            whole, tolerance = made.shape, max(tolerance, other)
        missing = len(fresh) - len(ready.hints)
        if missing > 0:
            done["missing face"] = missing
    elif before:
        done["gap"] = before
    if count:
        return Mended(whole, done, tolerance, len(closing.left) or 1, f"{count} edges stay open")
    progress(0.6, "turning faces to one side")
    solid = solid_of(facing_alike(whole))
    if solid is None:
        return Mended(whole, done, tolerance, 0, "the faces close, but to more than one shell")
    turned = _turned(shape, solid)
    if turned:
        done["turned face"] = turned
    progress(0.7, "drawing edges where faces cross")
    solid, coarse = _drawn_anew(solid)
    if coarse:
        done["coarse tolerance"] = coarse
    progress(0.85, "merging faces that are one")
    solid, merged = _merged(solid)
    if merged:
        done["split face"] = merged
    return Mended(solid, done, tolerance, 0, fault(solid))


def _turned(before: Shape, after: Shape) -> int:
    """Faces that were facing the other way."""
    from ..kernel.kin import facing

    there = facing(after)
    senses = [sense * there[key] for key, sense in facing(before).items() if key in there]
    return min(senses.count(-1), senses.count(1)) if senses else 0


def _drawn_anew(solid: Shape) -> tuple[Shape, int]:
    """Edges with a coarse tolerance as the crossing of their faces; how many there were."""
    index = ShapeIndex(solid)
    coarse = [e for e in range(index.count("edge")) if tolerance_of(index.get("edge", e), "edge") > COARSE]
    if not coarse:
        return solid, 0
    volume = volume_properties(solid).amount
    fabric = Fabric(rooted(index))
    touched = {f for e in coarse for f in index.faces_of_edges[e]}
    plan = Plan(surfaces={f: fabric.surface(f) for f in touched}, recast=set(touched))
    try:
        found = carry_out(fabric, plan).fabric.index.shape
    except (LocalFailure, ArithmeticError, ValueError):
        found = None
    if found is not None and fault(found) is None and abs(volume_properties(found).amount - volume) < MOST_CHANGE * abs(
        volume
    ):
        return found, len(coarse)
    tight = tightened(solid)
    return (tight, len(coarse)) if fault(tight) is None else (solid, 0)


def needless_edges(fabric: Fabric) -> list[int]:
    """Edges between two faces on one surface; but not the two that halve a full turn."""
    same = [e for e in range(fabric.index.count("edge")) if fabric.meeting(e) == "same"]
    pairs: dict[frozenset[int], int] = {}
    for e in same:
        pair = frozenset(fabric.faces_of(e))
        pairs[pair] = pairs.get(pair, 0) + 1
    return [
        e
        for e in same
        if fabric.surface(fabric.faces_of(e)[0]).kind == "plane" or pairs[frozenset(fabric.faces_of(e))] == 1
    ]


def _merged(solid: Shape) -> tuple[Shape, int]:
    index = ShapeIndex(solid)
    fabric = Fabric(rooted(index))
    needless = set(needless_edges(fabric))
    if not needless:
        return solid, 0
    shape = fabric.index.shape
    keep = [fabric.index.get("edge", e) for e in range(fabric.index.count("edge")) if e not in needless]
    merged = merge_faces(shape, keep)[0]
    if fault(merged):
        return solid, 0
    return merged, index.count("face") - len(parts_of(merged, "face"))
