"""Rows as pages see them: read there, and only asked for and changed in this package."""

from ravine.store.tables import Design, Job, Kept, Revision

__all__ = ["Design", "Job", "Kept", "Revision"]
