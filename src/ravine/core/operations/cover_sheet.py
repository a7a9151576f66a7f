"""Faces of a solid covered with sheet, holes included: a part of its own, at a distance from them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import CannotDo
from ..kernel.boolean import combine, single_solid
from ..kernel.shapes import Shape, parts_of
from ..model.records import SHEETS
from ..model.references import Reference
from ..model.sheet_data import SheetData
from ..model.snapshot import Body, Snapshot
from ..sheet.corner import Corners
from ..sheet.views import flat_of
from .new_material import as_part
from .push import Push
from .reshaping import place_of
from .sheet import fault_words, sheet_facts
from .sheet_corners import bent
from .work import Operation, Outcome, Work

NOTHING = 1e-9  # mm


@dataclass(frozen=True, kw_only=True)
class CoverSheet(Operation):
    """faces: flat ones of one solid that hang together; distance: mm of room between, 0 to lie on; thickness: mm;
    radius: mm, inner, of the bends over its edges, which stay sharp where it is left out."""

    faces: tuple[Reference, ...]
    thickness: float = 1.5
    distance: float = 0.0
    radius: float | None = None
    called: str = "Cover"

    def do(self, work: Work) -> Outcome:
        body = self.faces[0].owner[0]
        if any(f.owner[0].id != body.id for f in self.faces):
            raise CannotDo("the faces are of several parts; cover one after the other", self.faces, field="faces")
        inner = self._grown(work, self.distance, body)
        outer = self._grown(work, self.distance + self.thickness, body)
        work.progress(0.5, "taking the layer between")
        layer = combine("subtract", outer, [inner])[0]
        pieces = parts_of(layer, "solid")
        if len(pieces) != 1:
            raise CannotDo(f"the cover would be {len(pieces)} pieces; pick faces that hang together", self.faces,
                           field="faces")  # fmt: skip
        return self._placed(work, single_solid(layer), body)

    def _grown(self, work: Work, distance: float, body: Body) -> Shape:
        """The solid with the faces so far out."""
        if distance < NOTHING:
            return work.geometry.solid(body.shape).shape
        after = Push(faces=self.faces, distance=distance).do(work).snapshot
        return work.geometry.solid(after.body(body.id).shape).shape

    def _placed(self, work: Work, shape: Shape, body: Body) -> Outcome:
        number, snapshot = as_part(work, work.snapshot, shape, self.called, place_of(self.faces, body))
        data = SheetData(number, thickness=self.thickness)
        snapshot = snapshot.with_kept(SHEETS, {**snapshot.kept(SHEETS), number: data})
        if self.radius is not None:
            snapshot = self._bent(work, snapshot, number)
        flat = flat_of(snapshot, work.geometry, snapshot.body(number))
        words = fault_words(flat, work.geometry.solid(snapshot.body(number).shape))
        return Outcome(snapshot, sheet_facts(flat, snapshot.units), tuple(words))

    def _bent(self, work: Work, snapshot: Snapshot, number: int) -> Snapshot:
        body = snapshot.body(number)
        corners = Corners(work.geometry.solid(body.shape).topology, self.thickness).every()
        edges = [body.edges[c.outer] for c in corners]
        return bent(replace(work, snapshot=snapshot), snapshot, number, edges, self.radius)[0] if edges else snapshot
