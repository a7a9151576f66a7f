"""Features set aside: the part closes, and they wait; put back, they stand on the faces as these are then."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError, UnknownId
from ..features.feature import Feature
from ..features.recogniser import features_of
from ..kernel import blend
from ..kernel.boolean import combine, single_solid
from ..kernel.build import extrude
from ..kernel.shapes import Shape, placed
from ..local.surfaces import Floats
from ..model.geometry import Solid
from ..model.records import ASIDE
from ..model.references import Reference
from ..model.set_aside import Part, SetAside, SharpEdge, Support
from ..model.snapshot import Body, Snapshot, text_id
from ..rigid import IDENTITY, Rigid, vec_of
from .booleans import combined
from .edge_blends import Blend, blend_body
from .facts import change_facts
from .feature_size import alike, feature_at
from .lift_out import lifted_shape, with_what_stands_on_it
from .remove import take_away
from .work import Fact, Operation, Outcome, Work

LEVEL = 1e-6  # mm within which a face lies on a plane
PARALLEL = 1e-9
BLENDS = ("fillet", "chamfer")
WORDS = {"fillet": "round"}


@dataclass(frozen=True, kw_only=True)
class SetAsideFeatures(Operation):
    """faces: any of the features; members: alone, or alike for all of their repeat."""

    faces: tuple[Reference, ...]
    members: str = "alone"

    def do(self, work: Work) -> Outcome:
        chosen = self._chosen(work)
        snapshot, names = work.snapshot, []
        for (number, kind, title), rows in chosen.items():
            parts = []
            for faces, item in rows:
                body = snapshot.body(number)
                here = {body.faces.index(f) for f in faces if f in body.faces}
                if len(here) < len(faces):
                    raise EditError(f"a {WORDS.get(kind, kind)} goes with another of the picked features",
                                    self.faces, field="faces")  # fmt: skip
                snapshot, part = _aside(work, snapshot, body, here, item)
                parts.append(part)
            (fresh,), snapshot = snapshot.fresh(1)
            kept = snapshot.kept(ASIDE)
            name = _free({r.name for r in kept.values()}, WORDS.get(kind, kind))
            names.append(name)
            record = SetAside(fresh, name, title, kind, number, tuple(parts))
            snapshot = snapshot.with_kept(ASIDE, {**kept, fresh: record})
        bodies = {number for number, _, _ in chosen}
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), Fact("aside", "set aside", ", ".join(names))))

    def _chosen(self, work: Work) -> dict[tuple[int, str, str], list[tuple[list[int], Feature]]]:
        """Ids of the faces of each, by body and what they are."""
        found: dict[tuple[int, str, str], list[tuple[list[int], Feature]]] = {}
        seen = set[tuple[int, int]]()
        for reference in self.faces:
            body, index = reference.owner
            rows = features_of(work.geometry.solid(body.shape).topology)
            number = feature_at(rows, index)
            if number is None:
                raise EditError(
                    f"{reference} belongs to no feature that could be set aside", [reference], field="faces"
                )
            for one in alike(rows, number) if self.members == "alike" else (number,):
                if (body.id, one) in seen:
                    continue
                seen.add((body.id, one))
                item = rows[one]
                faces = item.faces if item.kind in BLENDS else with_what_stands_on_it(rows, item)
                key = (body.id, item.kind, item.form or WORDS.get(item.kind, item.kind))
                found.setdefault(key, []).append(([body.faces[f] for f in sorted(faces)], item))
        return found


@dataclass(frozen=True, kw_only=True)
class PutBack(Operation):
    """what: names of what was set aside."""

    what: tuple[str, ...]

    def do(self, work: Work) -> Outcome:
        snapshot, bodies = work.snapshot, set[int]()
        for name in self.what:
            record = find_aside(snapshot, name)
            for part in record.parts:
                body = snapshot.body(record.body)
                if part.edges:
                    snapshot = _blended(work, snapshot, body, record, part)
                else:
                    snapshot = _planted(work, snapshot, body, record, part)
            snapshot = snapshot.with_kept(ASIDE, {n: r for n, r in snapshot.kept(ASIDE).items() if n != record.id})
            bodies.add(record.body)
        return Outcome(snapshot, change_facts(work, snapshot, bodies))


@dataclass(frozen=True, kw_only=True)
class ForgetAside(Operation):
    """They do not come back; the part stays as it is."""

    what: tuple[str, ...]

    def do(self, work: Work) -> Outcome:
        gone = {find_aside(work.snapshot, name).id for name in self.what}
        rows = {n: r for n, r in work.snapshot.kept(ASIDE).items() if n not in gone}
        return Outcome(work.snapshot.with_kept(ASIDE, rows))


def find_aside(snapshot: Snapshot, name: str) -> SetAside:
    """Raises UnknownId."""
    rows = snapshot.kept(ASIDE).values()
    found = next((r for r in rows if r.name == name), None)
    if found is None:
        known = ", ".join(r.name for r in rows) or "nothing"
        raise UnknownId(f"nothing that is set aside is called “{name[:40]}”; there is {known}", field="what")
    return found


def _free(taken: set[str], word: str) -> str:
    return next(n for k in range(1, 10**6) if (n := f"{word}-{k}") not in taken)


# --- away ----------------------------------------------------------------------------------------------------------


def _aside(work: Work, snapshot: Snapshot, body: Body, faces: set[int], item: Feature) -> tuple[Snapshot, Part]:
    topology = work.geometry.solid(body.shape).topology
    around = {topology.other_face(e, f) for f in faces for e in topology.edges_of(f)} - faces
    near = [body.faces[f] for f in sorted(around, key=lambda f: (f not in item.stands_on, f))]
    closed = take_away(work, snapshot, body, faces)
    now = closed.body(body.id)
    if item.kind in BLENDS:
        sizes = tuple(item.sizes[n] for n in ("radius", "width", "width_2") if n in item.sizes)
        edges = _sharp_edges(work, body, now, set(near))
        if not edges:
            raise CannotDo("its faces do not meet in an edge without it, so it could not be put back")
        return closed, Part(edges=edges, size=sizes)
    shape = lifted_shape(work, body, faces, now)
    matter = work.geometry.solid(now.shape).volume_mm3 < work.geometry.solid(body.shape).volume_mm3
    address = work.geometry.put_shape(shape)
    return closed, Part(address, matter, _supports(work, now, near))


def _supports(work: Work, now: Body, near: Sequence[int]) -> tuple[Support, ...]:
    topology = work.geometry.solid(now.shape).topology
    found = []
    for face in near:
        if face in now.faces and topology.surface(at := now.faces.index(face)).kind == "plane":
            point, normal = topology.middle(at)
            found.append(Support(face, point, normal))
    return tuple(found)


def _sharp_edges(work: Work, before: Body, now: Body, near: set[int]) -> tuple[SharpEdge, ...]:
    """That came to be between the faces beside a round or chamfer."""
    solid = work.geometry.solid(now.shape)
    found = []
    for at, edge in enumerate(now.edges):
        faces = [now.faces[f] for f in solid.topology.faces_of(at)]
        if edge not in before.edges and len(faces) == 2 and set(faces) <= near:
            found.append(SharpEdge((faces[0], faces[1]), vec_of(solid.topology.samples(at, 3)[1])))
    return tuple(found)


# --- back ----------------------------------------------------------------------------------------------------------


def _plane_now(work: Work, body: Body, support: Support) -> tuple[Floats, Floats] | None:
    if support.face not in body.faces:
        return None
    topology = work.geometry.solid(body.shape).topology
    at = body.faces.index(support.face)
    if topology.surface(at).kind != "plane":
        return None
    point, normal = topology.middle(at)
    return np.array(point), np.array(normal)


def _planted(work: Work, snapshot: Snapshot, body: Body, record: SetAside, part: Part) -> Snapshot:
    motion = IDENTITY
    if part.supports:
        base = part.supports[0]
        now = _plane_now(work, body, base)
        if now is None:
            raise EditError(f"{record.name} stood on {text_id('face', base.face)}, which is there no more: plant it on "
                            f"another face, or forget it", field="what")  # fmt: skip
        motion = _onto(base, *now)
    shape = placed(work.geometry.solid(part.shape).shape, motion)
    for support in part.supports:
        shape = _carried_on(work, body, shape, support, motion, part.matter)
    return combined(work, snapshot, body, "unite" if part.matter else "subtract", [shape], field="what")


def _onto(base: Support, point: Floats, normal: Floats) -> Rigid:
    """The least motion that takes the plane of a support to where it is now."""
    was, at = np.array(base.normal), np.array(base.point)
    axis, cosine = np.cross(was, normal), float(was @ normal)
    sine = float(np.linalg.norm(axis))
    if sine < PARALLEL:
        return Rigid.slide((((point - at) @ normal) * normal).tolist())
    k = axis / sine
    cross = np.array([[0, -k[2], k[1]], [k[2], 0, -k[0]], [-k[1], k[0], 0]])
    turn = np.eye(3) + sine * cross + (1 - cosine) * cross @ cross
    lands = at + ((point - at) @ normal) / cosine * was  # along its old normal on to the plane as it is
    return Rigid.of(turn, lands - turn @ at)


def _carried_on(work: Work, body: Body, shape: Shape, support: Support, motion: Rigid, matter: bool) -> Shape:
    """Its flat ends reach as far as the faces that they lay on: a hole through a wall that has grown goes through."""
    now = _plane_now(work, body, support)
    if now is None:
        return shape
    point, normal = np.array(motion.point(support.point)), np.array(motion.direction(support.normal))
    if abs(float(normal @ now[1]) - 1) > PARALLEL:
        return shape
    further = float((now[0] - point) @ normal)
    if further < LEVEL if not matter else further > -LEVEL:
        return shape
    topology = Solid(shape).topology
    more = []
    for face in range(topology.index.count("face")):
        if topology.surface(face).kind != "plane":
            continue
        rows = np.concatenate([topology.samples(e, 9) for e in topology.edges_of(face)]) - point
        if np.abs(rows @ normal).max() < LEVEL:
            more.append(extrude(topology.index.get("face", face), vec_of(further * normal)))
    return single_solid(combine("unite", shape, more)[0]) if more else shape


def _blended(work: Work, snapshot: Snapshot, body: Body, record: SetAside, part: Part) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    found = []
    for edge in part.edges:
        missing = [f for f in edge.faces if f not in body.faces]
        if missing:
            raise EditError(f"{record.name} lay along {text_id('face', missing[0])}, which is there no more: forget it",
                            field="what")  # fmt: skip
        pair = {body.faces.index(f) for f in edge.faces}
        between = [e for e in range(len(body.edges)) if set(solid.topology.faces_of(e)) == pair]
        if not between:
            names = " and ".join(text_id("face", f) for f in edge.faces)
            raise EditError(f"{record.name} lay between {names}, which no longer meet", field="what")
        at = np.array(edge.point)
        found.append(min(between, key=lambda e: float(np.linalg.norm(solid.topology.samples(e, 3)[1] - at))))
    return blend_body(work, snapshot, body, list(dict.fromkeys(found)), _blend(record.kind, part))


def _blend(kind: str, part: Part) -> Blend:
    def blended(solid: Solid, edges: list[int]) -> blend.Blended:
        shapes = [solid.index.get("edge", e) for e in edges]
        if kind == "fillet":
            return blend.fillet_edges(solid.shape, shapes, [(part.size[0], part.size[0])] * len(edges))
        first = [solid.index.get("face", solid.topology.faces_of(e)[0]) for e in edges]
        sizes = [(part.size[0], part.size[-1], face) for face in first]
        return blend.chamfer_edges(solid.shape, shapes, sizes)

    return blended
