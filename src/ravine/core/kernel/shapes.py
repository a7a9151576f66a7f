"""Shapes and their faces, edges and vertices in map order (stable through binary write and read)."""

from __future__ import annotations

import weakref
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as _Ancestors,
)
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as _Map
from OCP.gp import gp_Trsf
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_SHELL, TopAbs_SOLID, TopAbs_VERTEX, TopAbs_WIRE
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Shape

Shape = Any  # a TopoDS_Shape; opaque outside this package
Loop = tuple[tuple[int, bool], ...]  # (edge, used against its own direction), as seen in the face taken forward


@dataclass(frozen=True)
class Loops:
    """Of one face.  ordered: the outer one first; stored: in the order in which the face lists them."""

    ordered: tuple[Loop, ...]
    stored: tuple[Loop, ...]


KINDS = {
    "face": TopAbs_FACE,
    "edge": TopAbs_EDGE,
    "vertex": TopAbs_VERTEX,
    "solid": TopAbs_SOLID,
    "shell": TopAbs_SHELL,
    "wire": TopAbs_WIRE,
}


def as_face(shape: Shape) -> Any:
    return TopoDS.Face(shape)


def as_edge(shape: Shape) -> Any:
    return TopoDS.Edge(shape)


def as_vertex(shape: Shape) -> Any:
    return TopoDS.Vertex(shape)


def shape_map(shape: Shape, kind: str) -> Any:
    found = _Map()
    TopExp.MapShapes_s(shape, KINDS[kind], found)
    return found


def parts_of(shape: Shape, kind: str) -> list[Shape]:
    """Faces, edges … of a shape, each once, in map order."""
    found = shape_map(shape, kind)
    return [found.FindKey(i) for i in range(1, found.Extent() + 1)]


def items(shape_list: Any) -> list[Shape]:
    """A kernel list as a Python list.  The binding ends an iteration with a C++ exception, which costs more than
    all else in lists this short, so one or two entries are taken by their ends."""
    size = shape_list.Size()
    if size == 0:
        return []
    if size == 1:
        return [shape_list.First()]
    if size == 2:
        return [shape_list.First(), shape_list.Last()]
    return list(shape_list)


def compound(shapes: Iterable[Shape]) -> Shape:
    whole = TopoDS_Compound()
    builder = BRep_Builder()
    builder.MakeCompound(whole)
    for shape in shapes:
        builder.Add(whole, shape)
    return whole


def transform_of(matrix: Sequence[float]) -> gp_Trsf:
    """Rigid transform from 12 numbers, three rows of a 3x4 matrix."""
    trsf = gp_Trsf()
    trsf.SetValues(*matrix)
    return trsf


def matrix_of(location: TopLoc_Location) -> tuple[float, ...]:
    trsf = location.Transformation()
    return tuple(trsf.Value(r, c) for r in (1, 2, 3) for c in (1, 2, 3, 4))


def placed(shape: Shape, matrix: Sequence[float]) -> Shape:
    """The same shape at another place; geometry is shared, not copied."""
    return shape.Moved(TopLoc_Location(transform_of(matrix)))


def unplaced(shape: Shape) -> Shape:
    return shape.Located(TopLoc_Location())


def copied(shape: Shape) -> tuple[Shape, Callable[[Shape], Shape]]:
    """A copy that shares nothing, and what each part of the shape is in it."""
    copier = BRepBuilderAPI_Copy(shape, True, False)
    return copier.Shape(), copier.ModifiedShape


@dataclass(frozen=True)
class Differences:
    """What is new in a shape that has the parts of another in the same order: numbers of faces, edges, vertices.
    The other is held weakly, or a row of edits would keep every state alive."""

    of: weakref.ref[ShapeIndex]
    faces: frozenset[int]
    edges: frozenset[int]
    vertices: frozenset[int]


class _Overlay:
    """The maps of a shape that has the parts of another in the same order, but for some that were made anew."""

    def __init__(self, base: ShapeIndex, made: Mapping[str, Mapping[int, Shape]]) -> None:
        self.base = base
        self.made = {  # oriented as they are met in the whole
            kind: {n: part.Oriented(base.get(kind, n).Orientation()) for n, part in row.items()}
            for kind, row in made.items()
        }
        self._fresh: dict[str, tuple[Any, list[int]]] = {}
        for kind, row in self.made.items():
            known = _Map()
            for part in row.values():
                known.Add(part)
            self._fresh[kind] = known, list(row)

    def get(self, kind: str, index: int) -> Shape:
        found = self.made[kind].get(index)
        return self.base.get(kind, index) if found is None else found

    def find(self, kind: str, shape: Shape) -> int:
        known, numbers = self._fresh[kind]
        at = known.FindIndex(shape)
        if at:
            return numbers[at - 1]
        found = self.base.find(kind, shape)
        return -1 if found in self.made[kind] else found


class ShapeIndex:
    """Maps of one shape, made once: sub-shapes by index (from 0) and who touches whom."""

    def __init__(
        self, shape: Shape, like: ShapeIndex | None = None, made: Mapping[str, Mapping[int, Shape]] | None = None
    ) -> None:
        """like: the index of a shape with the same topology, whose tables hold here, too; made: parts by number, if
        they are all that is not shared with it, so that nothing has to be mapped before `settle`."""
        self.shape = shape
        self._over = _Overlay(like, made) if like is not None and made is not None else None
        self._maps = {} if self._over else self._mapped()
        # topology that is read where it is first needed, and shared with shapes that have the same
        self.loops: dict[int, Loops] = like.loops if like else {}
        self.ends: dict[int, tuple[int, int]] = like.ends if like else {}
        self.boxes: Any = None  # (faces, 6), see classify.boxes_of
        self.polylines: dict[int, Any] = {}  # of edges, as the view draws them
        self.rings: dict[int, list[Any]] = {}  # of large plane faces: the polygons of their loops
        self.corners: Any = None  # (vertices, 3), once the view has asked
        self.meshed: float | None = None  # the deflection, once every face has triangles
        self.differences: Differences | None = None
        self.sound = False  # the whole of it has passed the kernel's check
        self._sound_beside: weakref.ref[ShapeIndex] | None = None
        if like is not None:
            self.__dict__["faces_of_edges"] = like.faces_of_edges
            self.__dict__["edges_of_faces"] = like.edges_of_faces

    def passed(self, before: ShapeIndex | None) -> None:
        """The kernel's check found nothing in the faces that are not shared with `before`, or in the whole of it."""
        self.sound = before is None
        self._sound_beside = None if before is None else weakref.ref(before)

    def has_passed(self, before: ShapeIndex | None) -> bool:
        """Whether its faces need no further look beside the sound body `before`."""
        return self.sound or (before is not None and self._sound_beside is not None and self._sound_beside() is before)

    def _mapped(self) -> dict[str, Any]:
        return {kind: shape_map(self.shape, kind) for kind in ("face", "edge", "vertex")}

    def settle(self) -> bool:
        """Map the whole shape, so that nothing hangs on the index it came from.  False where the order of the parts is
        not the one that was told."""
        over, self._over = self._over, None
        if over is None:
            return True
        self._maps = self._mapped()
        return all(self.count(kind) == over.base.count(kind) for kind in over.made) and all(
            self.find(kind, part) == number for kind, row in over.made.items() for number, part in row.items()
        )

    def count(self, kind: str) -> int:
        return self._over.base.count(kind) if self._over else self._maps[kind].Extent()

    def get(self, kind: str, index: int) -> Shape:
        return self._over.get(kind, index) if self._over else self._maps[kind].FindKey(index + 1)

    def find(self, kind: str, shape: Shape) -> int:
        """Index of a sub-shape, or -1."""
        return self._over.find(kind, shape) if self._over else self._maps[kind].FindIndex(shape) - 1

    def all(self, kind: str) -> Iterator[Shape]:
        return (self.get(kind, i) for i in range(self.count(kind)))

    @cached_property
    def faces_of_edges(self) -> list[tuple[int, ...]]:
        """For each edge the faces beside it; a seam names its face twice."""
        table = _Ancestors()
        TopExp.MapShapesAndAncestors_s(self.shape, TopAbs_EDGE, TopAbs_FACE, table)
        beside: list[tuple[int, ...]] = [()] * self.count("edge")
        for i in range(1, table.Extent() + 1):
            beside[self.find("edge", table.FindKey(i))] = tuple(
                self.find("face", face) for face in items(table.FindFromIndex(i))
            )
        return beside

    @cached_property
    def edges_of_faces(self) -> list[tuple[int, ...]]:
        edges: list[list[int]] = [[] for _ in range(self.count("face"))]
        for edge, faces in enumerate(self.faces_of_edges):
            for face in dict.fromkeys(faces):
                edges[face].append(edge)
        return [tuple(row) for row in edges]


__all__ = ["Shape", "ShapeIndex", "TopoDS_Shape", "compound", "parts_of", "placed", "unplaced"]
