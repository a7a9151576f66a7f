"""Split faces along lines: by a plane, between two corners, square to an edge, by another part, along parameters."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel.cells import parameter_line, section
from ..kernel.queries import place_on
from ..kernel.shapes import Shape, placed
from ..local.surfaces import Floats, Surface
from ..local.swept_cells import spread
from ..model.references import Reference, part_of
from ..model.snapshot import Body
from ..rigid import Rigid
from .axes import face_middle
from .face_division import with_split_faces
from .planes import corner_place, plane_through
from .reshaping import faces_by_body, place_of, vector
from .work import Fact, Operation, Outcome, Work

WITH = ("way", "plane", "corners", "square", "part")


@dataclass(frozen=True, kw_only=True)
class SplitFace(Operation):
    """Divides faces without changing the solid."""

    faces: tuple[Reference, ...]
    way: str = "across"
    tool: tuple[Reference, ...] | None = None
    share: float = 0.5

    def do(self, work: Work) -> Outcome:
        if self.way in WITH and not self.tool:
            raise EditError("still empty: what it is split by", field="tool")
        snapshot, more = work.snapshot, 0
        for body, faces in faces_by_body(work.snapshot, self.faces).items():
            now = snapshot.body(body)
            lines = [line for f in faces for line in self._lines(work, now, now.faces.index(f))]
            if lines:
                snapshot, grown = with_split_faces(work, snapshot, now, lines, "tool")
                more += grown
        if not more:
            raise EditError("the line does not run across the picked faces from border to border, so nothing would be "
                            "split", self.faces, field="tool" if self.way in WITH else "share")  # fmt: skip
        return Outcome(snapshot, (Fact("faces", "more faces", float(more), "count"),))

    def _lines(self, work: Work, body: Body, number: int) -> list[Shape]:
        """Edges on one face, in the coordinates of its body."""
        solid = work.geometry.solid(body.shape)
        face = solid.index.get("face", number)
        if self.way in ("across", "along"):
            return parameter_line(face, self.way == "across", self.share)
        assert self.tool
        inside = place_of(self.faces, body).inverse
        if self.way == "part":
            return [line for shape in self._parts(work, inside, body) for line in section(face, shape)]
        point, normal = self._plane(work, body, number)
        surface = Surface.plane(vector(inside.point(point.tolist())),
                                vector(inside.direction(normal.tolist())))  # fmt: skip
        return section(face, spread(surface, np.array(solid.box)))

    def _parts(self, work: Work, inside: Rigid, body: Body) -> list[Shape]:
        assert self.tool
        found = []
        for ident in self.tool:
            kind, number = ident.kind, ident.number
            leaves = work.snapshot.leaves_below(number) if kind == "node" else []
            for place in work.snapshot.occurrences():
                if place.node.id in leaves and place.body.kind != "mesh" and place.body.id != body.id:
                    shape = work.geometry.solid(place.body.shape).shape
                    found.append(placed(shape, (inside @ place.matrix)))
        if not found:
            raise EditError("pick another part whose outline splits the faces", self.tool, field="tool")
        return found

    def _plane(self, work: Work, body: Body, number: int) -> tuple[Floats, Floats]:
        """A point and the normal, model coordinates."""
        assert self.tool
        kinds = [t.kind for t in self.tool]
        if self.way == "corners":
            if kinds != ["vertex", "vertex"]:
                raise EditError("a line between corners takes two corners", self.tool, field="tool")
            a, b = (corner_place(work, t) for t in self.tool)
            _, normal = face_middle(
                work, part_of(next(f for f in self.faces if f.body and f.body.id == body.id), "face", number)
            )
            across = np.cross(b - a, normal)
            if np.linalg.norm(across) < 1e-9:
                raise EditError("the two corners lie behind one another as seen on the face", self.tool, field="tool")
            return a, across / np.linalg.norm(across)
        if self.way == "square":
            if kinds != ["edge"]:
                raise EditError("square to an edge takes one edge", self.tool, field="tool")
            owner, index = self.tool[0].owner
            point, along = place_on(work.geometry.solid(owner.shape).index.get("edge", index), self.share)
            matrix = self.tool[0].matrix
            return vector(matrix.point(point)), vector(matrix.direction(along))
        plane = plane_through(work, self.tool, field="tool")
        return vector(plane.origin), vector(plane.normal)
