"""Bring a file into the model."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import replace

from .. import formats
from ..errors import EditError, FormatError
from ..kernel.check import is_closed
from ..kernel.exchange import ReadNode, ReadPart
from ..kernel.rebuild import rooted
from ..kernel.shapes import ShapeIndex, parts_of
from ..kernel.tessellate import mesh, view_deflection
from ..local.conversion import converted
from ..local.fabric import Fabric
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Node, Snapshot
from ..model.words import plural
from ..sketch.drawing import Pen
from ..sketch.entities import Picture, Sketch
from ..sketch.strokes import lay
from .base import Edit, Fact, Outcome, Work, edit, gap
from .gaps import ChoiceGap, Context, FileGap, TextGap
from .sketching import with_ids


@edit
class ImportFile(Edit):
    name = "import"
    title = "Bring in a file"
    sentence = "Bring in {path}"
    past = "Brought in {path}"
    help = (
        "Reads STEP with its assembly tree, names and colours, or STL as a mesh; DXF and SVG drawings become sketches, "
        "and a PNG or JPEG picture lies behind an empty one.  STEP declares its unit; for STL the unit must be given."
    )
    stages = ("Bring in",)
    rank = 5
    drawing = "arrive"

    path: str = gap(FileGap("the file", "Path of a STEP, STL, DXF, SVG, PNG or JPEG file."))
    units: str = gap(
        ChoiceGap("the unit", "For formats that carry none (STL), or instead of what a DXF says.", default=None,
                  options={u: u for u in ("mm", "cm", "m", "in", "ft")})
    )  # fmt: skip
    name_as: str = gap(TextGap("the name", "What the file is called; its own name when left out.", default=None))

    def told(self, context: Context) -> str:
        return f"Brought in {self.title_of_file()}"

    def title_of_file(self) -> str:
        return self.name_as or os.path.basename(self.path)

    def apply(self, work: Work) -> Outcome:
        name = self.title_of_file()
        kind = formats.sniff(self.path, name)
        found = formats.READERS[kind](self.path, formats.ReadOptions(self.units), work.progress)
        stem = os.path.splitext(name)[0]
        if kind == "stl":
            found.parts = [(stem, part[1]) for part in found.parts if isinstance(part, tuple)]
            found.roots[0].name = stem
        snapshot, bodies, recast = work.snapshot, [], 0
        for number, part in enumerate(found.parts):
            work.progress(0.65 + 0.25 * number / len(found.parts), f"part {number + 1} of {len(found.parts)}")
            if isinstance(part, ReadPart):
                part, count = _recast(part)
                recast += count
            body, snapshot = _body(work, snapshot, part)
            bodies.append(body)
        if found.strokes or found.picture:
            snapshot = _sketched(work, snapshot, found, stem)
        for root in found.roots:
            top, snapshot = _node(snapshot, root, bodies)
            snapshot = replace(snapshot, roots=(*snapshot.roots, top))
        faces = sum(len(b.faces) for b in bodies)
        facts = [Fact("parts", "parts", float(len(bodies)), "count"), Fact("faces", "faces", float(faces), "count")]
        if found.strokes:
            facts = [Fact("curves", "curves", float(len(found.strokes)), "count")]
        if found.picture:
            facts = [Fact("picture", "picture", f"{found.picture[0]} × {found.picture[1]} pixels")]
        warnings = list(found.warnings)
        if recast:
            warnings.append(f"{plural(recast, 'spline face')} laid on the plane or round form that it really has")
        open_bodies = [b.name for b in bodies if b.kind == "surface"]
        if open_bodies:
            warnings.append(f"{plural(len(open_bodies), 'part')} not closed to a solid: {', '.join(open_bodies[:3])}")
        return Outcome(snapshot, tuple(facts), tuple(warnings))


def _recast(part: ReadPart) -> tuple[ReadPart, int]:
    """Spline faces with a real form get it; their order stays."""
    if not parts_of(part.shape, "solid") or not is_closed(part.shape):
        return part, 0
    fabric, count = converted(Fabric(rooted(ShapeIndex(part.shape))))
    return (replace(part, shape=fabric.index.shape), count) if count else (part, 0)


def _body(work: Work, snapshot: Snapshot, part: ReadPart | tuple) -> tuple[Body, Snapshot]:
    (number,), snapshot = snapshot.fresh(1)
    if isinstance(part, tuple):
        name, triangles = part
        (face,), snapshot = snapshot.fresh(1)
        body = Body(number, name, "mesh", work.geometry.put_mesh(triangles), (face,))
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
    return number, snapshot.with_node(Node(number, read.name, tuple(read.matrix), tuple(children), body))
