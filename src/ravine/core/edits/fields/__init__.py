"""The fields of an edit's sentence: what each takes, how raw input becomes a checked value, how it reads.

Raw input is what a page, a script or a recipe gives: text or JSON values.  A field turns it into one typed value or
raises an EditError that names the field.
"""

from .base import REQUIRED, Context, Field
from .choices import (
    ChoiceField,
    ColourField,
    FileField,
    LinesField,
    NamesField,
    PiecesField,
    RowsField,
    TableField,
    TextField,
)
from .data import DataField, FlagField, IdsField, KeptField, NumbersField
from .numbers import AngleField, CountField, FactorField, Formula, FormulaField, LengthField, QuantityField, ShareField
from .on_sheets import EntriesField, EntryField, PairsField, WordsField
from .others import OtherField
from .picks import PickField
from .places import PlacesField, PlaneField

__all__ = [
    "REQUIRED",
    "AngleField",
    "ChoiceField",
    "ColourField",
    "Context",
    "CountField",
    "DataField",
    "EntriesField",
    "EntryField",
    "FactorField",
    "Field",
    "FileField",
    "FlagField",
    "Formula",
    "FormulaField",
    "IdsField",
    "KeptField",
    "LengthField",
    "LinesField",
    "NamesField",
    "NumbersField",
    "OtherField",
    "PairsField",
    "PickField",
    "PiecesField",
    "PlacesField",
    "PlaneField",
    "QuantityField",
    "RowsField",
    "ShareField",
    "TableField",
    "TextField",
    "WordsField",
]
