"""Save parts, or the whole model, as a file."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .. import formats
from ..errors import EditError
from ..formats.reading import TriangleWrite
from ..kernel import serial
from ..kernel.exchange import WriteNode, WritePart
from ..kernel.shapes import ShapeIndex, placed
from ..kernel.tessellate import face_mesh, join_meshes, mesh_afresh, whole_mesh
from ..model.finishes import colour_of
from ..model.geometry import Solid, TriangleMesh
from ..model.references import Reference
from ..model.snapshot import Node, Occurrence, Snapshot, split_id, text_id
from ..rigid import Rigid
from ..units import LENGTHS
from .work import Fact, Operation, Outcome, Work

Floats = NDArray[np.float64]
Ints = NDArray[np.int32]
_KINDS = {"step": "STEP", "iges": "IGES", "brep": "kernel B-rep", "stl": "STL", "obj": "OBJ", "ply": "PLY",
          "3mf": "3MF", "glb": "GLB"}  # fmt: skip
_TRIANGLES = ("obj", "ply", "3mf", "glb")
_ENDINGS = {"iges": "igs"}


@dataclass(frozen=True, kw_only=True)
class Export(Operation):
    """Writes STEP or IGES (exact, with names and colours."""

    parts: tuple[Reference, ...] = ()
    format: str = "step"
    units: str = "mm"
    tolerance: float = 0.05
    file_name: str | None = None

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        chosen = [i.number for i in self.parts] or list(snapshot.roots)
        if not chosen:
            raise EditError("the model is empty, so there is nothing to save; bring in a file first", field="parts")
        leaves = {n for c in chosen for n in snapshot.leaves_below(c)}
        shown = [o for o in snapshot.occurrences() if o.node.id in leaves]
        stem = self.file_name or snapshot.nodes[chosen[0]].name
        stem = re.sub(r"[^\w.() -]+", "_", stem).strip(". ") or "part"
        work.progress(0.2, "writing")
        if self.format == "stl":
            data, facts = _stl(work, shown, self.units, self.tolerance)
        elif self.format == "brep":
            data, facts = formats.writer("brep")(_exact(work, shown, "B-rep")), ()
        elif self.format in _TRIANGLES:
            data, facts = _triangles(work, shown, self.format, self.units, self.tolerance)
        else:
            data, facts = _exact_tree(work, snapshot, chosen, shown, stem, self.format), ()
        size = Fact("file_size", "file size", f"{len(data) / 1024:,.0f} kB")
        return Outcome(snapshot, (*facts, size), files={f"{stem}.{_ENDINGS.get(self.format, self.format)}": data})


def _refuse_meshes(shown: list[Occurrence], what: str) -> None:
    for found in shown:
        if found.body.kind == "mesh":
            raise EditError(
                f"{found.body.name} is a mesh of triangles, and {what} carries exact surfaces; save it as STL, or "
                f"save the other parts", [text_id("node", found.node.id)], nearest="stl", field="format")  # fmt: skip


def _exact(work: Work, shown: list[Occurrence], what: str) -> list:
    _refuse_meshes(shown, what)
    return [placed(work.geometry.solid(o.body.shape).shape, o.matrix) for o in shown]


def _meshes(work: Work, shown: list[Occurrence], tolerance: float) -> Iterator[tuple[Occurrence, Floats, Ints]]:
    """Points in the body's coordinates and triangles of each place; a body that stands in several is meshed once."""
    known: dict[int, tuple[Floats, Ints]] = {}
    for number, found in enumerate(shown):
        work.progress(0.2 + 0.7 * number / len(shown), f"meshing {found.body.name}")
        geometry = work.geometry.get(found.body.shape)
        if found.body.id not in known:
            if isinstance(geometry, TriangleMesh):
                known[found.body.id] = geometry.points, geometry.triangles
            else:
                known[found.body.id] = whole_mesh(_meshed_copy(geometry, tolerance))
        yield found, *known[found.body.id]


def _stl(work: Work, shown: list[Occurrence], units: str, tolerance: float) -> tuple[bytes, tuple[Fact, ...]]:
    corners = []
    for found, points, triangles in _meshes(work, shown, tolerance):
        corners.append(found.matrix.points(points)[triangles])
    soup = np.concatenate(corners) / LENGTHS[units]
    return formats.writer("stl")(soup), (Fact("triangles", "triangles", float(len(soup)), "count"),)


def _triangles(
    work: Work, shown: list[Occurrence], kind: str, units: str, tolerance: float
) -> tuple[bytes, tuple[Fact, ...]]:
    parts = [
        TriangleWrite(found.node.name, found.body.id, points, triangles, found.matrix, colour_of(found.body.finish))
        for found, points, triangles in _meshes(work, shown, tolerance)
    ]
    if kind == "obj" and work.snapshot.sets:
        parts = [p for part, found in zip(parts, shown, strict=True) for p in _by_sets(work, found, part, tolerance)]
    count = sum(len(p.triangles) for p in parts)
    return formats.writer(kind)(parts, units), (Fact("triangles", "triangles", float(count), "count"),)


def _by_sets(work: Work, found: Occurrence, part: TriangleWrite, tolerance: float) -> Iterator[TriangleWrite]:
    """What belongs to a named set of faces as a group of its own, called after part and set."""
    geometry = work.geometry.get(found.body.shape)
    left = set(found.body.faces)
    rows: list[tuple[str, set[int]]] = []
    for name, members in work.snapshot.sets.items():
        mine = {split_id(m)[1] for m in members if m.startswith("f")} & left
        if mine:
            rows.append((f"{part.name} {name}", mine))
            left -= mine
    if not rows or not isinstance(geometry, Solid):
        yield part
        return
    meshes = [face_mesh(f) for f in ShapeIndex(_meshed_copy(geometry, tolerance)).all("face")]
    for name, faces in [(part.name, left), *rows]:
        if faces:
            points, triangles = join_meshes([meshes[found.body.faces.index(f)] for f in sorted(faces)])
            yield replace(part, name=name, points=points, triangles=triangles)


def _meshed_copy(solid: Solid, tolerance: float) -> object:
    """A copy of its own, so that the view keeps its coarser triangles."""
    copy = serial.from_bytes(serial.to_bytes(solid.shape))
    mesh_afresh(copy, tolerance, 0.2)
    return copy


def _exact_tree(
    work: Work, snapshot: Snapshot, chosen: list[int], shown: list[Occurrence], title: str, kind: str
) -> bytes:
    _refuse_meshes(shown, _KINDS[kind])
    numbers: dict[int, int] = {}
    parts: list[WritePart] = []
    for found in shown:
        body = found.body
        if body.id not in numbers:
            numbers[body.id] = len(parts)
            colours = {body.faces.index(f): c[:7] for f, c in body.face_finishes.items()}
            parts.append(WritePart(body.name, work.geometry.solid(body.shape).shape, colour_of(body.finish), colours))

    def write_node(node: Node, matrix: Rigid) -> WriteNode:
        below = [write_node(snapshot.nodes[c], snapshot.nodes[c].placement) for c in node.children]
        return WriteNode(node.name, matrix, None if node.body is None else numbers[node.body], below)

    places = {node.id: matrix for node, matrix, _ in snapshot.walk()}
    roots = [write_node(snapshot.nodes[c], places[c]) for c in chosen]
    return formats.writer(kind)(roots, parts, title)
