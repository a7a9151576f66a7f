"""Joints as rows of two sorts over frames that go with rigid parts.

A *reach* is how far the point of one frame lies from that of another along an axis of the latter; a *cosine* the
product of two axes.  A row says that one of them, or the root of the sum of squares of several reaches, has a value.
Small motions of the parts (a turn ω about a centre and a slide t) change them by exact derivatives, so that
Newton's method ends in a few steps.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from ..local.surfaces import Floats
from ..rigid import cross_rows
from .frames import Frame

Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Row:
    """kind: reach, cosine or radial; a, b: numbers of frames; i, j: axes of a (cosine only) and b, of a radial one the
    axes of b in `over`; value: mm, or a cosine; least, most: instead of a value, bounds."""

    kind: str
    a: int
    b: int
    i: int = 2
    j: int = 2
    value: float = 0.0
    over: tuple[int, ...] = ()
    least: float | None = None
    most: float | None = None

    @property
    def bounded(self) -> bool:
        return (self.least, self.most) != (None, None)


@dataclass
class System:
    """points, axes: of frames; carried: numbers of the units that carry each, outermost first; rows: with the joint
    that each belongs to."""

    points: list[Floats] = field(default_factory=list)
    axes: list[Floats] = field(default_factory=list)
    carried: list[tuple[int, ...]] = field(default_factory=list)
    rows: list[Row] = field(default_factory=list)
    owners: list[int] = field(default_factory=list)

    def frame(self, frame: Frame, carried: tuple[int, ...]) -> int:
        self.points.append(frame.point)
        self.axes.append(frame.axes)
        self.carried.append(carried)
        return len(self.points) - 1

    def add(self, owner: int, *rows: Row) -> None:
        self.rows += rows
        self.owners += [owner] * len(rows)


def _padded(chains: Sequence[tuple[int, ...]]) -> Ints:
    """(n, depth), -1 where a chain is shorter."""
    found = np.full((len(chains), max((len(c) for c in chains), default=0)), -1)
    for number, chain in enumerate(chains):
        found[number, : len(chain)] = chain
    return found


class Stacked:
    """A system as arrays, and where its frames have got to.  chains: of every unit those that carry it, itself last;
    length: of the whole, mm, by which cosines become lengths; motions: (units, 3, 4), what all that a unit carries is
    moved by so far."""

    def __init__(self, system: System, chains: Sequence[tuple[int, ...]]) -> None:
        self.points = np.array(system.points, float).reshape(-1, 3)
        self.axes = np.array(system.axes, float).reshape(-1, 3, 3)
        self.carried, self.chains = _padded(system.carried), _padded(chains)
        self.count, self.units = len(system.rows), len(chains)
        self.length = float(np.linalg.norm(np.ptp(self.points, axis=0))) + 1.0 if len(self.points) else 1.0
        self.motions = np.tile(np.eye(3, 4), (self.units, 1, 1))
        self._read_rows(system.rows)
        sums, shares = np.zeros((self.units, 3)), np.zeros(self.units)
        for column in self.carried.T:
            held = column >= 0
            np.add.at(sums, column[held], self.points[held])
            np.add.at(shares, column[held], 1.0)
        self.centres = sums / np.maximum(shares, 1.0)[:, None]

    def _read_rows(self, rows: Sequence[Row]) -> None:
        terms = [(n, r, j) for n, r in enumerate(rows) if r.kind != "cosine" for j in (r.over or (r.j,))]
        self.term_row = _ints(n for n, _, _ in terms)
        self.term_a, self.term_b = _ints(r.a for _, r, _ in terms), _ints(r.b for _, r, _ in terms)
        self.term_j = _ints(j for _, _, j in terms)
        turns = [(n, r) for n, r in enumerate(rows) if r.kind == "cosine"]
        self.turn_row = _ints(n for n, _ in turns)
        self.turn_a, self.turn_i = _ints(r.a for _, r in turns), _ints(r.i for _, r in turns)
        self.turn_b, self.turn_j = _ints(r.b for _, r in turns), _ints(r.j for _, r in turns)
        self.radial = np.array([r.kind == "radial" for r in rows], bool)
        self.unit_of_row = np.where([r.kind == "cosine" for r in rows], self.length, 1.0) if rows else np.zeros(0)
        low = [(-np.inf if r.least is None else r.least) if r.bounded else r.value for r in rows]
        high = [(np.inf if r.most is None else r.most) if r.bounded else r.value for r in rows]
        self.low, self.high = np.array(low, float), np.array(high, float)

    # --- what rows say ---------------------------------------------------------------------------------------------

    def _reaches(self) -> Floats:
        off = self.points[self.term_a] - self.points[self.term_b]
        found: Floats = np.einsum("ij,ij->i", off, self.axes[self.term_b, self.term_j])
        return found

    def _values(self, reaches: Floats) -> Floats:
        found = np.zeros(self.count)
        single = ~self.radial[self.term_row]
        found[self.term_row[single]] = reaches[single]
        squares = np.bincount(self.term_row[~single], reaches[~single] ** 2, self.count)
        found[self.radial] = np.sqrt(squares[self.radial])
        one, other = self.axes[self.turn_a, self.turn_i], self.axes[self.turn_b, self.turn_j]
        found[self.turn_row] = np.einsum("ij,ij->i", one, other)
        return found

    def residuals(self) -> Floats:
        """(rows,) mm; nothing between bounds."""
        found = self._values(self._reaches())
        off: Floats = (np.minimum(found - self.low, 0.0) + np.maximum(found - self.high, 0.0)) * self.unit_of_row
        return off

    def jacobian(self) -> Floats:
        """(rows, 6 units): per unit the turn, rad times `length`, and the slide, mm."""
        found = np.zeros((self.count, self.units, 6))
        reaches = self._reaches()
        values = self._values(reaches)
        shares = np.ones(len(reaches))
        spread = self.radial[self.term_row]
        size = values[self.term_row]
        shares[spread] = np.where(size[spread] > 1e-12, reaches[spread] / np.maximum(size[spread], 1e-12), 0.7)
        p, q = self.points[self.term_a], self.points[self.term_b]
        w = self.axes[self.term_b, self.term_j]
        for frames, place, sign in ((self.term_a, p, 1.0), (self.term_b, q, -1.0)):
            for column in self.carried[frames].T:
                held = column >= 0
                unit = column[held]
                turning = cross_rows(place[held] - self.centres[unit], w[held]) * sign
                if sign < 0:  # its axis turns with it
                    turning = turning + cross_rows(w[held], (p - q)[held])
                block = np.concatenate([turning / self.length, sign * w[held]], axis=1) * shares[held, None]
                np.add.at(found, (self.term_row[held], unit), block)
        one, other = self.axes[self.turn_a, self.turn_i], self.axes[self.turn_b, self.turn_j]
        turning = cross_rows(one, other)  # d(ω × u) · w = ω · (u × w), times length over length
        for frames, sign in ((self.turn_a, 1.0), (self.turn_b, -1.0)):
            for column in self.carried[frames].T:
                held = column >= 0
                np.add.at(found[:, :, :3], (self.turn_row[held], column[held]), sign * turning[held])
        tiny = 1e-12 * self.length
        idle = (self.low < self.high) & (self.low - tiny <= values) & (values <= self.high + tiny)
        found[idle] = 0.0  # within its bounds it holds nothing
        return found.reshape(self.count, -1)

    # --- moving ----------------------------------------------------------------------------------------------------

    def move(self, steps: Floats) -> None:
        """steps: (units, 6), as the columns of the jacobian.  Of nested units the inner one moves first, then with the
        outer."""
        turns = Rotation.from_rotvec(steps[:, :3] / self.length).as_matrix()
        shifts = self.centres + steps[:, 3:] - np.einsum("nij,nj->ni", turns, self.centres)
        for column in self.carried.T[::-1]:
            held = column >= 0
            turn, shift = turns[column[held]], shifts[column[held]]
            self.points[held] = np.einsum("nij,nj->ni", turn, self.points[held]) + shift
            self.axes[held] = np.einsum("nij,nkj->nki", turn, self.axes[held])
        for column in self.chains.T[::-1]:
            held = column >= 0
            turn, shift = turns[column[held]], shifts[column[held]]
            self.centres[held] = np.einsum("nij,nj->ni", turn, self.centres[held]) + shift
            self.motions[held] = np.einsum("nij,njk->nik", turn, self.motions[held])
            self.motions[held, :, 3] += shift

    def kept(self) -> tuple[Floats, ...]:
        return self.points.copy(), self.axes.copy(), self.centres.copy(), self.motions.copy()

    def back_to(self, kept: tuple[Floats, ...]) -> None:
        self.points, self.axes, self.centres, self.motions = kept


def _ints(numbers: Iterable[int]) -> Ints:
    return np.array(list(numbers), np.int64)
