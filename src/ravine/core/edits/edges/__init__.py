"""Edges: rounded, chamfered, pulled out, filled."""

from ..declared import load_family

load_family(__name__, __path__)
