"""What is written on sheets, a file a family; each kind enters itself in `base.KINDS`."""

from . import angle, distance, holes, marks, ordinate, rounds, tables, threads
from .base import KINDS, Setting, Told

__all__ = ["KINDS", "Setting", "Told", "angle", "distance", "holes", "marks", "ordinate", "rounds", "tables", "threads"]
