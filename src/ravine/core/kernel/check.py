"""Is a body sound?  The check that every edit passes before it is accepted."""

from __future__ import annotations

import math

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepCheck import BRepCheck_Analyzer, BRepCheck_Shell, BRepCheck_Status
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.TopoDS import TopoDS

from ..tolerances import TOUCHING
from .queries import is_degenerate
from .shapes import Shape, ShapeIndex, as_face, compound, parts_of
from .volumes import volume_properties

WHOLE = 200  # faces up to which everything is checked


def fault(solid: Shape | ShapeIndex, before: ShapeIndex | None = None, volume: float | None = None) -> str | None:
    """Why it is not one sound solid, in a few words; None when it is.  An index keeps what was looked at.

    before: the sound body it came from; on a part of more than WHOLE faces those taken over from there unchanged are
            not looked at again, which would be most of the cost (checking the new faces alone has disagreed with the
            full check once in hundreds of random edits, on how a solid holds its shell)
    volume: mm³, when it is known already
    """
    index = solid if isinstance(solid, ShapeIndex) else ShapeIndex(solid)
    shape = index.shape
    solids = parts_of(shape, "solid")
    if not solids:
        return "no solid is left"
    if len(solids) > 1:
        return f"the body falls into {len(solids)} pieces"
    if not _closed(index):
        return "the result would have open edges"
    new_only = before is not None and index.count("face") > WHOLE
    suspects = [f for f in index.all("face") if before is None or before.find("face", f) < 0]
    if suspects and not BRepCheck_Analyzer(compound(suspects) if new_only else shape, True, True).IsValid():
        return "faces or edges of the result would cross"
    index.passed(before if new_only or not suspects else None)
    if any(_passes_its_tip(f) for f in suspects):
        return "a cone would pass its own tip"
    if (volume_properties(shape).amount if volume is None else volume) <= 0:
        return "the result would be inside out"
    return None


def _passes_its_tip(face: Shape) -> bool:
    """Whether a conical face goes on beyond its tip, which the kernel's own check takes for sound."""
    surface = BRepAdaptor_Surface(as_face(face), True)
    if surface.GetType() != GeomAbs_SurfaceType.GeomAbs_Cone:
        return False
    cone = surface.Cone()
    first, last = (
        cone.RefRadius() + v * math.sin(cone.SemiAngle()) for v in (surface.FirstVParameter(), surface.LastVParameter())
    )
    return min(first, last) < -TOUCHING and max(first, last) > TOUCHING


def face_fault(face: Shape) -> bool:
    """Whether a face is unsound: loops that cross or lie wrongly, edges off their surface."""
    return not BRepCheck_Analyzer(face, True, False).IsValid()


def whole_fault(shape: Shape) -> bool:
    """The same for a solid with its shells."""
    return not BRepCheck_Analyzer(shape, True, False).IsValid()


def is_closed(shape: Shape) -> bool:
    """Every edge has a face on both sides."""
    return _closed(ShapeIndex(shape))


def whole_closed(index: ShapeIndex) -> bool:
    return _closed(index)


def _closed(index: ShapeIndex) -> bool:
    return all(len(beside) == 2 or is_degenerate(index.get("edge", i)) for i, beside in enumerate(index.faces_of_edges))


def fault_of_change(index: ShapeIndex, before: ShapeIndex | None = None) -> str | None:
    """What the kernel's check of the whole body finds, in a few words.  Where most faces were taken over from a sound
    body unchanged, only the others are looked at with all they consist of, and how the shells hold together; what
    `fault` has looked at is not looked at again."""
    shape = index.shape
    if not index.has_passed(before):
        suspects = [f for f in index.all("face") if before is None or before.find("face", f) < 0]
        most = 2 * len(suspects) > index.count("face")
        if suspects and not BRepCheck_Analyzer(shape if most else compound(suspects), True).IsValid():
            return "faces or edges would cross or miss one another"
        index.passed(None if most else before)
    if index.sound:
        return None
    for shell in parts_of(shape, "shell"):
        looked = BRepCheck_Shell(TopoDS.Shell(shell))
        if looked.Closed() != BRepCheck_Status.BRepCheck_NoError:
            return "it would have open edges"
        if looked.Orientation() != BRepCheck_Status.BRepCheck_NoError:
            return "faces beside one another would look to different sides"
    return None
