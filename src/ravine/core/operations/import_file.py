"""Bring a file into the model."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from .. import formats
from ..errors import EditError, FormatError
from ..kernel import serial
from ..kernel.boolean import combine
from ..kernel.check import is_closed
from ..kernel.exchange import ReadNode, ReadPart
from ..kernel.rebuild import rooted
from ..kernel.shape_matching import matched
from ..kernel.shapes import Shape, ShapeIndex, compound, parts_of, placed
from ..kernel.tessellate import mesh, mesh_afresh, view_deflection, whole_mesh
from ..local.conversion import converted
from ..local.topology import SolidTopology
from ..mending.findings import KINDS
from ..mending.ladder import EVERYTHING, mended, size_of
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Node, Snapshot
from ..model.trimesh_body import TriangleMesh
from ..model.words import NAME, plain_text, plural
from ..rigid import IDENTITY, Rigid
from ..sketch.drawing import Pen
from ..sketch.entities import Picture, Sketch
from ..sketch.strokes import lay
from .sketching import with_ids
from .stand_in import put_all
from .work import Fact, Operation, Outcome, Work

NO_NAMES = (
    r"((open ?cascade )?(step|iges) translator.*|(part|body|solid|compound|shell|shape|product|assembly|component)?"
    r"|none|no ?name|unnamed|untitled|default)[ _.-]*\d*([._-]\d+)*"
)
LIGHT = 2e-3  # of the size, how far the triangles of a light reference may lie off


@dataclass(frozen=True, kw_only=True)
class ImportFile(Operation):
    """Reads STEP and IGES with tree, names and colours, the kernel's B-rep, STL, OBJ, PLY, 3MF and glTF as
    meshes, IDF boards with their library."""

    path: str
    units: str | None = None
    name_as: str | None = None
    what: str = "parts"
    tree: str = "kept"
    heal: str = "usual"
    widest: float | None = None

    def title_of_file(self) -> str:
        return self.name_as or os.path.basename(self.path)

    def do(self, work: Work) -> Outcome:
        name = self.title_of_file()
        kind = formats.sniff(self.path, name)
        found = formats.reader(kind)(self.path, formats.ReadOptions(self.units), work.progress)
        stem = plain_text(os.path.splitext(name)[0], NAME) or "Part"
        _with_plain_names(found, stem)
        if len(found.roots) == 1 and (kind not in ("step", "iges", "idf") or _says_nothing(found.roots[0].name)):
            _named_after(found, stem)  # not after the passing file that was read
        if self.tree == "one":
            found = _in_one(found, stem)
        snapshot, bodies, recast = work.snapshot, [], 0
        heal = self.heal if self.heal != "usual" else "stitch" if kind in formats.SURFACES else "leave"
        healed: dict[str, int] = {}
        for number, part in enumerate(found.parts):
            work.progress(0.65 + 0.25 * number / len(found.parts), f"part {number + 1} of {len(found.parts)}")
            if isinstance(part, ReadPart):
                part, did = self._healed(part, heal)
                for code, count in did.items():
                    healed[code] = healed.get(code, 0) + count
                if self.what == "light":
                    part = _light(part)
                else:
                    part, count = _recast(part)
                    recast += count
            body, snapshot = _body(work, snapshot, part, found.colours.get(number))
            if self.what != "parts":
                body = replace(body, locked=True)
                snapshot = snapshot.with_body(body)
            bodies.append(body)
        if found.strokes or found.picture:
            snapshot = _sketched(work, snapshot, found, stem)
        for root in found.roots:
            top, snapshot = _node(snapshot, root, bodies)
            snapshot = replace(snapshot, roots=(*snapshot.roots, top))
        snapshot, stood = put_all(snapshot, set(snapshot.nodes) - set(work.snapshot.nodes))
        faces = sum(len(b.faces) for b in bodies)
        facts = [Fact("parts", "parts", float(len(bodies)), "count"), Fact("faces", "faces", float(faces), "count")]
        read = [work.geometry.get(b.shape) for b in bodies]
        triangles = sum(len(m.triangles) for m in read if isinstance(m, TriangleMesh))
        if triangles:
            facts[1] = Fact("triangles", "triangles", float(triangles), "count")
        if found.strokes:
            facts = [Fact("curves", "curves", float(len(found.strokes)), "count")]
        if found.picture:
            facts = [Fact("picture", "picture", f"{found.picture[0]} × {found.picture[1]} pixels")]
        warnings = list(found.warnings)
        if recast:
            warnings.append(f"{plural(recast, 'spline face')} laid on the plane or round form that it really has")
        if stood:
            warnings.append(f"{plural(stood, 'component')} replaced by the parts that stand in for them")
        warnings += [f"put right: {n} {KINDS[code].one if n == 1 else KINDS[code].many}" for code, n in healed.items()]
        open_bodies = [b.name for b in bodies if b.kind == "surface"]
        if open_bodies:
            warnings.append(f"{plural(len(open_bodies), 'part')} not closed to a solid: {', '.join(open_bodies[:3])}")
        return Outcome(snapshot, tuple(facts), tuple(warnings))

    def _healed(self, part: ReadPart, heal: str) -> tuple[ReadPart, dict[str, int]]:
        """Loose surfaces stitched or mended; colours of faces go with the faces that carried them."""
        if heal == "leave" or (parts_of(part.shape, "solid") and is_closed(part.shape)):
            return part, {}
        only = EVERYTHING if heal == "mend" else frozenset(("gap", "turned face"))
        found = mended(part.shape, self.widest, only)
        if not found.done:
            return part, {}
        near = matched(ShapeIndex(part.shape), ShapeIndex(found.shape), max(0.05, found.tolerance))["face"]
        colours = {k: part.face_colours[old] for k, old in enumerate(near) if old in part.face_colours}
        return replace(part, shape=found.shape, face_colours=colours), found.done


def _says_nothing(name: str) -> bool:
    """Whether it is what writers put where nobody gave a name."""
    return bool(re.fullmatch(NO_NAMES, name.strip(), re.IGNORECASE))


def _with_plain_names(found: formats.Imported, stem: str) -> None:
    """Names come from strangers: on one line, no longer than a name is, nothing that turns letters round."""

    def visit(nodes: list[ReadNode]) -> None:
        for node in nodes:
            node.name = plain_text(node.name, NAME) or stem
            node.attributes = {plain_text(k, NAME): plain_text(v, 4 * NAME) for k, v in node.attributes.items()}
            visit(node.children)

    visit(found.roots)
    for number, part in enumerate(found.parts):
        if isinstance(part, ReadPart):
            found.parts[number] = replace(part, name=plain_text(part.name, NAME) or stem)
        else:
            found.parts[number] = (plain_text(part[0], NAME) or stem, part[1])


def _named_after(found: formats.Imported, stem: str) -> None:
    """A mesh or shape file carries no name of its own but that of the file it was read from."""
    former = found.roots[0].name
    found.roots[0].name = stem
    if len(found.parts) == 1:
        part = found.parts[0]
        name = part.name if isinstance(part, ReadPart) else part[0]
        if name == former:
            found.parts[0] = replace(part, name=stem) if isinstance(part, ReadPart) else (stem, part[1])


def _in_one(found: formats.Imported, stem: str) -> formats.Imported:
    """All exact parts as one body where they stand, all meshes as another."""
    placed_parts: list[tuple[ReadPart | tuple, Rigid]] = []

    def visit(node: ReadNode, above: Rigid) -> None:
        here = above @ Rigid(node.matrix)
        if node.part is not None:
            placed_parts.append((found.parts[node.part], here))
        for child in node.children:
            visit(child, here)

    for root in found.roots:
        visit(root, IDENTITY)
    shapes = [placed(p.shape, m) for p, m in placed_parts if isinstance(p, ReadPart)]
    soups = [_moved(m, p[1].corners) for p, m in placed_parts if isinstance(p, tuple)]
    parts: list[ReadPart | tuple] = []
    if shapes:
        whole = compound(shapes)
        if _all_solid(shapes):
            united = combine("unite", shapes[0], shapes[1:], merge=False)[0]
            whole = parts_of(united, "solid")[0] if len(parts_of(united, "solid")) == 1 else whole
        parts.append(ReadPart(stem, shapes[0] if len(shapes) == 1 else whole))
    if soups:
        parts.append((stem, TriangleMesh.from_soup(np.concatenate(soups))))
    roots = [ReadNode(stem, IDENTITY, k) for k in range(len(parts))]
    return replace(found, parts=parts, roots=roots, colours={})


def _moved(matrix: Rigid, corners: np.ndarray) -> np.ndarray:
    return matrix.points(corners)


def _all_solid(shapes: list[Shape]) -> bool:
    return len(shapes) > 1 and all(len(parts_of(s, "solid")) == 1 for s in shapes)


def _light(part: ReadPart) -> tuple[str, TriangleMesh]:
    copy = serial.from_bytes(serial.to_bytes(part.shape))
    mesh_afresh(copy, LIGHT * size_of(copy), 0.5)
    points, triangles = whole_mesh(copy)
    return part.name, TriangleMesh.from_soup(points[triangles])


def _recast(part: ReadPart) -> tuple[ReadPart, int]:
    """Spline faces with a real form get it; their order stays."""
    if not parts_of(part.shape, "solid") or not is_closed(part.shape):
        return part, 0
    topology, count = converted(SolidTopology(rooted(ShapeIndex(part.shape))))
    return (replace(part, shape=topology.index.shape), count) if count else (part, 0)


def _body(work: Work, snapshot: Snapshot, part: ReadPart | tuple, colour: str | None = None) -> tuple[Body, Snapshot]:
    (number,), snapshot = snapshot.fresh(1)
    if isinstance(part, tuple):
        name, triangles = part
        (face,), snapshot = snapshot.fresh(1)
        body = Body(number, name, "mesh", work.geometry.put_mesh(triangles), (face,), finish=colour)
        return body, snapshot.with_body(body)
    faces = parts_of(part.shape, "face")
    if not faces:
        raise FormatError(f"{part.name} in the file has no face that could be read; the file may be damaged")
    solid = bool(parts_of(part.shape, "solid")) and is_closed(part.shape)
    body = Body(number, part.name, "solid" if solid else "surface", "", (), finish=part.colour)
    snapshot = reshape_body(snapshot, work.geometry, body, Solid(part.shape), blank_ids(part.shape))
    body = snapshot.body(number)
    finishes = {body.faces[i]: c for i, c in part.face_colours.items() if c != part.colour}
    body = replace(body, face_finishes=finishes)
    mesh(part.shape, view_deflection(part.shape))
    return body, snapshot.with_body(body)


def _sketched(work: Work, snapshot: Snapshot, found: formats.Imported, name: str) -> Snapshot:
    """A drawing as a sketch on the plane XY; a picture behind an empty one, 100 mm wide, in its middle."""
    (number,), snapshot = snapshot.fresh(1)
    if found.picture:
        wide, tall, data = found.picture
        picture = Picture(work.geometry.put_picture(data), (wide, tall))
        picture = replace(picture, corner=(-picture.wide / 2, -picture.tall / 2))
        return snapshot.with_sketch(Sketch(number, name, picture=picture))
    work.progress(0.8, "drawing")

    def drawn(ids: Iterator[int]) -> Sketch:
        pen = Pen(Sketch(number, name), ids)
        lay(pen, found.strokes)
        return pen.sketch

    return with_ids(snapshot, drawn)


def _node(snapshot: Snapshot, read: ReadNode, bodies: list[Body]) -> tuple[int, Snapshot]:
    (number,), snapshot = snapshot.fresh(1)
    children = []
    for child in read.children:
        below, snapshot = _node(snapshot, child, bodies)
        children.append(below)
    body = None if read.part is None else bodies[read.part].id
    if body is None and not children:
        raise EditError(f"the group {read.name} in the file is empty")
    node = Node(number, read.name, Rigid(read.matrix), tuple(children), body, dict(read.attributes))
    return number, snapshot.with_node(node)
