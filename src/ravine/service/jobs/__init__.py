"""Durable jobs: rows in the database, run on the engine, with progress and cancel, taken up again after a crash.

A kind of job is one module here that enters a JobKind in the table of kinds.py and queues its rows.
"""

from . import import_file, simulate
from .import_file import start_import
from .kinds import KINDS, JobKind
from .rows import cancel, find, open_jobs, seen
from .running import Runner
from .simulate import start_study

__all__ = [
    "KINDS", "JobKind", "Runner", "cancel", "find", "import_file", "open_jobs", "seen", "simulate", "start_import",
    "start_study",
]  # fmt: skip
