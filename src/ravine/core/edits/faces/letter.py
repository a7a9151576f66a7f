"""Raised or cut lettering on a flat face."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import letter
from ...operations.work import Outcome, Work
from ...sketch.entities import FONTS
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField, TextField
from ..fields.shared import LETTERS
from ..registry import edit


@edit
class Letter(Edit):
    name = "letter"
    title = "Lettering"
    also = ("text", "emboss", "engrave")
    sentence = (
        "Letter {face} with {words} in {font}, {height} high, {way} {depth} , {across} across, {up} up, "
        "turned by {angle}"
    )
    past = "Lettered {face} with {words}"
    doing = "Lettering {face} with “{words}”"
    help = (
        "Puts a line of text on a flat face, in its middle or off it, raised or cut in.  The height is that of the "
        "capitals."
    )
    offered_for = "face"
    rank = 27
    drawing = '<path d="M2 14h16"/><path class="hot" d="M5 12 9.5 3 14 12M6.5 9h6"/>'
    folds = ("font", "across", "up", "angle")

    face: tuple[Reference, ...] = field(
        PickField("the face", "A flat face.", element="face", kinds=("plane",), maximum=1)
    )
    words: str = field(TextField("the text", "What it says."))
    font: str = field(ChoiceField("the font", "Of those that ship.", default=FONTS[0], options=LETTERS))
    height: float = field(LengthField("the height", "Of the capitals.", minimum=0.2, default=5.0))
    way: str = field(ChoiceField("the way", "Standing out or cut in.", default="raised",
                             options={"raised": "raised by", "cut": "cut in by"}))  # fmt: skip
    depth: float = field(LengthField("the depth", "How far it stands out or goes in.", minimum=0.01, default=0.5))
    across: float = field(LengthField("the place across", "From the middle of the face.", default=0.0))
    up: float = field(LengthField("the place up", "From the middle of the face.", default=0.0))
    angle: float = field(AngleField("the angle", "On the face, counterclockwise.", default=0.0))

    def told(self, context: Context) -> str:
        way = "raised" if self.way == "raised" else "cut in"
        return f"Lettered {self.word('face', context)} with “{self.words}”, {way}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(letter.Letter, work)
