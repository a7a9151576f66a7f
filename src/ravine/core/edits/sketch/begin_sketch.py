"""Begin a sketch: on a plane of the model, a flat face, or a plane through what is picked."""

from __future__ import annotations

import numpy as np

from ...errors import EditError
from ...model.references import Reference
from ...model.snapshot import Snapshot
from ...operations import planes
from ...operations.work import Fact, Outcome, Work
from ...rigid import vec_of
from ...sketch.entities import Plane, Sketch
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, LengthField, PickField
from ..registry import edit

STANDARD = {
    "xy": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "xz": ((1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
    "yz": ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
}


@edit
class NewSketch(Edit):
    name = "sketch"
    title = "Sketch"
    also = ("plane", "new sketch")
    sentence = "Sketch on {on} the plane {plane} , {offset} off, turned by {angle} , {count} along the edge"
    past = "Began a sketch on {plane}"
    help = (
        "Begins a drawing in a plane: one of the model, a flat face, midway between two parallel faces, through three "
        "corners or two edges, square to an edge at a corner, or through an edge at an angle to a face.  The offset "
        "goes along the plane's normal.  A count above one gives a row of planes square to a picked edge, from its "
        "start to its end, each with a sketch."
    )
    stages = ("Bring in", "Shape")
    rank = 26
    folds = ("on", "offset", "angle", "count")
    drawing = '<path d="M2 13 6 4h12l-4 9z"/><path class="hot" d="M6.5 10.5 9 7l4 2"/>'

    on: tuple[Reference, ...] | None = field(
        PickField("what it stands on", "Faces, edges or corners that give the plane.", element="face",
                also=("edge", "vertex"), maximum=3, changes=False, default=None, empty="a face, edges or corners")
    )  # fmt: skip
    plane: str = field(ChoiceField("the plane", "Of the model, where nothing is picked.", default="xy",
                               options={"xy": "XY", "xz": "XZ", "yz": "YZ"}))  # fmt: skip
    offset: float = field(LengthField("the offset", "Along the normal of the plane.", default=0.0))
    angle: float = field(AngleField("the angle", "About the picked edge, from the picked face.", default=0.0))

    count: int = field(CountField("the count", "Planes evenly along a picked edge, square to it, each with a sketch.",
                            default=1))  # fmt: skip

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        return frozenset({"plane"})  # of the model; something else was picked

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex") and not pick.mesh and pick.count <= 3

    def told(self, context: Context) -> str:
        words = "Began a sketch on "
        words += self.word("on", context) if self.on else f"the plane {self.word('plane', context)}"
        return words + (f", {self.word('offset', context)} off" if self.offset else "")

    def apply(self, work: Work) -> Outcome:
        if self.count > 1:
            return self._series(work)
        plane = (
            planes.plane_through(work, self.on, self.angle)
            if self.on
            else Plane((0.0, 0.0, 0.0), *STANDARD[self.plane])
        )
        if self.offset:
            shift = np.array(plane.origin) + self.offset * np.array(plane.normal)
            plane = Plane(vec_of(shift), plane.x, plane.y)
        return Outcome(_begun(work.snapshot, plane))

    def _series(self, work: Work) -> Outcome:
        if not self.on or len(self.on) != 1 or self.on[0][0] != "e":
            raise EditError("a row of planes runs along one picked edge", self.on or (), field="on")
        if self.count > 100:
            raise EditError("up to 100 planes fit along an edge", nearest="100", field="count")
        snapshot = work.snapshot
        for k in range(self.count):
            snapshot = _begun(snapshot, planes.plane_along(work, self.on[0], k / (self.count - 1)))
        return Outcome(snapshot, (Fact("sketches", "sketches", float(self.count), "count", one="sketch"),))


def _begun(snapshot: Snapshot, plane: Plane) -> Snapshot:
    (number,), snapshot = snapshot.fresh(1)
    name = f"Sketch {1 + max((_count(s.name) for s in snapshot.sketches.values()), default=0)}"
    return snapshot.with_sketch(Sketch(number, name, plane))


def _count(name: str) -> int:
    last = name.rsplit(" ", 1)[-1]
    return int(last) if last.isdecimal() and len(last) < 9 else 0
