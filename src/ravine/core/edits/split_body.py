"""Split parts by a plane or by the surface of a face."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..kernel.cells import split
from ..kernel.shapes import Shape, parts_of, placed
from ..local.between import spread
from ..local.surfaces import Motion, Surface
from ..model import placement
from ..model.snapshot import Occurrence, split_id
from .axes import MODEL_AXES
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .bodies import each_body, in_pieces, places_of
from .facts import change_facts
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .pieces import DROPPED, kept_pieces
from .shaping import matrix_of


@edit
class SplitBody(Edit):
    name = "split"
    title = "Split"
    sentence = "Split {parts} by {face} or square to {along} at {height} , dropping {drop}"
    past = "Split {parts}"
    help = (
        "Cuts solids in two or more: along the surface of a face, which runs on as far as need be, or along a plane "
        "of the model.  Every piece becomes a part but those dropped by a click or by their numbers; copies of the "
        "part are split alike."
    )
    offered_for = "node"
    stages = ("Shape",)
    rank = 23
    drawing = "split"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Solids.", element="node"))
    face: tuple[str, ...] | None = gap(
        PickGap("the face", "Its surface cuts, here or on another part.", element="face", maximum=1, changes=False,
                default=None, empty="a face")
    )  # fmt: skip
    along: str = gap(ChoiceGap("the direction", "The plane stands square to it, where no face is picked.",
                               default="z", options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    height: float | None = gap(
        LengthGap("the height", "Of the plane, from the origin of the model.", default=None, instead="face")
    )

    drop: tuple[int, ...] = gap(DROPPED)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Split {self.word('parts', context)} "
        if self.face:
            return words + f"by {self.word('face', context)}"
        return words + f"square to {self.word('along', context)} at {self.word('height', context)}"

    def handle(self, work: Work) -> Handle | None:
        if self.face:
            return None
        place = places_of(work, self.parts, "parts")[0]
        low, high = work.geometry.solid(place.body.shape).box
        middle = np.array(placement.point(place.matrix, [(a + b) / 2 for a, b in zip(low, high, strict=True)]))
        way = np.array(MODEL_AXES[self.along])
        x, y, z = (middle - (middle @ way) * way).tolist()
        return Handle("height", (x, y, z), MODEL_AXES[self.along])

    def apply(self, work: Work) -> Outcome:
        if self.face is None and self.height is None:
            raise EditError("pick a face to split by, or give the height of a plane", field="height")
        snapshot, pieces = work.snapshot, 0
        places = each_body(work, self.parts)
        for place in places:
            solid = work.geometry.solid(place.body.shape)
            doing = f"Splitting {place.body.name}"
            result, trace = split(solid.shape, [self._knife(work, place)])
            if len(parts_of(result, "solid")) < 2:
                raise EditError(f"{doing}: the cut does not pass through it", [f"n{place.node.id}"],
                                field="face" if self.face else "height")  # fmt: skip
            sources = [(solid.index, place.body.ids())]
            snapshot, count = in_pieces(work, snapshot, place.body, result, sources, trace, doing)
            pieces += count
        snapshot, listed = kept_pieces(work, snapshot, [p.body.id for p in places], self.drop)
        after = snapshot.without_nodes({p.node for p in listed if p.dropped and p.node in snapshot.nodes})
        bodies = {p.body.id for p in places} | (set(snapshot.bodies) - set(work.snapshot.bodies))
        facts = (Fact("pieces", "pieces", float(pieces), "count"), *change_facts(work, after, bodies))
        return Outcome(snapshot, facts, pieces=listed)

    def _knife(self, work: Work, place: Occurrence) -> Shape:
        """In the coordinates of the body."""
        solid = work.geometry.solid(place.body.shape)
        inside = placement.inverse(place.matrix)
        reach = np.array(solid.box)
        if not self.face:
            normal = np.array(placement.direction(inside, MODEL_AXES[self.along]))
            height = [self.height * c for c in MODEL_AXES[self.along]] if self.height is not None else [0.0] * 3
            return spread(Surface.plane(np.array(placement.point(inside, height)), normal), reach)
        body, index = work.snapshot.owner_of("face", split_id(self.face[0])[1])
        owner = work.geometry.solid(body.shape)
        matrix = placement.multiply(inside, matrix_of(work.snapshot, body))
        surface = owner.fabric.surface(index)
        if surface.kind == "spline":
            return placed(owner.index.get("face", index), matrix)
        rows = np.array(matrix).reshape(3, 4)
        return spread(surface.moved(Motion(rows[:, :3], rows[:, 3])), reach)
