"""The picture behind a sketch: scaled by a known length, faded, or taken away."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.references import Reference
from ..sketch.drawing import Spot
from ..sketch.entities import Picture
from .sketching import sketch_of
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class LayPicture(Operation):
    """what: scale (in both directions alike, so that two `places` in it are `length` mm apart; the first stays), fade
    or drop; strength: 1 shows it as it is."""

    sketch: tuple[Reference, ...]
    what: str = "scale"
    places: Sequence[Spot] | None = None
    length: float | None = None
    strength: float = 0.5

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.sketch, "sketch")
        if sketch.picture is None:
            raise EditError(f"{sketch.name} has no picture; bring a PNG or JPEG file in", self.sketch, field="sketch")
        if self.what == "drop":
            return Outcome(work.snapshot.with_sketch(replace(sketch, picture=None)))
        picture = replace(sketch.picture, strength=self.strength)
        if self.what == "scale":
            picture = self._scaled(picture)
        facts = (Fact("wide", "picture wide", picture.wide, "length"), Fact("tall", "tall", picture.tall, "length"))
        return Outcome(work.snapshot.with_sketch(replace(sketch, picture=picture)), facts)

    def _scaled(self, picture: Picture) -> Picture:
        if not self.places or len(self.places) != 2:
            raise EditError("give two places of the picture", field="places")
        if self.length is None:
            raise EditError("the length between the two places is still empty", field="length")
        a, b = (s.place for s in self.places)
        if math.dist(a, b) < 1e-6:
            raise EditError("the two places are the same", field="places")
        factor = self.length / math.dist(a, b)
        x, y = (a[k] + factor * (picture.corner[k] - a[k]) for k in (0, 1))
        return replace(picture, corner=(x, y), wide=picture.wide * factor)
