"""Edges: rounded, chamfered, pulled out, filled."""

from ..registry import load_family

load_family(__name__, __path__)
