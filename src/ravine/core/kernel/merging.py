"""The kernel's merging of faces on one surface, with an end to it.

On some bodies the merging never returns, on others it takes the process along, and nothing in the kernel can stop it.
So merging is tried first in a copy of the process (fork) that may be stopped, and only what ends there is done here.
The trial merges only the faces that may become one, with what lies around them, where these are known.  Merging of
planes alone is done at once; what bounds it is the time that the worker has for the edit.
"""

from __future__ import annotations

import ctypes
import os
import select
import signal
from collections.abc import Callable, Sequence

from OCP.BRepTools import BRepTools_History
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from .failures import KERNEL_FAILURES, SpoiledInput
from .shapes import Shape
from .soup import shell_of

SECONDS = 8.0  # merging of 5000 faces takes about one
_LIBC = ctypes.CDLL(None)
_PR_SET_PDEATHSIG = 1


def merged(
    shape: Shape, keep_edges: Sequence[Shape], *, risky: Sequence[Shape] | None = None
) -> tuple[Shape, BRepTools_History]:
    """Faces on one surface become one across all edges but `keep_edges`; also edges that continue one another.  risky:
    faces whose merging has to be tried first, none where only planes are merged; all of them when left out.  Raises
    SpoiledInput."""
    unify = _unifier(shape, keep_edges)
    if risky is None or len(risky):
        trial = unify if risky is None else _unifier(shell_of(risky), keep_edges)
        if not ends_well(trial.Build, SECONDS):
            raise SpoiledInput
    try:
        unify.Build()
    except KERNEL_FAILURES:
        raise SpoiledInput from None
    return unify.Shape(), unify.History()


def _unifier(shape: Shape, keep_edges: Sequence[Shape]) -> ShapeUpgrade_UnifySameDomain:
    unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
    for edge in keep_edges:
        unify.KeepShape(edge)
    return unify


def ends_well(way: Callable[[], object], seconds: float) -> bool:
    """Whether it comes to its end in a copy of this process, which is thrown away.  Changes nothing here."""
    child = os.fork()
    if child == 0:
        code = 1
        try:
            _LIBC.prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)  # no trial outlives its worker
            way()
            code = 0
        finally:
            os._exit(code)
    ending = os.pidfd_open(child)
    try:
        waiting = select.poll()
        waiting.register(ending, select.POLLIN)
        if not waiting.poll(seconds * 1e3):
            os.kill(child, signal.SIGKILL)
        return os.waitpid(child, 0)[1] == 0
    finally:
        os.close(ending)
