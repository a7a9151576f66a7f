"""Printing: machines, layers, what will not print, which way up, how long it takes.  Triangles in mm."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
