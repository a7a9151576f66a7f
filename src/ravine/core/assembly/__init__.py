"""Parts that stand to one another as joints say: equations, their solution, and what is left free."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
