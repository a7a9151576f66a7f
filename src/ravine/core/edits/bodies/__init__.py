"""Whole bodies: combined, split, mirrored, scaled, mended."""

from ..declared import load_family

load_family(__name__, __path__)
