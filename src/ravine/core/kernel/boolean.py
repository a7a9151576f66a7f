"""Unite and subtract with history, and merge the faces that the operation laid side by side on one surface."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepAlgoAPI import (
    BRepAlgoAPI_BooleanOperation,
    BRepAlgoAPI_Common,
    BRepAlgoAPI_Cut,
    BRepAlgoAPI_Fuse,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.BRepTools import BRepTools_History
from OCP.collections import List_TopoDS_Shape
from OCP.gp import gp_Lin, gp_Vec

from ..errors import EditError
from .failures import SpoiledInput
from .history import Trace
from .merging import merged
from .queries import face_facts, face_kind, plane_normal
from .shapes import KINDS, Shape, ShapeIndex, as_face, items, parts_of, placed, shape_map


@dataclass(frozen=True)
class Prism:
    """A plane face swept straight.  `top` stands for the face at its new place; `top_parts` pairs the edges and
    vertices of the face with those of the top, `sides` its edges with the walls they left behind."""

    shape: Shape
    top: Shape
    top_parts: dict[str, list[tuple[Shape, Shape]]]
    sides: list[tuple[Shape, Shape]]

    def in_shape(self, other: Shape) -> Prism:
        """The same in another shape with the same topology in the same order."""
        before, after = ShapeIndex(self.shape), ShapeIndex(other)

        def now(kind: str, part: Shape) -> Shape:
            return after.get(kind, before.find(kind, part))

        parts = {kind: [(old, now(kind, new)) for old, new in pairs] for kind, pairs in self.top_parts.items()}
        sides = [(old, now("face", wall)) for old, wall in self.sides]
        return Prism(other, now("face", self.top), parts, sides)


def _sweep(face: Shape, step: Sequence[float], backwards: bool, copy: bool = False) -> Prism:
    if backwards:
        moved = placed(face, (1, 0, 0, step[0], 0, 1, 0, step[1], 0, 0, 1, step[2]))
        sweep = BRepPrimAPI_MakePrism(moved, gp_Vec(*(-c for c in step)), copy)
        top, source = sweep.FirstShape(), moved
    else:
        sweep = BRepPrimAPI_MakePrism(face, gp_Vec(*step), copy)
        top, source = sweep.LastShape(), face
    of_top = sweep.FirstShape if backwards else sweep.LastShape
    pairs = {
        kind: [(old, of_top(part)) for old, part in zip(parts_of(face, kind), parts_of(source, kind), strict=True)]
        for kind in ("edge", "vertex")
    }
    walls = [
        (old, items(sweep.Generated(e))) for old, e in zip(*(parts_of(f, "edge") for f in (face, source)), strict=True)
    ]
    return Prism(sweep.Shape(), top, pairs, [(old, wall[0]) for old, wall in walls if wall])


def rooted_prism(face: Shape, step: Sequence[float]) -> Prism:
    """As `prism`, but with a top of its own: else it is the face once more, placed elsewhere."""
    return _sweep(face, step, backwards=False, copy=True)


def _axis_clashes(body: ShapeIndex, face: Shape, swept: Shape) -> int:
    """Round walls beside `face` whose axis runs against that of the swept wall that would continue them."""
    clashes = 0
    walls = [face_facts(f).axis for f in parts_of(swept, "face") if face_kind(f) == "cylinder"]
    for edge in parts_of(face, "edge"):
        number = body.find("edge", edge)
        for beside in body.faces_of_edges[number] if number >= 0 else ():
            neighbour = body.get("face", beside)
            if neighbour.IsSame(face) or face_kind(neighbour) != "cylinder":
                continue
            here, along = face_facts(neighbour).axis or ((0, 0, 0), (0, 0, 0))
            for axis in walls:
                if axis and math.dist(*(_foot(p, along) for p in (here, axis[0]))) < 1e-6:
                    clashes += sum(a * b for a, b in zip(along, axis[1], strict=True)) < 0
    return clashes


def _foot(point: Sequence[float], along: Sequence[float]) -> tuple[float, ...]:
    """The point's place across a direction."""
    height = sum(p * a for p, a in zip(point, along, strict=True))
    return tuple(p - height * a for p, a in zip(point, along, strict=True))


def prism(body: ShapeIndex, face: Shape, step: Sequence[float]) -> Prism:
    """The plane `face` of `body` swept by the vector `step` (mm).

    The kernel merges two round walls on one cylinder only when their axes point the same way, and the sense of a
    swept wall's axis follows the sense of the sweep; so of the two ways to sweep the better one is taken.
    """
    forward = _sweep(face, step, backwards=False)
    clashes = _axis_clashes(body, face, forward.shape)
    if not clashes:
        return forward
    backward = _sweep(face, step, backwards=True)
    return backward if _axis_clashes(body, face, backward.shape) < clashes else forward


def shape_list(shapes: Sequence[Shape]) -> List_TopoDS_Shape:
    """As the kernel takes them."""
    found = List_TopoDS_Shape()
    for shape in shapes:
        found.Append(shape)
    return found


_OPERATIONS = {"unite": BRepAlgoAPI_Fuse, "subtract": BRepAlgoAPI_Cut, "common": BRepAlgoAPI_Common}


def combine(
    kind: str, body: Shape, tools: Sequence[Shape], *, merge: bool = True, keep: Sequence[Shape] = ()
) -> tuple[Shape, Trace]:
    """`unite`, `subtract` or `common`: the result and a trace of what every face, edge and vertex became.

    With `merge`, faces that meet on one surface along edges the operation made become one; splits that were there
    before stay, and edges to `keep` of what went in.  Raises EditError when the kernel gives up, SpoiledInput when
    merging damaged what it was given.
    """
    operation: BRepAlgoAPI_BooleanOperation = _OPERATIONS[kind]()
    operation.SetArguments(shape_list([body]))
    operation.SetTools(shape_list(tools))
    operation.SetNonDestructive(True)
    operation.SetRunParallel(True)
    operation.SetToFillHistory(True)
    operation.Build()
    if not operation.IsDone() or operation.Shape().IsNull():
        raise EditError("the geometry kernel could not work out where the added or cut matter meets the body")
    history = BRepTools_History()
    history.Merge(operation.History())
    result = operation.Shape()
    if merge:
        result = _merge_touched(result, body, history, keep)
    return result, tracer(history, result)


def _merge_touched(result: Shape, body: Shape, history: BRepTools_History, keep: Sequence[Shape]) -> Shape:
    """Merge faces on one surface, but only across edges next to a face that the operation changed.

    The kernel's merging may shift curves of shared edges along a periodic surface in place, which can leave merged
    faces, and curved faces beside them, with curves that do not fit (rounds at the end of a rib, for one).  So
    these are checked.
    """
    before, after = ShapeIndex(body), ShapeIndex(result)
    known = [before.find("face", f) >= 0 for f in after.all("face")]
    between = [(i, set(beside)) for i, beside in enumerate(after.faces_of_edges) if len(set(beside)) > 1]
    touched = [beside for _, beside in between if not all(known[f] for f in beside)]
    pairs = [list(beside)[:2] for beside in touched]
    alike = {f for pair in pairs if _may_be_one(*(after.get("face", f) for f in pair)) for f in pair}
    if not alike:
        return result
    round_ones = {f for f in alike if face_kind(after.get("face", f)) != "plane"}
    around = {f for _, beside in between if round_ones & beside for f in beside}
    apart = [after.get("edge", i) for i, beside in between if all(known[f] for f in beside)]
    if keep:
        trace = tracer(history, result)
        apart += [now for edge in keep for now in trace(edge)]
    whole, further = merged(result, apart, risky=[after.get("face", f) for f in sorted(around)])
    now = ShapeIndex(whole)
    curved = {i for i, f in enumerate(now.all("face")) if before.find("face", f) < 0 and face_kind(f) != "plane"}
    ring = {f for beside in now.faces_of_edges if curved & set(beside) for f in beside}
    suspects = [f for f in (now.get("face", i) for i in ring) if face_kind(f) != "plane"]
    suspects += [f for f in before.all("face") if now.find("face", f) < 0 and face_kind(f) != "plane"]
    if any(not BRepCheck_Analyzer(f, True, True).IsValid() for f in suspects):
        raise SpoiledInput
    history.Merge(further)
    return whole


def _may_be_one(a: Shape, b: Shape) -> bool:
    """Whether the surfaces of two faces have one kind, for planes one direction, for cylinders one size and axis."""
    kind = face_kind(a)
    if kind != face_kind(b):
        return False
    if kind == "plane":
        return abs(_along(plane_normal(a), plane_normal(b))) > 1 - 1e-8
    if kind == "cylinder":
        one, other = (BRepAdaptor_Surface(as_face(f), False).Cylinder() for f in (a, b))
        alike = abs(one.Radius() - other.Radius()) < 1e-6 and one.Axis().IsParallel(other.Axis(), 1e-6)
        return bool(alike and gp_Lin(one.Axis()).Distance(other.Axis().Location()) < 1e-6)
    return True


def _along(a: Sequence[float], b: Sequence[float]) -> float:
    return sum(x * y for x, y in zip(a, b, strict=True))


def tracer(history: BRepTools_History, result: Shape) -> Trace:
    present = {kind: shape_map(result, kind) for kind in ("face", "edge", "vertex")}
    by_type = {KINDS[kind]: found for kind, found in present.items()}

    def trace(shape: Shape) -> list[Shape]:
        if by_type[shape.ShapeType()].Contains(shape):
            return [shape]
        if history.IsRemoved(shape):
            return []
        return items(history.Modified(shape))

    return trace


def single_solid(shape: Shape) -> Shape:
    """The solid itself where a compound holds just one."""
    solids = parts_of(shape, "solid")
    return solids[0] if len(solids) == 1 else shape
