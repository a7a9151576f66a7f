"""Is a body sound?  The check that every edit passes before it is accepted."""

from __future__ import annotations

from OCP.BRepCheck import BRepCheck_Analyzer

from .queries import is_degenerate
from .shapes import Shape, ShapeIndex, compound, parts_of
from .volumes import volume_properties

WHOLE = 200  # faces up to which everything is checked


def fault(shape: Shape, before: ShapeIndex | None = None, volume: float | None = None) -> str | None:
    """Why `shape` is not one sound solid, in a few words; None when it is.

    before: the sound body it came from; on a part of more than WHOLE faces those taken over from there unchanged are
            not looked at again, which would be most of the cost (checking the new faces alone has disagreed with the
            full check once in hundreds of random edits, on how a solid holds its shell)
    volume: mm³, when it is known already
    """
    solids = parts_of(shape, "solid")
    if not solids:
        return "no solid is left"
    if len(solids) > 1:
        return f"the body falls into {len(solids)} pieces"
    index = ShapeIndex(shape)
    if not _closed(index):
        return "the result would have open edges"
    new_only = before is not None and index.count("face") > WHOLE
    suspects = [f for f in index.all("face") if before is None or before.find("face", f) < 0]
    if suspects and not BRepCheck_Analyzer(compound(suspects) if new_only else shape, True, True).IsValid():
        return "faces or edges of the result would cross"
    if (volume_properties(shape).amount if volume is None else volume) <= 0:
        return "the result would be inside out"
    return None


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
