"""Drawings: views of the model as lines that know their edge, what is written on them, and sheets of paper.
Each module loads when something is first asked of it."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
