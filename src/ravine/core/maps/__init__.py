"""Figures over the whole surface of a body, to be shown as colours: thickness, draft, deviation, curvature."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
