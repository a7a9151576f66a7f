"""The kernel's own removal of faces, and its merging of faces that lie on one surface."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepAlgoAPI import BRepAlgoAPI_Defeaturing
from OCP.BRepTools import BRepTools_History

from ..errors import EditError
from .boolean import single_solid, tracer
from .history import Trace
from .merging import merged
from .shapes import Shape, ShapeIndex, copied


def defeature(body: Shape, faces: Sequence[Shape]) -> tuple[Shape, Trace]:
    """Without these faces, neighbours extended by the kernel.  Raises EditError where it gives up or changes
    nothing, which it may call done."""
    operation = BRepAlgoAPI_Defeaturing()
    operation.SetShape(body)
    for face in faces:
        operation.AddFaceToRemove(face)
    operation.SetRunParallel(True)
    operation.SetToFillHistory(True)
    operation.Build()
    if not operation.IsDone() or operation.Shape().IsNull():
        raise EditError("the geometry kernel could not close the gap either")
    result = single_solid(operation.Shape())
    index = ShapeIndex(result)
    if any(index.find("face", f) >= 0 for f in faces):
        raise EditError("the geometry kernel could not close the gap either")
    history = BRepTools_History()
    history.Merge(operation.History())
    return result, tracer(history, result)


def merge_faces(body: Shape, keep_edges: Sequence[Shape]) -> tuple[Shape, Trace, Shape]:
    """Faces on one surface become one across all edges but `keep_edges`; also edges that continue one another.
    Works on a copy, since the kernel may damage what it merges; gives the copy as well, in the order of `body`."""
    copy, now = copied(body)
    whole, history = merged(copy, [now(edge) for edge in keep_edges])
    result = single_solid(whole)
    return result, tracer(history, result), copy
