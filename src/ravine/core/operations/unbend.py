"""A bend of a sheet laid flat: what lies beyond it swings along."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..local.surfaces import Floats
from ..model.laid_bend import LaidBend
from ..model.profiles import face_within
from ..model.records import LAID_BENDS
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..rigid import Rigid
from ..sheet.flat_cut import wound_panel
from ..sheet.swing import Swing
from ..sheet.unfold import UP, BendLine, Flat
from ..sheet.views import flat_of
from ..sketch.entities import Plane
from ..sketch.loops import polygon
from .facts import change_facts
from .swing import AT, Flags, apart, joined, strip_of
from .work import Fact, Operation, Outcome, Work

ROOM = 0.05  # of the thickness, by which the tool that takes a bend off stands over on either side


@dataclass(frozen=True, kw_only=True)
class Unbend(Operation):
    """bends: faces of round bends, either side.  The flat strip keeps the bend's allowance; the part keeps what is
    needed to bend it again."""

    bends: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot, count = work.snapshot, 0
        bodies = {b.owner[0].id for b in self.bends}
        for number in bodies:
            left = {b.number for b in self.bends if b.owner[0].id == number}
            while left:
                ident = left.pop()
                work.progress(0.1 + 0.8 * count / len(self.bends), "laying it flat")
                snapshot, faces = _laid_flat(replace(work, snapshot=snapshot), snapshot.body(number), ident)
                left -= faces
                count += 1
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), Fact("bends", "bends", float(count), "count")))


def _laid_flat(work: Work, body: Body, ident: int) -> tuple[Snapshot, set[int]]:
    """The state, and the ids of the faces of the bend."""
    where = [text_id("face", ident)]
    flat = flat_of(work.snapshot, work.geometry, body)
    line, *_ = lines = _bend_lines(flat, body.faces.index(ident), where)
    depth = flat.reading.panels[line.face].depth
    laid = [flat.panels[k.face] for k in lines]
    swing = Swing(line.allowance, line.angle, -abs(laid[0].plan.shift), 1.0 if line.direction == UP else -1.0)
    frame, plane = _frames(flat, line.face)
    borders = np.vstack([polygon(k.loops[0]) for k in laid])
    places = frame.inverse.points(np.array([plane.place((x, y)) for x, y in borders.tolist()]))
    faces = tuple((body.faces[k.face], body.faces[flat.reading.panels[k.face].backs[0].face]) for k in lines)
    bend = LaidBend(body.id, faces, frame, float(places[:, 1].min()), float(places[:, 1].max()), swing.length,
                    swing.angle, swing.neutral, swing.up, depth)  # fmt: skip
    around = sum(k.area for k in laid) / line.allowance * line.angle
    beyond = _beyond(flat, {k.face for k in lines})
    parts = apart(
        work, body, [wound_panel(flat, k, ROOM * depth) for k in laid], around * depth * (line.radius + depth / 2),
        lambda corners: _on(flat, {k.face for k in lines}, corners, beyond, among=False),
        lambda corners: _on(flat, {k.face for k in lines}, corners, beyond, among=True),
        frame @ swing.motion.inverse @ frame.inverse, where,
    )  # fmt: skip
    down = tuple((-depth * np.array(plane.normal)).tolist())
    shapes = [build.extrude(face_within(plane, k.loops), down) for k in laid]
    strip = strip_of(bend, shapes, Rigid.slide((bend.length, 0.0, 0.0)), lambda points: points[:, 2])
    after = joined(work, work.snapshot, body, parts, strip, where)
    (key,), after = after.fresh(1)
    return after.with_kept(LAID_BENDS, {**after.kept(LAID_BENDS), key: bend}), {f for pair in faces for f in pair}


def _bend_lines(flat: Flat, face: int, where: list[str]) -> list[BendLine]:
    """The bend with this face on either side, and others about the same axis that hang on the same wall, as where a
    hole divides it.  Raises EditError for what is no round bend."""
    panels = flat.reading.panels
    line = next((k for k in flat.bends if face in (k.face, *(b.face for b in panels[k.face].backs))), None)
    if line is None:
        raise EditError("this face is no bend of the sheet", where, field="bends")
    if line.cone or line.edge is not None or line.face not in flat.tree:
        raise CannotDo("only a round bend between walls is laid flat by itself", where, field="bends")
    plan, wall = flat.panels[line.face].plan, flat.tree[line.face][0]
    found = [line]
    for other in flat.bends:
        if other is line or other.cone or other.edge is not None or flat.tree.get(other.face, (None,))[0] != wall:
            continue
        there = flat.panels[other.face].plan
        apart_by = np.linalg.norm(np.cross(there.origin - plan.origin, plan.z))
        if abs(there.z @ plan.z) > 1 - 1e-9 and apart_by < AT and abs(other.radius - line.radius) < AT:
            found.append(other)
    return found


def _frames(flat: Flat, face: int) -> tuple[Rigid, Plane]:
    """Where the bend begins: a frame with x into the bend and z out of the side that is seen; and the plane in which
    the flat's own coordinates lie where the strip comes to lie."""
    laid, topology = flat.panels[face], flat.reading.topology
    points = topology.samples(flat.tree[face][1], 2)
    a, b = laid.flat(points)
    along = (b - a) / np.hypot(*(b - a))
    inwards = np.array(laid.shape.centroid.coords[0]) - a
    into = inwards - (inwards @ along) * along
    into /= np.hypot(*into)
    way = (points[1] - points[0]) / np.linalg.norm(points[1] - points[0])
    out = topology.outward(face, points)[0]
    # seen from outside the flat keeps its sense of turning
    sense = float(into[0] * along[1] - into[1] * along[0])
    x = sense * np.cross(way, out)
    frame = Rigid.of(np.column_stack([x, np.cross(out, x), out]), points[0])
    turn = np.column_stack([x, way]) @ np.vstack([into, along])
    origin = points[0] - turn @ a
    return frame, Plane(tuple(origin.tolist()), tuple(turn[:, 0].tolist()), tuple(turn[:, 1].tolist()))


def _beyond(flat: Flat, faces: set[int]) -> set[int]:
    """All panels that hang on these."""
    found = set(faces)
    for panel in flat.panels:  # those that others hang on come first
        if flat.tree.get(panel, (None,))[0] in found:
            found.add(panel)
    return found


def _on(flat: Flat, faces: set[int], corners: Floats, beyond: set[int], among: bool) -> Flags:
    """Which corners (n, 3) are on edges by which the bend hangs on what lies beyond it, or on what comes before."""
    topology, edges = flat.reading.topology, []
    for joint in flat.reading.joints:
        other = joint.second if joint.first in faces else joint.first
        if {joint.first, joint.second} & faces and (other in beyond) == among:
            edges.append(joint.edge)
    if not edges:
        return np.zeros(len(corners), bool)
    ends = np.array([topology.point(v) for e in edges for v in topology.ends(e)])
    return np.asarray(np.linalg.norm(corners[:, None] - ends[None], axis=2).min(axis=1) < AT)
