"""Plant a solid on a face of this or another part: a boss added, a pocket or hole cut."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel.boolean import combine, single_solid
from ..kernel.build import extrude
from ..kernel.shapes import Shape, placed
from ..local.surfaces import Floats, Surface
from ..model.foot import Foot
from ..model.geometry import Solid
from ..model.records import FEET
from ..model.references import Reference, references
from ..model.snapshot import Body, Snapshot, text_id
from ..rigid import Rigid, vec_of
from ..units import format_length
from .booleans import combined
from .face_spot import Spot, spot_on, spot_on_cylinder, steps_to
from .facts import change_facts
from .fillet_edges import FilletEdges
from .work import Handle, Operation, Outcome, Work

LEVEL = 1e-6  # mm within which a face lies at the foot
LEAST = 1e-9  # share of the volume below which nothing has changed


@dataclass(frozen=True, kw_only=True)
class Plant(Operation):
    """what: a part, with its foot where it was lifted out, else its lowest face; face: flat or a cylinder; way: as it
    was, added or subtracted; across, up: mm along the face from its middle; angle: rad about its normal; after: whether
    the planted part stays (kept) or goes (used)."""

    what: tuple[Reference, ...]
    face: tuple[Reference, ...]
    way: str = "as it was"
    across: float = 0.0
    up: float = 0.0
    angle: float = 0.0
    after: str = "kept"

    def handle(self, work: Work) -> Handle | None:
        face, spot = self.face[0], self._spot(work)
        start = spot.origin - self.across * spot.across - self.up * spot.up
        across, up = (face.matrix.direction(vec_of(way)) for way in (spot.across, spot.up))
        return Handle("across", face.matrix.point(start.tolist()), across, beside=(("up", up),))

    def from_start(self, work: Work, place: Sequence[float]) -> tuple[float, float]:
        """Across and up to a place (mm in the model) on a flat face."""
        return steps_to(work, self.face[0], self._spot(work), place)

    def do(self, work: Work) -> Outcome:
        tool = self._tool(work)
        target, _ = self.face[0].owner
        if tool.id == target.id:
            raise EditError(
                "a part cannot be planted on itself; lift a feature out of it first", self.what, field="what"
            )
        foot = foot_of(work, tool)
        spot = self._spot(work)
        matter = foot.rises if self.way == "as it was" else self.way == "added"
        rounded = bool(foot.plain) and self._surface(work).kind != "plane"
        whole = work.geometry.get(foot.plain) if rounded else work.geometry.solid(tool.shape)
        assert isinstance(whole, Solid)
        shape = self._reaching(work, whole, foot, matter)
        shape = placed(shape, self._motion(foot, spot))
        before = work.geometry.solid(target.shape).volume_mm3
        snapshot = combined(
            work, work.snapshot, target, "unite" if matter else "subtract", [shape], self.face, "across"
        )
        change = work.geometry.solid(snapshot.body(target.id).shape).volume_mm3 - before
        if abs(change) < LEAST * before:
            raise CannotDo("nothing of it meets the part there, so nothing would change", self.face, field="across")
        if rounded:
            snapshot = self._round_foot(work, snapshot, target, foot.round)
        changed = {target.id}
        if self.after == "used":
            snapshot = _without(snapshot, tool)
        return Outcome(snapshot, change_facts(work, snapshot, changed))

    def _tool(self, work: Work) -> Body:
        node = work.snapshot.nodes[self.what[0].number]
        body = None if node.body is None else work.snapshot.body(node.body)
        if body is None or body.kind != "solid":
            raise EditError(f"{node.name} is no single solid that could be planted", self.what, field="what")
        return body

    def _spot(self, work: Work) -> Spot:
        if self._surface(work).kind == "plane":
            return spot_on(work, self.face[0], self.across, self.up)
        return spot_on_cylinder(work, self.face[0], self.across, self.up)

    def _surface(self, work: Work) -> Surface:
        body, index = self.face[0].owner
        return work.geometry.solid(body.shape).topology.surface(index)

    def _motion(self, foot: Foot, spot: Spot) -> Rigid:
        """From the coordinates of the tool to those of the part."""
        own = _frame(np.array(foot.normal))
        x = math.cos(self.angle) * spot.across + math.sin(self.angle) * spot.up
        out = -spot.inward
        turn = np.column_stack([x, np.cross(out, x), out]) @ own.T
        return Rigid.of(turn, spot.origin - turn @ np.array(foot.point))

    def _round_foot(self, work: Work, snapshot: Snapshot, target: Body, radius: float) -> Snapshot:
        """The round by which it met its face laid anew where it meets this one."""
        now = snapshot.body(target.id)
        topology = work.geometry.solid(now.shape).topology
        (_, support), old = self.face[0].owner, set(target.faces)
        ident, edges = target.faces[support], []
        for edge in range(topology.index.count("edge")):
            ids = [now.faces[f] for f in topology.faces_of(edge)]
            if ident in ids and set(ids) - old and topology.meeting(edge) == "sharp":
                edges.append(text_id("edge", now.edges[edge]))
        blend = FilletEdges(edges=references(snapshot, edges), size=radius, run="alone")
        try:
            return blend.do(replace(work, snapshot=snapshot)).snapshot
        except CannotDo as error:
            told = f"the round of {format_length(radius, snapshot.units)} at its foot does not go there"
            raise CannotDo(f"{told}: {error.reason}", self.face, field="across") from error

    def _reaching(self, work: Work, solid: Solid, foot: Foot, matter: bool) -> Shape:
        """On a cylinder a flat foot does not lie on all over: it is carried on until it does."""
        surface = self._surface(work)
        body, index = self.face[0].owner
        if surface.kind == "plane":
            return solid.shape
        bulges = work.geometry.solid(body.shape).topology.sign(index) > 0
        if bulges is not matter:
            return solid.shape
        normal = np.array(foot.normal)
        faces, wide = _foot_faces(solid, foot)
        if wide >= surface.radius:
            raise CannotDo("it is wider than the cylinder it is to stand on", self.face, field="face")
        deep = surface.radius - math.sqrt(surface.radius**2 - wide**2) + LEVEL
        step = (-deep if matter else deep) * normal
        more = [extrude(face, vec_of(step)) for face in faces]
        return single_solid(combine("unite", solid.shape, more)[0]) if more else solid.shape


def foot_of(work: Work, body: Body) -> Foot:
    """Where it was lifted from; of any other solid its lowest face."""
    known = work.snapshot.kept(FEET).get(body.id)
    if known is not None:
        found: Foot = known
        return found
    box = work.geometry.solid(body.shape).box
    (x0, y0, z0), (x1, y1, _) = box.low, box.high
    return Foot(body.id, ((x0 + x1) / 2, (y0 + y1) / 2, z0), (0.0, 0.0, 1.0), True)


def _foot_faces(solid: Solid, foot: Foot) -> tuple[list[Shape], float]:
    """The flat faces at the level of the foot, and how far (mm) they reach from its point."""
    topology = solid.topology
    normal, point = np.array(foot.normal), np.array(foot.point)
    found, wide = [], 0.0
    for face in range(topology.index.count("face")):
        if topology.surface(face).kind != "plane":
            continue
        rows = np.concatenate([topology.samples(e, 17) for e in topology.edges_of(face)]) - point
        if np.abs(rows @ normal).max() < LEVEL:
            found.append(topology.index.get("face", face))
            wide = max(wide, float(np.linalg.norm(rows, axis=1).max()))
    return found, wide


def _frame(normal: Floats) -> Floats:
    """Columns: two directions along the foot and its normal."""
    x = np.eye(3)[int(np.abs(normal).argmin())]
    x = x - (x @ normal) * normal
    x = x / np.linalg.norm(x)
    return np.column_stack([x, np.cross(normal, x), normal])


def _without(snapshot: Snapshot, body: Body) -> Snapshot:
    return snapshot.without_nodes({o.node.id for o in snapshot.occurrences(body.id)})


def lifted_last(work: Work, faces: Sequence[Reference]) -> str | None:
    """The place of the body that was lifted out last, and is not the one with these faces."""
    own = {face.owner[0].id for face in faces}
    feet = [b for b in work.snapshot.kept(FEET) if b not in own]
    shown = work.snapshot.occurrences(max(feet)) if feet else []
    return text_id("node", shown[0].node.id) if shown else None


def is_flat(work: Work, face: Reference) -> bool:
    body, index = face.owner
    return work.geometry.solid(body.shape).topology.surface(index).kind == "plane"
