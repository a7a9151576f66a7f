"""Check-up and mending: what is wrong with a body, and putting it right in place."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
