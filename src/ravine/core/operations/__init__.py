"""What changes geometry: a snapshot goes in, a snapshot with facts comes out.  No sentences and no fields; callable
from edits, scripts, features and tests alike.  Each module loads when something is first asked of it."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
