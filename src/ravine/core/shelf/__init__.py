"""Standard and bought parts, generated from tables: what there is, what suits a hole, and their solids."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
