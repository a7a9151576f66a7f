"""Dimensions of plain solids: kept, driven, forgotten."""

from ..declared import load_family

load_family(__name__, __path__)
