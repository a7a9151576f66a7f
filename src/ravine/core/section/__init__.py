"""Cutting a model open by a plane: outlines for the view, exact curves and areas, widths of gaps and walls."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
