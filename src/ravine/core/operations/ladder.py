"""Several ways to the same end, tried in turn: the rungs of a ladder; and the search for the largest value that works.

Every way gives up with one of `FAILURES` and nothing else.  Which rung did it, and why those before it did not, is
logged and kept in `Work.climbs`; `edits.perform` makes facts of it that are stored with the edit.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Sequence
from typing import TypeVar

import numpy as np

from ..errors import EditError, Unsettled
from ..kernel.failures import KERNEL_FAILURES, SpoiledInput
from ..local.failure import LocalFailure
from ..model.snapshot import Snapshot
from .acceptance import check_accepted
from .work import Climb, Work

T = TypeVar("T")
Rung = tuple[str, Callable[[], T]]  # its name in logs and facts, and the way, which changes nothing where it fails
log = logging.getLogger("ravine.ladder")
FAILURES: tuple[type[Exception], ...] = (
    LocalFailure, SpoiledInput, EditError, np.linalg.LinAlgError, *KERNEL_FAILURES,
)  # fmt: skip
SEARCH_SECONDS = 3.0  # for the largest value that works
SEARCH_SHARE = 1e-3  # of the asked value, to which it is found


class NothingWorked(Exception):
    """No rung did it.  failed: each with its reason, in order."""

    def __init__(self, failed: Sequence[tuple[str, Exception]]) -> None:
        super().__init__("; ".join(f"{name}: {reason_of(error)}" for name, error in failed))
        self.failed = tuple(failed)

    @property
    def first(self) -> Exception:
        return self.failed[0][1]

    def of(self, name: str) -> Exception | None:
        """Why this rung did not do; None where it was not tried."""
        return next((error for rung, error in self.failed if rung == name), None)


def first_that_works(work: Work, what: str, rungs: Sequence[Rung[T]]) -> T:
    """What the first rung gives that does it.  Raises NothingWorked; a preview that leaves the slow part for later
    (Unsettled) and a cancel end the climb at once.  Shapes that merging spoiled are read afresh."""
    failed: list[tuple[str, Exception]] = []
    for name, way in rungs:
        try:
            found = way()
            if work.mode.checks:
                _check(work, found)
        except Unsettled:
            raise
        except FAILURES as error:
            if isinstance(error, SpoiledInput):
                work.geometry.restore_all(b.shape for b in work.snapshot.bodies.values())
            log.info("%s: %s did not do it: %s", what, name, reason_of(error))
            failed.append((name, error))
            continue
        if failed:
            log.info("%s: %s did it", what, name)
        work.climbs.append(Climb(what, name, tuple((n, reason_of(e)) for n, e in failed)))
        return found
    raise NothingWorked(failed)


def _check(work: Work, found: object) -> None:
    """A state, alone or with what is told of it, passes the check of its bodies."""
    state = found[0] if isinstance(found, tuple) and found else found
    if isinstance(state, Snapshot):
        check_accepted(work, work.snapshot, state)


def climbed(work: Work, what: str, rungs: Sequence[Rung[T]]) -> T:
    """The same within a rung of another ladder: where nothing works, the first reason goes up."""
    try:
        return first_that_works(work, what, rungs)
    except NothingWorked as nothing:
        raise nothing.first from None


def merged_or_apart(work: Work, what: str, shapes: Sequence[str], way: Callable[[bool], T]) -> T:
    """What `way` gives with faces on one surface merged; where that would do harm, with those faces left apart.
    shapes: addresses of what merging may have spoiled, read afresh in between."""
    try:
        return way(True)
    except SpoiledInput as error:
        log.info("%s: faces stay apart: %s", what, reason_of(error))
        for address in shapes:
            work.geometry.restore(address)
        found = way(False)
        work.climbs.append(Climb(what, "faces left apart", (("faces merged", reason_of(error)),)))
        return found


def works(work: Work, way: Callable[[], object]) -> bool:
    """Whether it does it, for searches: leaves no trace in the record of what was tried."""
    climbs = len(work.climbs)
    try:
        way()
    except NothingWorked:
        return False
    except FAILURES as error:
        if isinstance(error, SpoiledInput):
            work.geometry.restore_all(b.shape for b in work.snapshot.bodies.values())
        return False
    finally:
        del work.climbs[climbs:]
    return True


def reason_of(error: Exception) -> str:
    """In words; the kernel's own failures by the name of their kind."""
    if isinstance(error, (LocalFailure, EditError)):
        return error.reason
    if isinstance(error, SpoiledInput):
        return "merging its faces would have damaged the body"
    return f"the kernel gave up ({type(error).__name__}: {error})".replace("\n", " ")[:200]


def largest_that_works(asked: float, works: Callable[[float], bool]) -> float | None:
    """By halving between nothing and what was asked; None when not even a thousandth of it works, or when time is
    short."""
    end = time.monotonic() + SEARCH_SECONDS
    low, high = 0.0, asked
    while abs(high - low) > SEARCH_SHARE * abs(asked) and time.monotonic() < end:
        middle = (low + high) / 2
        if works(middle):
            low = middle
        else:
            high = middle
    return low if abs(low) > SEARCH_SHARE * abs(asked) else None
