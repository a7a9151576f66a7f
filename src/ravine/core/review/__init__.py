"""Two states of a model, or two models, compared face by face.  Each module loads when something is first asked of
it."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
