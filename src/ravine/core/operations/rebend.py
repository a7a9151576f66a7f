"""Bends of a sheet made anew about one axis, with another radius where one is asked for."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import CannotDo, EditError
from ..model.references import Reference, references
from ..model.snapshot import Body, Snapshot, text_id
from ..sheet.reading import Panel, SheetReading
from ..sheet.views import flat_of, read_body
from .facts import change_facts
from .remove import Remove
from .sheet_corners import bent
from .work import Fact, Operation, Outcome, Work

SAME = 1e-6  # mm


@dataclass(frozen=True, kw_only=True)
class SetBend(Operation):
    """bends: faces of bends, either side; radius: mm, on the inner side; riders: alone, or alike for all bends of the
    same radius."""

    bends: tuple[Reference, ...]
    radius: float
    riders: str = "alone"

    def do(self, work: Work) -> Outcome:
        snapshot, count = work.snapshot, 0
        bodies = {b.owner[0].id for b in self.bends}
        for number in bodies:
            picked = {b.number for b in self.bends if b.owner[0].id == number}
            for face in self._faces(work, snapshot, number, picked):
                body = snapshot.body(number)
                reading, _ = read_body(snapshot, work.geometry, body)
                panel = reading.panels[body.faces.index(face)]
                snapshot = bent_anew(replace(work, snapshot=snapshot), body, reading, panel, self.radius)
                count += 1
        if not count:
            raise EditError("these bends have that radius already", self.bends, field="radius")
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), Fact("bends", "bends", float(count), "count")))

    def _faces(self, work: Work, snapshot: Snapshot, number: int, picked: set[int]) -> list[int]:
        """Ids of the faces on the side that is seen, of bends whose radius changes.  Raises EditError for a face that
        is no bend."""
        body = snapshot.body(number)
        flat = flat_of(snapshot, work.geometry, body)
        sides = {f: p.face for p in flat.reading.bends() for f in (p.face, *(b.face for b in p.backs))}
        chosen = set()
        for ident in picked:
            at = body.faces.index(ident)
            if at not in sides:
                raise EditError("this face is no bend of the sheet", [text_id("face", ident)], field="bends")
            chosen.add(sides[at])
        radii = {b.face: b.radius for b in flat.bends}
        if self.riders == "alike":
            chosen = {
                f for f, r in radii.items() if any(abs(r - radii[c]) < 1e-4 * flat.reading.thickness for c in chosen)
            }
        return [body.faces[f] for f in sorted(chosen) if abs(radii[f] - self.radius) > SAME]


def bent_anew(work: Work, body: Body, reading: SheetReading, panel: Panel, radius: float | None = None) -> Snapshot:
    """Both faces of a bend taken away, so that the walls meet, and a bend put there about one axis.  radius: mm on the
    inner side, the one it has when left out.  Raises CannotDo."""
    joints = [j for j in reading.joints if panel.face in (j.first, j.second)]
    beside = [j.second if j.first == panel.face else j.first for j in joints]
    walls = [body.faces[f] for f in dict.fromkeys(beside) if not reading.panels[f].bend]
    if len(walls) != 2:
        raise CannotDo("the bend does not lie between two flat walls")
    if radius is None:
        skin = reading.outlines.skin(panel.face)
        radius = skin.radius if skin.inner else skin.radius - reading.thickness
    gone = [text_id("face", body.faces[f]) for f in (panel.face, *(b.face for b in panel.backs))]
    sharp = Remove(faces=references(work.snapshot, gone), extent="picked").do(work).snapshot
    now = sharp.body(body.id)
    topology = work.geometry.solid(now.shape).topology
    pair = {now.faces.index(w) for w in walls}
    edge = next((e for e in range(topology.index.count("edge")) if set(topology.faces_of(e)) == pair), None)
    if edge is None:
        raise CannotDo("the walls do not meet once the bend is taken away")
    return bent(replace(work, snapshot=sharp), sharp, body.id, [now.edges[edge]], radius)[0]
