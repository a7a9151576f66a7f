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


@dataclass(frozen=True)
class Wish:
    """(second − first) · way grows by `change` mm; name: of the dimension, for words; ends: None stands still."""

    name: str
    first: Mover | None
    second: Mover | None
    way: Floats
    change: float


def solve(driven: Wish, held: Sequence[Wish], share: float) -> Mapping[Mover, Floats]:
    """Displacements (3,) mm.  share: of the change that the first end of the driven one takes; the rest is the
    second's.  Raises CannotDo, which names the held dimensions that stand against it."""
    fixed = [(driven.first, -share * driven.change), (driven.second, (1 - share) * driven.change)]
    found = _least(fixed, driven.way, held)
    if found is not None:
        return found
    against = [w.name for k, w in enumerate(held) if _least(fixed, driven.way, [*held[:k], *held[k + 1 :]]) is not None]
    names = ", ".join(against or [w.name for w in held])
    raise CannotDo(f"{driven.name} cannot change while {names} is held; let it go", field="held")


def _least(
    fixed: Sequence[tuple[Mover | None, float]], way: Floats, held: Sequence[Wish]
) -> Mapping[Mover, Floats] | None:
    """By least squares of least norm; None where the wishes contradict."""
    movers = list(
        dict.fromkeys(m for m in (*(f for f, _ in fixed), *(e for w in held for e in (w.first, w.second))) if m)
    )
    columns: dict[Mover, Floats] = {}
    count = 0
    for mover in movers:
        basis = np.eye(3) if mover.normal is None else np.array([mover.normal])
        columns[mover] = basis
        count += len(basis)
    rows, wanted = [], []

    def part(mover: Mover | None, along: Floats) -> Floats:
        row, at = np.zeros(count), 0
        for other in movers:
            size = len(columns[other])
            if other == mover:
                row[at : at + size] = columns[other] @ along
            at += size
        return row

    for moving, value in fixed:
        if moving is None:
            if abs(value) > TRUE:
                return None
            continue
        rows.append(part(moving, way))
        wanted.append(value)
    for wish in held:
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
