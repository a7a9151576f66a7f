"""Sheet metal: a plain solid read as walls and bends, laid flat, and made."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
