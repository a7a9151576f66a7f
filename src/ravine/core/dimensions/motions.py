"""How faces move so that one dimension gets a value and others keep theirs: the least motion, all at once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo
from ..local.surfaces import Floats

TRUE = 1e-9  # mm by which an equation may be missed


@dataclass(frozen=True)
class Mover:
    """What moves as one: key: names it; normal: the only direction that means something for it (a flat face), None for
    what goes anywhere (an axis with its feature)."""

    key: tuple[int, ...]
    normal: tuple[float, float, float] | None = None

    @property
    def basis(self) -> Floats:
        """(n, 3): the directions in which it may go."""
        return np.eye(3) if self.normal is None else np.array([self.normal])


@dataclass(frozen=True)
class Wish:
    """(second − first) · way grows by `change` mm; name: of the dimension, for words; ends: None stands still."""

    name: str
    first: Mover | None
    second: Mover | None
    way: Floats
    change: float


Fixed = tuple[Mover | None, Floats, float]  # moves along a direction by mm


def solve(driven: Sequence[Wish], held: Sequence[Wish], share: float | None) -> Mapping[Mover, Floats]:
    """Displacements (3,) mm.  share: of the change that the first end of the first driven one takes, the rest is its
    second's; None where either may.  Of all ways that there are, the one in which least moves: whatever can stay does,
    flat faces before features, first ends before second ones.  Raises CannotDo, which names the dimensions that stand
    against one another."""
    first = driven[0]
    fixed: list[Fixed] = []
    if share is not None:
        fixed = [(first.first, first.way, -share * first.change), (first.second, first.way, (1 - share) * first.change)]
    wishes = [*(driven[1:] if share is not None else driven), *held]
    found = _least(fixed, wishes)
    if found is None:
        raise _contradiction(fixed, driven, held)
    for mover in _by_weight([*driven, *held]):
        stays = [*fixed, *((mover, np.asarray(axis), 0.0) for axis in mover.basis)]
        better = _least(stays, wishes)
        if better is not None:
            fixed, found = stays, better
    return found


def _by_weight(wishes: Sequence[Wish]) -> list[Mover]:
    ends = [*(w.first for w in wishes), *(w.second for w in wishes)]
    return sorted(dict.fromkeys(e for e in ends if e is not None), key=lambda m: m.normal is None)


def _contradiction(fixed: Sequence[Fixed], driven: Sequence[Wish], held: Sequence[Wish]) -> CannotDo:
    others = [*driven[1:], *held]
    fixed = fixed or [(driven[0].second, driven[0].way, driven[0].change), (driven[0].first, driven[0].way, 0.0)]
    against = [w.name for k, w in enumerate(others) if _least(fixed, [*others[:k], *others[k + 1 :]]) is not None]
    names = ", ".join(against or [w.name for w in others])
    if all(n in {w.name for w in held} for n in (against or [w.name for w in others])):
        return CannotDo(f"{driven[0].name} cannot change while {names} is held; let it go", field="held")
    return CannotDo(f"{driven[0].name} cannot change together with {names}")


def _least(fixed: Sequence[Fixed], wishes: Sequence[Wish]) -> Mapping[Mover, Floats] | None:
    """By least squares of least norm; None where the wishes contradict."""
    movers = list(
        dict.fromkeys(m for m in (*(f for f, _, _ in fixed), *(e for w in wishes for e in (w.first, w.second))) if m)
    )
    columns: dict[Mover, Floats] = {}
    count = 0
    for mover in movers:
        columns[mover] = mover.basis
        count += len(mover.basis)
    rows, wanted = [], []

    def part(mover: Mover | None, along: Floats) -> Floats:
        row, at = np.zeros(count), 0
        for other in movers:
            size = len(columns[other])
            if other == mover:
                row[at : at + size] = columns[other] @ along
            at += size
        return row

    for moving, way, value in fixed:
        if moving is None:
            if abs(value) > TRUE:
                return None
            continue
        rows.append(part(moving, way))
        wanted.append(value)
    for wish in wishes:
        rows.append(part(wish.second, wish.way) - part(wish.first, wish.way))
        wanted.append(wish.change)
    matrix, right = np.array(rows), np.array(wanted)
    solution = np.linalg.lstsq(matrix, right, rcond=None)[0]
    if np.abs(matrix @ solution - right).max() > TRUE:
        return None
    found, at = {}, 0
    for mover in movers:
        size = len(columns[mover])
        found[mover] = solution[at : at + size] @ columns[mover]
        at += size
    return found
