"""Draw in a sketch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.drawing import SHAPES, SIZED, Asked, Spot, draw
from ...sketch.entities import Sketch
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, CountField, LengthField, PickField, PlacesField, TextField
from ..fields.shared import LETTERS
from ..registry import edit


@edit
class Draw(Edit):
    name = "draw"
    keeps_open = ("sketch", "shape", "role", "about")
    title = "Draw"
    also = ("line", "circle", "rectangle", "arc", "spline")
    sentence = (
        "Draw a {shape} saying {words} in {font} through {places} of size {size} with corners {count} as {role} "
        "in {sketch} , {about}"
    )
    past = "Drew a {shape} in {sketch}"
    help = "Draws in a sketch.  " + " ".join(f"{name.capitalize()}: {row[3]}." for name, row in SHAPES.items())
    offered_for = "sketch"
    stages = ("Shape",)
    rank = 9
    folds = ("role", "about")
    drawing = '<path d="M2 13h16" stroke-dasharray="1.6 1.4"/><path class="hot" d="M3 11 8 4l5 5 4-6"/>'

    sketch: tuple[Reference, ...] = field(PickField("the sketch", "Where to draw.", element="sketch", maximum=1))
    shape: str = field(ChoiceField("the shape", "What is drawn.", default="line", options={s: s for s in SHAPES}))
    places: tuple[Spot, ...] = field(
        PlacesField(
            "the places",
            "Clicked in the view or written: 0,0 (across, up), +40,0 from the one before, 40<30 by "
            "length and angle, p7 for a point that is there.",
            counts={name: (row[1], row[2]) for name, row in SHAPES.items()},
        )
    )
    size: float | None = field(
        LengthField("the size", "Radius of a circle, half width of a slot, held as a dimension; height of the capitals "
                  "of a text.", minimum=1e-4, default=None, blank="any size", only=("shape", *SIZED, "text"))
    )  # fmt: skip
    count: int = field(CountField("the corners", "Of a polygon.", default=6, only=("shape", "polygon", "polygon over")))
    words: str | None = field(TextField("the text", "What it says.", default=None, only=("shape", "text")))
    font: str = field(ChoiceField("the font", "Of those that ship.", default="sans", only=("shape", "text"),
                              options=LETTERS))  # fmt: skip
    about: tuple[Reference, ...] | None = field(
        PickField("the mirror", "A line that what is drawn appears about once more, at once, and stays mirrored.",
                element="curve", maximum=1, default=None, empty="not mirrored")
    )  # fmt: skip
    role: str = field(ChoiceField("the role", "Helper lines guide others and bound no area.", default="outline",
                              options={"outline": "outline", "helper": "helper"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("sketch", "curve", "point", "area")

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"sketch": [f"s{sketching.sketch_of(work.snapshot, picked, 'sketch').id}"]} if picked else {}

    def told(self, context: Context) -> str:
        article = "an" if self.shape[0] in "ae" else "a"
        role = " as a helper" if self.role == "helper" else ""
        return f"Drew {article} {self.shape}{role} in {self.word('sketch', context)}"

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.sketch, "sketch")
        asked = Asked(self.size, self.count, self.words or "", self.font)

        def drawn(ids: Iterator[int]) -> Sketch:
            found, curves = draw(sketch, self.shape, self.places, ids, asked, self.role == "helper")
            return sketching.mirrored(found, curves, self.about[0], ids) if self.about else found

        after = sketching.with_ids(work.snapshot, drawn)
        return Outcome(after, sketching.sketch_facts(after.sketch(sketch.id)))
