"""Drawings: sheets, views, what is written on them, and their files."""

from ..declared import load_family

load_family(__name__, __path__)
