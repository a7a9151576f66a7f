"""From damaged faces to a sound solid, step by step: what each step did, and what is left to do.

Twins go, faces with a crossing outline give way to fresh ones on their surface, slivers go, borders are sewn within
the smallest tolerance that closes them, missing faces are laid, all faces turned to one side; then edges that were
sewn over a gap are drawn anew where their faces really cross, and faces split for no reason become one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..kernel.carriers import read_surface
from ..kernel.check import fault
from ..kernel.defeature import merge_faces
from ..kernel.properties import area_properties, length_properties, rough_box
from ..kernel.rebuild import rooted, tolerance_of
from ..kernel.shape_matching import facing, twins
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.soup import Sewn, components, facing_alike, open_edges, outline_fault, sewn_within, solid_of, tightened
from ..kernel.volumes import volume_properties
from ..local.engine import carry_out
from ..local.failure import LocalFailure
from ..local.plan import Plan
from ..local.surfaces import Surface
from ..local.topology import SolidTopology
from .forms import Progress, silent
from .patches import Closing, Patch, patches_for

STEPS = (1e-6, 1e-5, 1e-4, 1e-3, 3e-3, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0)  # mm, tolerances to sew with
COARSE = 1e-4  # mm: edges above it are drawn anew
MOST_CHANGE = 5e-3  # of the volume, by drawing edges anew


def size_of(shape: Shape) -> float:
    return max(rough_box(shape).size)


def sliver_width(face: Shape) -> float:
    """How wide a face is about: twice its area over its outline's length."""
    around = length_properties(face).amount
    return 2 * abs(area_properties(face).amount) / around if around > 0 else 0.0


EVERYTHING = frozenset(
    ("duplicate face", "sliver", "crossing outline", "unsound face", "gap", "missing face", "turned face",
     "coarse tolerance", "split face")
)  # fmt: skip


@dataclass(frozen=True)
class Prepared:
    """faces: worth sewing; hints: surfaces of those taken out as unsound; dropped: how many of each kind."""

    faces: tuple[Shape, ...]
    hints: tuple[Surface, ...]
    dropped: dict[str, int]


def prepared(shape: Shape, narrow: float, only: frozenset[str] = EVERYTHING) -> Prepared:
    """Without twins, slivers narrower than `narrow` mm and faces whose outline crosses itself, as far as asked."""
    faces = parts_of(shape, "face")
    dropped: dict[str, int] = {}
    gone = twins(faces) if "duplicate face" in only else set()
    if gone:
        dropped["duplicate face"] = len(gone)
    kept, hints = [], []
    for number, face in enumerate(faces):
        if number in gone:
            continue
        bad = outline_fault(face)
        if bad and bad in only:
            hints.append(Surface.read(read_surface(face)))
            dropped[bad] = dropped.get(bad, 0) + 1
            continue
        if "sliver" in only and sliver_width(face) < narrow:
            dropped["sliver"] = dropped.get("sliver", 0) + 1
            continue
        kept.append(face)
    return Prepared(tuple(kept), tuple(hints), dropped)


def sewn(faces: Sequence[Shape], most: float) -> tuple[Sewn, float, int]:
    """Sewn within the smallest of STEPS up to `most` mm that leaves the fewest edges open; also that tolerance and
    how many edges stay open."""
    start = sewn_within(faces, STEPS[0])
    best = start, STEPS[0], len(open_edges(ShapeIndex(start.shape)))
    for tolerance in (*(s for s in STEPS[1:] if s < most), most):
        if not best[2]:
            break
        made = sewn_within(faces, tolerance)
        if any(b is None for b in made.became):
            break  # a face was swallowed: too coarse
        index = ShapeIndex(made.shape)
        if max((tolerance_of(e, "edge") for e in index.all("edge")), default=0.0) > 20 * tolerance + COARSE:
            continue  # edges that do not belong together were made one
        count = len(open_edges(index))
        if count < best[2]:
            best = made, tolerance, count
    return best


@dataclass(frozen=True)
class Mended:
    """shape: a solid, or sewn faces where something is left; done: how many of each kind were put right; tolerance:
    mm that borders were sewn with; left: edges still open; patches: the faces that were laid; trouble: why it is no
    solid, in words."""

    shape: Shape
    done: dict[str, int]
    tolerance: float
    left: int
    patches: tuple[Patch, ...]
    trouble: str | None


@dataclass(frozen=True)
class Asked:
    """most: mm that a gap may be wide; only: what is put right."""

    most: float
    only: frozenset[str] = EVERYTHING


def mended(
    shape: Shape, most: float | None = None, only: frozenset[str] = EVERYTHING, progress: Progress = silent
) -> Mended:
    """most: mm that a gap may be wide; a five hundredth of the size when None."""
    size = size_of(shape)
    asked = Asked(most or size / 500, only)
    progress(0.05, "looking at every face")
    ready = prepared(shape, narrow(size), only)
    progress(0.2, "sewing borders")
    start = sewn(ready.faces, asked.most if "gap" in only else STEPS[0])
    if start[1] > COARSE and "missing face" in only:
        apart = without_strays(ready)
        if apart is not None:
            progress(0.3, "laying faces that stand off afresh")
            found = _finished(shape, apart, sewn(apart.faces, COARSE), asked, progress)
            if found.trouble is None:
                return found
    return _finished(shape, ready, start, asked, progress)


def narrow(size: float) -> float:
    """Faces and edges below this width or length (mm) have no place on a part of that size."""
    return min(0.01, size / 5000)


def without_strays(ready: Prepared) -> Prepared | None:
    """Without the few faces that do not touch the others; their surfaces are hints."""
    made = sewn_within(ready.faces, COARSE)
    alone = [row[0] for row in components(made.shape) if len(row) == 1]
    if not alone or len(alone) > max(2, len(ready.faces) // 10) or len(ready.faces) < len(alone) + 2:
        return None
    pairs = zip(ready.faces, made.became, strict=True)
    strays = [f for f, now in pairs if now is not None and any(now.IsSame(a) for a in alone)]
    kept = tuple(f for f in ready.faces if not any(f.IsSame(s) for s in strays))
    hints = (*ready.hints, *(Surface.read(read_surface(f)) for f in strays))
    return Prepared(kept, hints, {**ready.dropped, "gap": len(strays)})


def _finished(
    shape: Shape, ready: Prepared, start: tuple[Sewn, float, int], asked: Asked, progress: Progress
) -> Mended:
    made, tolerance, count = start
    done, only = dict(ready.dropped), asked.only
    whole, closing = made.shape, Closing((), ())
    before = len(open_edges(ShapeIndex(shape)))
    if count and "missing face" in only:
        progress(0.4, "laying missing faces")
        closing = patches_for(whole, ready.hints, max(1e-3, 2 * tolerance, 2 * asked.most if "gap" in done else 0.0))
        fresh = [p.face for p in closing.patches]
        if fresh:
            made, other, count = sewn([*parts_of(whole, "face"), *fresh], max(asked.most, tolerance))
            whole, tolerance = made.shape, max(tolerance, other)
        missing = len(fresh) - len(ready.hints)
        if missing > 0:
            done["missing face"] = missing
    elif before > count:
        done["gap"] = before - count
    if count:
        why = f"{count} edge{'s' if count > 1 else ''} stay{'' if count > 1 else 's'} open"
        return Mended(whole, done, tolerance, count, closing.patches, why)
    progress(0.6, "turning faces to one side")
    facing_one = facing_alike(whole) if "turned face" in only else whole
    solid = solid_of(facing_one)
    if solid is None:
        why = "the faces close, but to more than one shell"
        return Mended(whole, done, tolerance, 0, closing.patches, why)
    turned = turned_faces(shape, solid) if "turned face" in only else []
    if turned:
        done["turned face"] = len(turned)
    if "coarse tolerance" in only:
        progress(0.7, "drawing edges where faces cross")
        solid, coarse = _drawn_anew(solid)
        if coarse:
            done["coarse tolerance"] = coarse
    if "split face" in only:
        progress(0.85, "merging faces that are one")
        solid, merged = _merged(solid)
        if merged:
            done["split face"] = merged
    return Mended(solid, done, tolerance, 0, closing.patches, fault(solid))


def turned_faces(before: Shape, after: Shape) -> list[int]:
    """Numbers of the faces that looked the other way than they do `after`; of an open body, or one that was inside
    out as a whole, the fewer."""
    there = facing(after)
    rows: dict[int, list[int]] = {1: [], -1: []}
    for key, (number, sense) in facing(before).items():
        if key in there:
            rows[sense * there[key][1]].append(number)
    return min(rows.values(), key=len)


def _drawn_anew(solid: Shape) -> tuple[Shape, int]:
    """Edges with a coarse tolerance as the crossing of their faces; how many there were."""
    index = ShapeIndex(solid)
    coarse = [e for e in range(index.count("edge")) if tolerance_of(index.get("edge", e), "edge") > COARSE]
    if not coarse:
        return solid, 0
    volume = volume_properties(solid).amount
    topology = SolidTopology(rooted(index))
    touched = {f for e in coarse for f in index.faces_of_edges[e]}
    plan = Plan(surfaces={f: topology.surface(f) for f in touched}, recast=set(touched))
    try:
        found = carry_out(topology, plan).topology.index.shape
    except (LocalFailure, ArithmeticError, ValueError):
        found = None
    if (
        found is not None
        and fault(found) is None
        and abs(volume_properties(found).amount - volume) < MOST_CHANGE * abs(volume)
    ):
        return found, len(coarse)
    tight = tightened(solid)
    return (tight, len(coarse)) if fault(tight) is None else (solid, 0)


def needless_edges(topology: SolidTopology) -> list[int]:
    """Edges between two faces on one surface; but not the two that halve a full turn."""
    same = [e for e in range(topology.index.count("edge")) if topology.meeting(e) == "same"]
    pairs: dict[frozenset[int], int] = {}
    for e in same:
        pair = frozenset(topology.faces_of(e))
        pairs[pair] = pairs.get(pair, 0) + 1
    return [
        e
        for e in same
        if topology.surface(topology.faces_of(e)[0]).kind == "plane" or pairs[frozenset(topology.faces_of(e))] == 1
    ]


def _merged(solid: Shape) -> tuple[Shape, int]:
    index = ShapeIndex(solid)
    topology = SolidTopology(rooted(index))
    needless = set(needless_edges(topology))
    if not needless:
        return solid, 0
    shape = topology.index.shape
    keep = [topology.index.get("edge", e) for e in range(topology.index.count("edge")) if e not in needless]
    merged = merge_faces(shape, keep)[0]
    if fault(merged):
        return solid, 0
    return merged, index.count("face") - len(parts_of(merged, "face"))
