"""The model: immutable snapshots, the queries on them, and the journal that leads from one to the next."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
