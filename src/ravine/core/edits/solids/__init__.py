"""Solids from areas of sketches."""

from ..registry import load_family

load_family(__name__, __path__)
