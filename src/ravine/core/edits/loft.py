"""A solid through areas of several sketches."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.sweep import led, lofted
from ..model.profiles import area_named, face_of
from ..model.snapshot import split_id
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, PickGap
from .grown import WAY, put, united
from .sheets import edge_shapes


@edit
class Loft(Edit):
    name = "loft"
    title = "Loft"
    sentence = "Loft through {areas} , {walls}, led by {guide} , {way}"
    past = "Lofted through {areas}"
    help = (
        "Lays smooth or straight walls through one area each of two or more sketches, in the order of the pick; "
        "holes of the areas run through as well.  "
        "A guide, of edges or sketched curves that follow one another, bends the way from the first to the last."
    )
    offered_for = "area"
    rank = 10
    drawing = "loft"

    areas: tuple[str, ...] = gap(PickGap("the areas", "One of each sketch, in order.", element="area", minimum=2))
    walls: str = gap(ChoiceGap("the walls", "Smooth through all, or straight from one to the next.", default="smooth",
                               options={"smooth": "with smooth walls", "straight": "with straight walls"}))  # fmt: skip
    guide: tuple[str, ...] | None = gap(
        PickGap("the guide", "Edges or curves that lead from one area to the next.", element="edge", also=("curve",),
                changes=False, default=None, empty="nothing", several=True)
    )  # fmt: skip
    way: str = gap(WAY)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count > 1

    def told(self, context: object) -> str:
        return f"Lofted through {len(self.areas)} areas"

    def apply(self, work: Work) -> Outcome:
        sketches = [work.snapshot.sketch(split_id(a)[1]) for a in self.areas]
        if len({s.id for s in sketches}) < len(sketches):
            raise EditError("a loft takes one area of each sketch", self.areas, field="areas")
        doing = f"Lofting through {len(self.areas)} areas"
        faces = [face_of(s.plane, area_named(s, a)) for s, a in zip(sketches, self.areas, strict=True)]
        work.progress(0.2, "laying the walls")
        if self.guide:
            solid = led(faces, edge_shapes(work, self.guide), doing)
        else:
            solid = lofted(faces, self.walls == "smooth", doing)
        return put(work, united([solid], doing), self.way, doing, "Loft")
