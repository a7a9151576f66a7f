"""Faces of solids: pushed, sized, moved, tilted, removed, divided, repeated."""

from ..declared import load_family

load_family(__name__, __path__)
