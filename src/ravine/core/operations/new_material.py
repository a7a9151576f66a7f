"""What edits that make solids from areas share: the areas picked, and where the new matter goes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import CannotDo
from ..kernel.boolean import combine, single_solid
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.properties import rough_box
from ..kernel.shapes import Shape, ShapeIndex, compound, parts_of, placed
from ..kernel.volumes import volume_properties
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.profiles import face_of
from ..model.references import Reference
from ..model.sketch_regions import region_named
from ..model.snapshot import Body, Node, Occurrence, Snapshot
from ..rigid import IDENTITY, Rigid
from ..sketch.entities import Sketch
from ..sketch.regions import Region
from ..tolerances import NOTHING, TOUCHING
from .bodies import in_pieces
from .booleans import combine_into
from .facts import change_facts
from .sketching import sketch_of
from .work import Fact, Outcome, Work


@dataclass(frozen=True)
class Profile:
    """Areas of one sketch as plane faces in model coordinates."""

    sketch: Sketch
    areas: tuple[Region, ...]
    faces: tuple[Shape, ...]


def profile_of(work: Work, picked: Sequence[Reference]) -> Profile:
    sketch = sketch_of(work.snapshot, picked, "areas")
    areas = tuple(dict.fromkeys(region_named(sketch, p) for p in picked))
    return Profile(sketch, areas, tuple(face_of(sketch.plane, a) for a in areas))


def united_faces(faces: Sequence[Shape]) -> Shape:
    """Plane faces as one thing to cut with."""
    return compound(list(faces)) if len(faces) > 1 else faces[0]


def united(shapes: Sequence[Shape]) -> Shape:
    """Tools as one: a solid, or several that do not touch.  Raises EditError when one is unsound."""
    for shape in shapes:
        solids = parts_of(shape, "solid")
        found = fault(solids[0]) if len(solids) == 1 else "it makes no single solid"
        if found:
            raise CannotDo(f"{found}")
    return combine("unite", shapes[0], list(shapes[1:]))[0] if len(shapes) > 1 else shapes[0]


def put(work: Work, tool: Shape, way: str, name: str) -> Outcome:
    """New matter, or a cut, in model coordinates."""
    snapshot = work.snapshot
    if way == "cutting":
        after, changed = _cut(work, tool)
    elif way == "apart":
        after, changed = _alone(work, snapshot, tool, name)
    else:
        after, changed = _joined(work, tool, name)
    changed |= set(after.bodies) ^ set(snapshot.bodies)
    names = [after.bodies[b].name for b in changed if b in snapshot.bodies and b in after.bodies]
    facts = change_facts(work, after, changed)
    if way == "joining" and names:
        facts += (Fact("joins", "joins", ", ".join(names)),)
    return Outcome(after, facts)


def _alone(work: Work, snapshot: Snapshot, tool: Shape, name: str) -> tuple[Snapshot, set[int]]:
    """Each solid of the tool a part of its own."""
    made = set()
    for solid in parts_of(tool, "solid"):
        body, snapshot = as_part(work, snapshot, solid, name)
        made.add(body)
    return snapshot, made


def as_part(work: Work, snapshot: Snapshot, solid: Shape, name: str, place: Rigid = IDENTITY) -> tuple[int, Snapshot]:
    """A solid in its own coordinates as a part of its own; the number of its body, and the state.  The name is numbered
    where it is taken."""
    taken = {b.name for b in snapshot.bodies.values()}
    label = name if name not in taken else next(n for k in range(2, 10**6) if (n := f"{name} {k}") not in taken)
    (body, node), snapshot = snapshot.fresh(2)
    snapshot = reshape_body(snapshot, work.geometry, Body(body, label, "solid", "", ()), Solid(solid), blank_ids(solid))
    snapshot = snapshot.with_node(Node(node, label, place, (), body))
    return body, replace(snapshot, roots=(*snapshot.roots, node))


def near_parts(work: Work, tool: Shape) -> list[Occurrence]:
    """Unlocked solids whose boxes meet the tool's, each where it is first shown."""
    around = rough_box(tool)
    found: dict[int, Occurrence] = {}
    for place in work.snapshot.occurrences():
        if place.body.kind != "solid" or place.body.locked or place.body.id in found:
            continue
        shape = placed(work.geometry.solid(place.body.shape).shape, place.matrix)
        if around.meets(rough_box(shape), TOUCHING):
            found[place.body.id] = place
    return list(found.values())


def _inside(tool: Shape, place: Occurrence) -> Shape:
    return placed(tool, place.matrix.inverse)


def _joined(work: Work, tool: Shape, name: str) -> tuple[Snapshot, set[int]]:
    """With every part it meets over an area; a part of its own where it meets none."""
    met = []
    for place in near_parts(work, tool):
        shape = work.geometry.solid(place.body.shape).shape
        whole = combine("unite", shape, [_inside(tool, place)], merge=False)[0]
        if len(parts_of(whole, "solid")) < 1 + len(parts_of(tool, "solid")):
            met.append(place)
    if not met:
        return _alone(work, work.snapshot, tool, name)
    first, *others = met
    many = next((p for p in others if len(work.snapshot.occurrences(p.body.id)) > 1), None)
    if many:
        raise CannotDo(f"{many.body.name} stands in several places and cannot become one with "
                        f"{first.body.name}; make it a part of its own", [f"n{many.node.id}"], field="way")  # fmt: skip
    inside = first.matrix.inverse
    shapes = [placed(work.geometry.solid(o.body.shape).shape, (inside @ o.matrix)) for o in others]
    solid, result, trace = combine_into(work, first.body, "unite", [_inside(tool, first), *shapes])
    solids = parts_of(result, "solid")
    if len(solids) != 1:
        raise CannotDo("some of it touches nothing; make it a part of its own", field="way")
    grown = solid.turned_into(single_solid(result))
    found = None if not work.mode.checks else fault(grown.index, solid.index, grown.volume_mm3)
    if found:
        raise CannotDo(f"{found}", field="way")
    sources = [(solid.index, first.body.ids())]
    sources += [(ShapeIndex(s), o.body.ids()) for s, o in zip(shapes, others, strict=True)]
    ids = carry_ids(sources, [], trace, grown.index)
    snapshot = reshape_body(work.snapshot, work.geometry, first.body, grown, ids)
    if others:
        snapshot = snapshot.without_nodes({o.node.id for o in others})
    return snapshot, {first.body.id}


def _cut(work: Work, tool: Shape) -> tuple[Snapshot, set[int]]:
    snapshot, changed = work.snapshot, set()
    for place in near_parts(work, tool):
        solid, result, trace = combine_into(work, place.body, "subtract", [_inside(tool, place)])
        if not parts_of(result, "solid"):
            raise CannotDo(f"nothing of {place.body.name} would be left", [f"n{place.node.id}"], field="way")
        if abs(volume_properties(result).amount - solid.volume_mm3) < NOTHING:
            continue
        sources = [(solid.index, place.body.ids())]
        snapshot, _ = in_pieces(work, snapshot, place.body, result, sources, trace)
        changed.add(place.body.id)
    if not changed:
        raise CannotDo("there is no matter in its way", field="way")
    return snapshot, changed
