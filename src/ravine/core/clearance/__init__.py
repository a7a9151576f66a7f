"""Room between parts: gaps, overlaps, and the fits of shafts in holes."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
