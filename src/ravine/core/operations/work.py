"""What an operation works on, and what it gives back."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum
from typing import TYPE_CHECKING

from ..model.snapshot import Snapshot

if TYPE_CHECKING:
    from ..model.geometry import GeometryStore

Progress = Callable[[float, str], None]


def _silent(fraction: float, words: str) -> None:
    return None


@dataclass(frozen=True)
class Fact:
    """A figure that decides the edit.  quantity: volume, mass, length, area, count or words; tone: plain or warning;
    one: the label for a count of one, where that is not the label without its s."""

    code: str
    label: str
    value: float | str
    quantity: str = "words"
    tone: str = "plain"
    one: str = ""


@dataclass(frozen=True)
class Piece:
    """One of several pieces that an edit leaves: where it stands in the tree, its number (1 is the largest)."""

    node: int
    number: int
    dropped: bool


class Mode(Enum):
    """What the work is for.

    drag: a picture while the hand moves; checks that never change the geometry are left out, and what is slow may be
    left for later (Unsettled).  preview: when the hand rests; all is checked.  commit: to be kept.  probe: whether a
    value works at all, for searches: all is checked, nothing is advised.
    """

    DRAG = "drag"
    PREVIEW = "preview"
    COMMIT = "commit"
    PROBE = "probe"

    @property
    def checks(self) -> bool:
        return self is not Mode.DRAG

    @property
    def advises(self) -> bool:
        """A refusal looks for the nearest value that works."""
        return self in (Mode.PREVIEW, Mode.COMMIT)

    @property
    def shows(self) -> bool:
        """The result is only looked at: what is to go is shown as going."""
        return self in (Mode.DRAG, Mode.PREVIEW)

    @property
    def keeps(self) -> bool:
        return self is Mode.COMMIT


@dataclass(frozen=True)
class Climb:
    """Which rung of a ladder did it, and why those before it did not."""

    what: str
    rung: str
    failed: tuple[tuple[str, str], ...] = ()


@dataclass
class Work:
    """What an operation works on.  climbs: what was tried so far, filled by the ladder; pointed: the place (mm in the
    model) where the hand touched what is picked, None where nothing did; sound: addresses of shapes that passed the
    check of the whole body."""

    snapshot: Snapshot
    geometry: GeometryStore
    progress: Progress = _silent
    mode: Mode = Mode.COMMIT
    climbs: list[Climb] = dataclasses.field(default_factory=list)
    pointed: tuple[float, float, float] | None = None
    sound: set[str] = dataclasses.field(default_factory=set)


@dataclass(frozen=True)
class Outcome:
    """What `apply` gives back; an unchanged snapshot means that nothing enters the journal."""

    snapshot: Snapshot
    facts: tuple[Fact, ...] = ()
    warnings: tuple[str, ...] = ()
    files: Mapping[str, bytes] = dataclasses.field(default_factory=dict)
    pieces: tuple[Piece, ...] = ()


@dataclass(frozen=True)
class Handle:
    """What the view lets the hand pull: a ruled wire through `origin` along `direction` (model coordinates, mm)
    whose bead is the value of one length field.  With an `arm` it turns instead: a ruled arc about that line, from
    the point at origin + arm, whose bead is an angle.  `ghost` names the faces to draw moved while the exact preview
    is worked out.  With `ways` (x, y, z and perhaps more) there are three wires to choose from: the direction for each
    value of the field `choice`; with `turn`, the field of an angle, three arcs, too; `set_on` is the field that takes
    what it is dropped on.  `beside`: other length fields, each with the direction it counts in; `origin` is where all
    of them are zero."""

    field: str
    origin: tuple[float, float, float]
    direction: tuple[float, float, float]
    ghost: tuple[str, ...] = ()
    arm: tuple[float, float, float] | None = None
    ways: Mapping[str, tuple[float, float, float]] = dataclasses.field(default_factory=dict)
    choice: str = ""
    turn: str = ""
    set_on: str = ""
    beside: tuple[tuple[str, tuple[float, float, float]], ...] = ()


class Operation:
    """What changes geometry: a frozen dataclass of plain values and picked references, with `do`.  Callable from an
    edit, a script, a feature, a test alike; it knows no sentence and no field.

    >>> Hollow(faces=(top,), thickness=2.0).do(Work(snapshot, geometry)).snapshot
    """

    def do(self, work: Work) -> Outcome:
        """The next snapshot with facts; the one it got is never changed.  Raises EditError."""
        raise NotImplementedError

    def handle(self, work: Work) -> Handle | None:
        """Where the hand pulls its main value."""
        return None
