"""The gaps of an edit's sentence: what each takes, how raw input becomes a checked value, how it reads.

Raw input is what a page, a script or a recipe gives: text or JSON values.  A gap turns it into one typed value or
raises an EditError that names the gap.
"""

from .base import REQUIRED, Context, Gap
from .choices import ChoiceGap, ColourGap, FileGap, PiecesGap, TextGap
from .numbers import AngleGap, CountGap, FactorGap, Formula, FormulaGap, LengthGap, ShareGap
from .picks import PickGap
from .places import PlacesGap, PlaneGap

__all__ = [
    "REQUIRED",
    "AngleGap",
    "ChoiceGap",
    "ColourGap",
    "Context",
    "CountGap",
    "FactorGap",
    "FileGap",
    "Formula",
    "FormulaGap",
    "Gap",
    "LengthGap",
    "PickGap",
    "PiecesGap",
    "PlacesGap",
    "PlaneGap",
    "ShareGap",
    "TextGap",
]
