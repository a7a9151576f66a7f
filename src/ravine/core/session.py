"""`Model`: the scripting face of the core, and what the web, recipes and tests use alike."""

from __future__ import annotations

import os
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from .assembly.views import FreedomView, JointView, view_freedoms, view_joints
from .bill.masses import part_masses
from .bill.rows import BillRow, bill_rows
from .calls import Calls
from .clearance.standing import Finding, findings
from .dimensions.table import view_values
from .dimensions.views import DimensionView, view_dimensions
from .drawing_face import SheetFace
from .edits.perform import Change, perform
from .errors import EditError
from .features.views import FeatureView, RepeatView, SymmetryView, view_features, view_repeats, view_symmetries
from .model.geometry import GeometryStore
from .model.measure import BodyMeasure, measure_body
from .model.print_data import PrintData
from .model.query import Edge, EdgeSet, Face, FaceSet, PartSet, Scope, Vertex, every, find_edges, find_faces, find_parts
from .model.records import PRINTS
from .model.snapshot import Body, Snapshot, split_id, text_id
from .operations.save_flat import flat_file
from .operations.work import Work
from .printing.machines import machine_for
from .printing.of_model import job_of
from .printing.orientation import Orientation, orientations
from .printing.views import PrintView, stands_at, view_findings
from .review.compare import Review
from .review.compare import compare as compared
from .sheet.views import FlatView, SheetView, view_flat, view_sheet
from .shelf.items import Shelf
from .studies import study_of
from .study_face import StudyFace
from .units import LENGTHS, MODEL_UNITS, parse_length


class Model(Calls):
    """A model with its journal, in memory.

    Floats that come out are in model units (lengths), degrees never: directions are unit vectors.  Values that go
    in may be text with units or bare numbers in model units.
    """

    def __init__(
        self,
        units: str = "mm",
        *,
        snapshot: Snapshot | None = None,
        geometry: GeometryStore | None = None,
        progress: Callable[[float, str], None] | None = None,
    ) -> None:
        if units not in MODEL_UNITS:
            raise EditError(f"a model's unit is one of {', '.join(MODEL_UNITS)}, not “{units}”")
        self.geometry = geometry or GeometryStore()
        self._states = [snapshot or Snapshot(units=units)]
        self._changes: list[Change] = []
        self._at = 0
        self._progress = progress or (lambda fraction, words: None)

    @property
    def snapshot(self) -> Snapshot:
        return self._states[self._at]

    @property
    def units(self) -> str:
        return self.snapshot.units

    @property
    def journal(self) -> list[str]:
        """Sentences of the edits that led here."""
        return [c.sentence for c in self._changes[: self._at]]

    # --- editing -----------------------------------------------------------------------------------------------

    def do_named(self, name: str, values: Mapping[str, Any]) -> Change:
        _, change = perform(name, values, Work(self.snapshot, self.geometry, self._progress))
        if change.after != change.before:
            del self._states[self._at + 1 :], self._changes[self._at :]
            self._states.append(change.after)
            self._changes.append(change)
            self._at += 1
        return change

    def undo(self) -> Change:
        if self._at == 0:
            raise EditError("there is no edit to step back over")
        self._at -= 1
        return self._changes[self._at]

    def redo(self) -> Change:
        if self._at == len(self._changes):
            raise EditError("there is no edit to step forward to")
        self._at += 1
        return self._changes[self._at - 1]

    def link(self, other: Model, name: str, revision: int = 1) -> Change:
        """All parts of another model as one group; `take_over` brings it to a later state of that model.  name: which
        stands for that model in both."""
        return self.do_named("link in", {"source": self._of_other(other, name, revision)})

    def take_over(self, node: str, other: Model, name: str, revision: int) -> Change:
        return self.do_named("take newer", {"part": [node], "source": self._of_other(other, name, revision)})

    def _of_other(self, other: Model, name: str, revision: int) -> dict[str, Any]:
        address = self.geometry.put_state(other.snapshot)
        for blob in other.snapshot.addresses():
            self.geometry.add_blob(blob, other.geometry.blob(blob))
        return {"model": zlib.crc32(name.encode()), "revision": revision, "title": name, "state": address}

    def save(self, path: str | os.PathLike[str], parts: Sequence[str] = (), **options: Any) -> Path:
        """Write the model, or some parts, in the format of the path's ending.  Returns the path."""
        target = Path(path)
        kind = {"stp": "step"}.get(target.suffix[1:].lower(), target.suffix[1:].lower())
        change = self.do_named("export", {"parts": list(parts), "format": kind, **options})
        (data,) = change.files.values()
        waiting = target.with_name(target.name + ".part")
        waiting.write_bytes(data)
        waiting.replace(target)
        return target

    # --- asking ------------------------------------------------------------------------------------------------

    def bodies(self) -> list[str]:
        return [text_id("body", b) for b in self.snapshot.bodies]

    def nodes(self, name: str | None = None) -> list[str]:
        """Places in the tree, parents first; those called `name`, when given."""
        return [text_id("node", n.id) for n, _, _ in self.snapshot.walk() if name in (None, n.name)]

    def body(self, ident: str) -> Body:
        return self.snapshot.body(split_id(ident)[1])

    def scope(self, body: str) -> Scope:
        return Scope(self.snapshot, self.geometry, self.body(body))

    def faces(self, body: str | None = None, **criteria: Any) -> FaceSet:
        """Faces of a body, or of all; see query.find_faces for the criteria."""
        chosen = [body] if body else [b for b in self.bodies() if self.body(b).kind != "mesh"]
        return FaceSet(f for b in chosen for f in find_faces(self.scope(b), **criteria))

    def edges(self, body: str | None = None, **criteria: Any) -> EdgeSet:
        """Edges of a body, or of all; see query.find_edges for the criteria."""
        chosen = [body] if body else [b for b in self.bodies() if self.body(b).kind != "mesh"]
        return EdgeSet(e for b in chosen for e in find_edges(self.scope(b), **criteria))

    def parts(self, name: str | None = None, **criteria: Any) -> PartSet:
        """Places in the tree that show a body; see query.find_parts for the criteria."""
        return find_parts(self.snapshot, self.geometry, name, **criteria)

    def features(self, body: str) -> list[FeatureView]:
        """What its faces mean: holes, slots, pockets, steps, grooves, bosses, ribs, rounds, chamfers, clusters."""
        return view_features(self.scope(body))

    def repeats(self, body: str) -> list[RepeatView]:
        """Features that are alike, and how they are laid out."""
        return view_repeats(self.scope(body))

    def symmetries(self, body: str) -> list[SymmetryView]:
        """Planes that it is its own mirror image in; one with `around` stands for all planes through an axis."""
        return view_symmetries(self.scope(body))

    def sheet(self, body: str, wall: str | None = None) -> SheetView:
        """Thickness, walls, bends and faults of a part read as sheet, seen from a face.  Raises EditError where it is
        no sheet at all; what is wrong with one that is stands in `faults`."""
        return view_sheet(self.snapshot, self.geometry, self.body(body), self._wall(wall))

    def flat(self, body: str, wall: str | None = None) -> FlatView:
        """The sheet laid flat, as seen from a face."""
        found = view_flat(self.snapshot, self.geometry, self.body(body), self._wall(wall))
        return replace(found, writer=lambda kind: flat_file(found.whole, self.body(body).name, kind))

    @staticmethod
    def _wall(wall: str | None) -> int | None:
        return split_id(wall)[1] if wall else None

    def dimensions(self) -> list[DimensionView]:
        """Those that are kept on solids, with what they measure now."""
        return view_dimensions(self.snapshot, self.geometry)

    def clearances(self, least: float = 0.2) -> list[Finding]:
        """The standing check; least: gap in units of the model that parts which do not touch keep."""
        return findings(self.snapshot, self.geometry, least * LENGTHS[self.units])[0]

    def print_check(self, body: str, process: str = "filament", nozzle: str | float | None = None) -> list[PrintView]:
        """What of a part will not print, as it is turned for its machine; nozzle: the nearest of the process."""
        own = self.body(body)
        wide = None if nozzle is None else parse_length(nozzle, "mm")
        known = self.snapshot.kept(PRINTS).get(own.id)
        data = PrintData(own.id, machine_for(process, nozzle=wide).name, known.down if known else (0.0, 0.0, -1.0))
        job = job_of(self.snapshot, self.geometry, own, data)
        return view_findings(self.snapshot, self.geometry, job, stands_at(self.snapshot, own))[0]

    def orientations(self, body: str, count: int = 5) -> list[Orientation]:
        """The best ways up of a part on its machine, mm."""
        job = job_of(self.snapshot, self.geometry, self.body(body))
        return orientations(job.part, job.machine, count)

    def bill(self, level: str = "flat") -> list[BillRow]:
        """What it is made of; level: flat (every part once) or tree."""
        return bill_rows(self.snapshot, part_masses(self.snapshot, self.geometry), level)

    @property
    def shelf(self) -> Shelf:
        """Standard and bought parts: `model.shelf.search("socket M5x16")`."""
        return Shelf()

    def joints(self) -> list[JointView]:
        """Those between parts, and whether they hold."""
        return view_joints(self.snapshot, self.geometry)

    def freedoms(self, node: str) -> list[FreedomView]:
        """The motions that joints leave to a part: slides, turns, screws."""
        return view_freedoms(self.snapshot, self.geometry, node)

    @property
    def values(self) -> dict[str, float]:
        """By name, in model units: dimensions on solids, named sizes of sketches, and values of their own."""
        return {v.name: v.value for v in view_values(self.snapshot)}

    def variants(self, rows: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
        """What the model would be with each row of values: `works`, `why` not, `volume`, `mass`, `wall`, `size`.

        One after the other; the page and `./ravine run` share them among workers.
        """
        return [self.study_named("variant", {"rows": dict(row)}) for row in rows]

    def study_of_strength(self, parts: Sequence[str] = (), called: str | None = None) -> StudyFace:
        return StudyFace(self, parts, called)

    def drawing(self, size: str = "A3", **values: Any) -> SheetFace:
        """A sheet, with no view on it unless `views="usual"` is asked; other values as “begin sheet” has them."""
        return SheetFace(self, **{"size": size, "views": "none", **values})

    def share(self, path: str | os.PathLike[str], parts: Sequence[str] = (), **values: Any) -> Path:
        """As one HTML page; other values as “share” has them.  Returns the path."""
        target = Path(path)
        change = self.do_named("share", {"parts": list(parts), **values})
        target.write_bytes(next(data for name, data in change.files.items() if name.endswith(".html")))
        return target

    def package(self, path: str | os.PathLike[str], parts: Sequence[str] = (), **values: Any) -> Change:
        """The supplier's archive; other values as “package” has them.  What is missing stands in the warnings."""
        change = self.do_named("package", {"parts": list(parts), **values})
        (data,) = change.files.values()
        Path(path).write_bytes(data)
        return change

    def study_named(self, name: str, values: Mapping[str, Any]) -> Any:
        return study_of(name, values, Work(self.snapshot, self.geometry, self._progress))

    def vertices(self, body: str) -> list[Vertex]:
        return list(every(self.scope(body), Vertex))

    def face(self, ident: str) -> Face:
        return self._find(ident, Face)

    def edge(self, ident: str) -> Edge:
        return self._find(ident, Edge)

    def vertex(self, ident: str) -> Vertex:
        return self._find(ident, Vertex)

    def _find(self, ident: str, element: type[Any]) -> Any:
        kind, number = split_id(ident)
        if kind != element.element:
            raise EditError(f"{ident} is a {kind}, not a {element.element}", [ident])
        body, index = self.snapshot.owner_of(kind, number)
        return element(Scope(self.snapshot, self.geometry, body), index)

    def measure(self, body: str) -> BodyMeasure:
        return measure_body(self.scope(body))


def compare(before: Model, after: Model, by_identity: bool | None = None) -> Review:
    """Faces of two models as unchanged, moved, resized, new or gone.  by_identity: by their ids, as states of one model
    have them, or by their form; None: by their ids where both share their geometry, as states of one model do."""
    if by_identity is None:
        by_identity = None if before.geometry is after.geometry else False
    return compared(before.snapshot, after.snapshot, after.geometry, before.geometry, by_identity)
