"""Fields that several edits have alike."""

from __future__ import annotations

from dataclasses import replace

from ...sketch.entities import FONTS
from . import ChoiceField, LengthField, PickField, PiecesField, TextField

EXTENT = ChoiceField(
    "the extent",
    "Whether the rest of the feature goes along: the walls of a pocket with its floor, all of a stepped hole.",
    default="feature",
    options={"feature": "with the rest of the feature", "picked": "alone"},
)

WAY = ChoiceField(
    "the matter", "Added and joined to what it touches, added as a part of its own, or taken away.",
    default="joining", options={"joining": "joining what it touches", "apart": "as a part of its own",
                                "cutting": "cutting it out"},
)  # fmt: skip

DROPPED = PiecesField("the pieces to drop", "Their numbers, or a click on each in the view; 1 is the largest.",
                    default=(), blank="no piece")  # fmt: skip

EDGES = PickField(
    "the edges", "Sharp edges, or faces, which stand for all their sharp edges.", element="edge", also=("face",)
)

RUNS = ChoiceField(
    "the run",
    "Edges that go on without a kink always come along; or all edges of the loop do.",
    default="tangent",
    options={"tangent": "following tangent runs", "loop": "with their whole loop"},
)

FACE_SELECTION = ChoiceField(
    "riders",
    "Whether other faces of the body go along: those in the same plane, those of the same kind and radius, or "
    "those in the same place of a pattern's other members.",
    default="alone",
    options={
        "alone": "and no others",
        "coplanar": "and all in their plane",
        "alike": "and all of their radius",
        "pattern": "and all of their pattern",
    },
)

CHAMFERS = ChoiceField(
    "the chamfers",
    "Whether chamfers and countersinks beside the faces go along and keep their width, or stay where they are and "
    "get narrower or wider.",
    default="following",
    options={"following": "chamfers following", "staying": "chamfers staying"},
)

ALONG = ChoiceField(
    "the direction",
    "An axis of the model, or square to the first picked face; a picked edge or face goes before it.",
    default="z",
    options={"x": "X", "y": "Y", "z": "Z", "normal": "its normal"},
)

AXIS = PickField(
    "the axis",
    "An edge, a round face's axis, a flat face's normal, or a corner to turn about.",
    element="edge", also=("face", "vertex"), maximum=1, changes=False, default=None, empty="its own middle",
    reopens=True,
)  # fmt: skip

PLACED_ALONG = replace(
    ALONG,
    help="X, Y or Z of the model; of what the handle is set on, where Z runs along its axis or normal; or square "
    "to the first picked face.",
)

SET_ON = replace(
    AXIS,
    label="what the handle is set on",
    help="An edge, a round face's axis, a flat face's normal, or a corner: slides and turns are about it.",
)

UNTIL = PickField(
    "until", "A face, edge or corner whose height along the direction is the goal.", element="face",
    also=("edge", "vertex"), maximum=1, changes=False, default=None, empty="a value",
)  # fmt: skip

LETTERS = dict(
    zip(FONTS, ("plain letters", "bold letters", "letters with serifs", "letters of one width"), strict=True)
)

DEVIATION = LengthField("the deviation", "A few times the noise.", minimum=1e-6, default=None, blank="its own noise")

PARTS = PickField("the meshes", "Parts that are meshes.", element="node")

WITH = {"arcs": "lines, arcs and circles", "lines": "lines", "splines": "splines"}
STUDY = TextField("the study", "By its name; may be left out where there is one.", limit=60, default=None,
                  blank="the only one")  # fmt: skip
SHEET = TextField("the sheet", "By its name; may be left out where there is one.", limit=60, default=None,
                  blank="the only one")  # fmt: skip
