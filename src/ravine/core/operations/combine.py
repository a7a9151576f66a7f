"""Combine parts: unite, cut one with others, keep what they share."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import CannotDo, EditError
from ..kernel.rebuild import rooted
from ..kernel.shapes import Shape, ShapeIndex, parts_of, placed
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.plan import Offset
from ..local.topology import SolidTopology
from ..model.references import Reference
from ..model.snapshot import Occurrence
from ..tolerances import NOTHING
from ..units import format_length
from .bodies import in_pieces, places_of
from .booleans import combine_into
from .facts import change_facts
from .pieces import kept_pieces
from .work import Fact, Operation, Outcome, Work


def _with_room(work: Work, place: Occurrence, room: float) -> Shape:
    """The solid with all its faces that much (mm) farther out; sharp edges stay sharp."""
    solid = work.geometry.solid(place.body.shape)
    if not room:
        return solid.shape
    topology = SolidTopology(rooted(solid.index))
    try:
        found: Shape = reshape(topology, {f: Offset(room) for f in range(solid.index.count("face"))}).shape
    except LocalFailure as failure:
        told = format_length(room, work.snapshot.units)
        raise CannotDo(
            f"{place.body.name} cannot be made {told} larger all round: {failure}", field="clearance"
        ) from failure
    return found


_KINDS = {"unite": "unite", "cut": "subtract", "common": "common"}


@dataclass(frozen=True, kw_only=True)
class Combine(Operation):
    """Works one solid with others where they stand; clearance: mm all round a tool that cuts."""

    part: tuple[Reference, ...]
    tools: tuple[Reference, ...]
    way: str = "unite"
    after: str = "go"
    drop: tuple[int, ...] = ()
    clearance: float = 0.0

    def do(self, work: Work) -> Outcome:
        chosen = places_of(work, self.part, "part")
        if len(chosen) != 1:
            raise EditError(f"{len(chosen)} parts are in what was picked; pick the one that changes", field="part")
        (place,) = chosen
        others = [o for o in places_of(work, self.tools, "tools") if o.node.id != place.node.id]
        if not others:
            raise EditError("a part cannot be worked with itself; pick another one as the tool", field="tools")
        twin = next((o for o in others if o.body.id == place.body.id), None)
        if twin:
            raise EditError(f"{twin.node.name} shows the same part in another place; both would change at once",
                            [f"n{twin.node.id}"], field="tools")  # fmt: skip
        locked = [o for o in others if o.body.locked]
        if locked and self.way == "unite":
            raise EditError(f"{locked[0].body.name} is locked, so nothing is joined to it; unlock it first",
                            [f"n{locked[0].node.id}"], field="tools")  # fmt: skip
        inside = place.matrix.inverse
        room = self.clearance if self.way == "cut" else 0.0
        shapes = [placed(_with_room(work, o, room), (inside @ o.matrix)) for o in others]
        solid, result, trace = combine_into(work, place.body, _KINDS[self.way], shapes)
        if not parts_of(result, "solid"):
            raise CannotDo("nothing would be left", field="tools")
        count = len(parts_of(result, "solid"))
        if self.way == "unite" and count > 1:
            raise CannotDo(f"they do not touch, so they stay {count} parts; move them together first",
                            self.tools, field="tools")  # fmt: skip
        goes = [o for o in others if self.after == "go" and not o.body.locked]
        sources = [(solid.index, place.body.ids())]
        if self.way == "unite":
            last = {o.body.id for o in goes if len(work.snapshot.occurrences(o.body.id)) == 1}
            sources += [(ShapeIndex(s), o.body.ids()) for s, o in zip(shapes, others, strict=True) if o.body.id in last]
        snapshot, pieces = in_pieces(work, work.snapshot, place.body, result, sources, trace)
        left = work.geometry.solid(snapshot.body(place.body.id).shape).volume_mm3
        if self.way == "cut" and count == 1 and abs(left - solid.volume_mm3) < NOTHING:
            raise CannotDo("they do not meet, so nothing would change", self.part, field="tools")
        snapshot, left_over = kept_pieces(work, snapshot, [place.body.id], self.drop)
        if goes:
            snapshot = snapshot.without_nodes({o.node.id for o in goes})
        after = snapshot.without_nodes({p.node for p in left_over if p.dropped and p.node in snapshot.nodes})
        bodies = set(work.snapshot.bodies) ^ set(after.bodies) | {place.body.id}
        facts = change_facts(work, after, bodies)
        if pieces > 1:
            facts += (Fact("pieces", "falls into pieces", float(pieces), "count", tone="warning"),)
        warnings = tuple(f"{o.body.name} is locked and stays" for o in locked if self.after == "go")
        many = len(work.snapshot.occurrences(place.body.id))
        if many > 1:
            warnings += (f"{place.body.name} stands in {many} places, which all change",)
        return Outcome(snapshot, facts, warnings, pieces=left_over)
