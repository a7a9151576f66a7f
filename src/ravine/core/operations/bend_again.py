"""A bend that was laid flat bent again, with what was cut or added in between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely.geometry import LineString, MultiPoint

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.boolean import combine
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..local.topology import SolidTopology
from ..model.laid_bend import LaidBend
from ..model.records import LAID_BENDS
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..rigid import Rigid
from ..sheet.flat_curves import area_of
from ..sheet.flat_cut import OVER
from ..sheet.swing import Swing, bent_strip, strip_borders
from ..sketch.plane_curves import PlaneCurve
from .facts import change_facts
from .swing import AT, apart, corners_of, faces_under, joined, strip_of
from .work import Fact, Operation, Outcome, Work

ROOM = 0.05  # of the thickness, by which the box that takes a strip out stands over on either side


@dataclass(frozen=True, kw_only=True)
class BendAgain(Operation):
    """on: flat faces of walls; every bend that was laid flat in them is bent again."""

    on: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot, count = work.snapshot, 0
        bodies = {r.owner[0].id for r in self.on}
        for number in sorted(bodies):
            picked = {r.number for r in self.on if r.owner[0].id == number}
            keys = _keys(work, snapshot, snapshot.body(number), picked)
            if not keys:
                raise self._none(work, snapshot, snapshot.body(number))
            for key in keys:
                work.progress(0.1 + 0.8 * count / len(keys), "bending it again")
                snapshot = _bent_again(replace(work, snapshot=snapshot), snapshot.body(number), key)
                count += 1
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), Fact("bends", "bends", float(count), "count")))

    def _none(self, work: Work, snapshot: Snapshot, body: Body) -> EditError:
        topology = work.geometry.solid(body.shape).topology
        rows = [b for b in snapshot.kept(LAID_BENDS).values() if b.body == body.id]
        faces = [f for b in rows for f in faces_under(b, topology)]
        if faces:
            nearest = text_id("face", body.faces[faces[0]])
            return EditError("no bend was laid flat in this face", self.on, field="on", nearest=nearest)
        if rows:
            return CannotDo("where a bend was laid flat there is no wall any more", self.on, field="on")
        return EditError("no bend of this part was laid flat", self.on, field="on")


def _keys(work: Work, snapshot: Snapshot, body: Body, picked: set[int]) -> list[int]:
    """Of laid bends under these faces, either side of the sheet, those last laid first."""
    topology = work.geometry.solid(body.shape).topology
    found = []
    for key, bend in snapshot.kept(LAID_BENDS).items():
        if bend.body == body.id:
            sides = [*faces_under(bend, topology), *faces_under(bend, topology, behind=True)]
            if picked & {body.faces[f] for f in sides}:
                found.append(key)
    return sorted(found, reverse=True)


def _bent_again(work: Work, body: Body, key: int) -> Snapshot:
    bend = work.snapshot.kept(LAID_BENDS)[key]
    where = [text_id("face", body.faces[f]) for f in faces_under(bend, work.geometry.solid(body.shape).topology)]
    swing = Swing(bend.length, bend.angle, bend.neutral, bend.up)
    back = bend.frame.inverse
    pieces = _pieces(work, body, bend)
    if not pieces:
        raise CannotDo("nothing is left of the flat strip of the bend", where)
    borders = [strip_borders(SolidTopology(ShapeIndex(piece)), bend.frame) for piece in pieces]
    parts = apart(
        work, body, pieces, sum(_area(loops) for loops in borders) * bend.depth,
        lambda corners: np.abs(back.points(corners)[:, 0]) < AT,
        lambda corners: np.abs(back.points(corners)[:, 0] - bend.length) < AT,
        bend.frame @ swing.motion @ back, where,
    )  # fmt: skip
    shapes = [bent_strip(swing, bend.frame, bend.depth, loops) for loops in borders]
    strip = strip_of(bend, shapes, swing.motion @ Rigid.slide((bend.length, 0.0, 0.0)), swing.heights)
    after = joined(work, work.snapshot, body, parts, strip, where)
    rows = {k: b for k, b in after.kept(LAID_BENDS).items() if k != key}
    return after.with_kept(LAID_BENDS, rows)


def _area(loops: Sequence[Sequence[PlaneCurve]]) -> float:
    outer, *holes = (abs(area_of(loop)) for loop in loops)
    return outer - sum(holes)


def _pieces(work: Work, body: Body, bend: LaidBend) -> list[Shape]:
    """Of the sheet between where the bend begins and where it ends, those that its middle line runs through."""
    solid = work.geometry.solid(body.shape)
    far = 2 * float(np.linalg.norm(np.diff(np.array(solid.box).reshape(2, 3), axis=0))) + OVER
    room = ROOM * bend.depth
    low, high = (0.0, bend.low - far, -bend.depth - room), (bend.length, bend.high + far, room)
    block = build.moved(build.box(high[0] - low[0], high[1] - low[1], high[2] - low[2], low), bend.frame)
    middle = LineString([(bend.length / 2, bend.low), (bend.length / 2, bend.high)])
    found = []
    for piece in parts_of(combine("common", solid.shape, [block], merge=False)[0], "solid"):
        corners = bend.frame.inverse.points(corners_of(piece))[:, :2]
        if MultiPoint(corners).convex_hull.intersects(middle):
            found.append(piece)
    return found
