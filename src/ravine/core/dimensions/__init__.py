"""Dimensions on plain solids: what one measures, and the motions of faces that give it another value."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
