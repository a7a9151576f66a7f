"""Where points go so that all constraints hold: least changes from where they are.

Newton's method on the residuals with the step of least (weighted) size, J W⁻¹ Jᵀ y = −r, dx = W⁻¹ Jᵀ y, damped as in D.
Marquardt, J. SIAM 11 (1963), where the plain step makes things worse.  Where constraints contradict each other, it ends
in the least-squares place, and the constraints that are off there are the ones in conflict: they are the support of a
combination of constraints that no movement can serve.

Degrees of freedom come from the null space of J, part by part: parts of a sketch that share no rule are looked at on
their own.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..lazy import later
from .constraints import FORMS
from .entities import Constraint, Point2, Sketch

sparse = later("scipy.sparse")

Floats = NDArray[np.float64]
HOLDS = 1e-8  # mm by which a rule may be off and still hold
STEPS = 60
TINY = 1e-30
SHARP, SOFT = 1e-12, 1e-6  # damping, as a share of the largest entry
STIFF = 1e6  # weight of what the hand holds


@dataclass(frozen=True)
class Solved:
    """sketch: with points moved; off: mm by which each rule that does not hold is off; steps taken."""

    sketch: Sketch
    off: Mapping[int, float]
    steps: int

    @property
    def holds(self) -> bool:
        return not self.off


@dataclass(frozen=True)
class Freedom:
    """degrees: of the whole sketch; of: for each point and curve how many ways it can still go; needless:
    constraints that the others already say."""

    degrees: int
    of: Mapping[int, int]
    needless: tuple[int, ...]


class Unknowns:
    """Where the parameters of points and curves stand in one row of numbers."""

    def __init__(self, sketch: Sketch) -> None:
        self.sketch = sketch
        self._at: dict[int, list[int]] = {}
        start: list[float] = []
        for number, place in sketch.points.items():
            self._at[number] = [len(start), len(start) + 1]
            start += place
        self._size: dict[int, int] = {}
        for curve in sketch.curves.values():
            if curve.kind in ("circle", "arc", "ellipse"):
                self._size[curve.id] = len(start)
                start.append(curve.size)
        self.start = np.array(start, float)

    def columns(self, constraint: Constraint) -> list[int]:
        return [c for n in constraint.on for c in self.of(n)]

    def of(self, number: int) -> list[int]:
        if number in self._at:
            return self._at[number]
        curve = self.sketch.curves[number]
        found = [c for p in curve.points for c in self._at[p]]
        if curve.kind in ("circle", "arc"):
            return [*found[:2], self._size[number]]
        return found

    def own(self, number: int) -> list[int]:
        """All parameters that a point or curve is drawn from."""
        if number in self._at:
            return self._at[number]
        curve = self.sketch.curves[number]
        size = [self._size[number]] if number in self._size else []
        return [c for p in curve.points for c in self._at[p]] + size

    def fixed(self) -> set[int]:
        return {c for r in self.sketch.constraints.values() if r.kind == "fixed" for n in r.on for c in self.own(n)}

    def inner_constraints(self) -> list[Constraint]:
        """What makes an arc one: both ends at its radius.  They carry the arc's id."""
        return [
            Constraint(c.id, "on round", (end, c.id))
            for c in self.sketch.curves.values()
            if c.kind == "arc"
            for end in c.points[1:]
        ]

    def back(self, row: Floats) -> Sketch:
        points = {n: (float(row[a]), float(row[b])) for n, (a, b) in self._at.items()}
        curves = {
            c.id: replace(c, size=float(row[self._size[c.id]])) if c.id in self._size else c
            for c in self.sketch.curves.values()
        }
        return replace(self.sketch, points=points, curves=curves)


class System:
    """All constraints of a sketch, grouped by form so that each form is worked out once for all its constraints."""

    def __init__(self, layout: Unknowns, constraints: Iterable[Constraint]) -> None:
        self.layout = layout
        groups: dict[str, list[Constraint]] = {}
        for constraint in constraints:
            if constraint.kind != "fixed":
                groups.setdefault(constraint.kind, []).append(constraint)
        self._groups = []
        self.owners: list[int] = []  # of each residual
        row = 0
        for kind, members in groups.items():
            columns = np.array([layout.columns(r) for r in members])
            values = np.array([r.value or 0.0 for r in members])
            count = len(FORMS[kind].form(layout.start[columns].astype(complex), values))
            rows = row + np.arange(len(members) * count).reshape(count, len(members))
            self._groups.append((FORMS[kind].form, columns, values, rows))
            self.owners += [r.id for _ in range(count) for r in members]
            row += len(members) * count
        self.count = row

    def residuals(self, x: Floats) -> Floats:
        found = np.zeros(self.count)
        for form, columns, values, rows in self._groups:
            for part, at in zip(form(x[columns].astype(complex), values), rows, strict=True):
                found[at] = part.real
        return found

    def slopes(self, x: Floats) -> Any:
        """(residuals, parameters) by the complex step."""
        data, i, j = [], [], []
        for form, columns, values, rows in self._groups:
            base = x[columns].astype(complex)
            for k in range(columns.shape[1]):
                shifted = base.copy()
                shifted[:, k] += 1e-30j
                for part, at in zip(form(shifted, values), rows, strict=True):
                    data.append(part.imag / 1e-30)
                    i.append(at)
                    j.append(columns[:, k])
        if not data:
            return sparse.csr_matrix((0, len(x)))
        return sparse.coo_matrix(
            (np.concatenate(data), (np.concatenate(i), np.concatenate(j))), shape=(self.count, len(x))
        ).tocsr()


def solve(sketch: Sketch, held: Mapping[int, Point2] | None = None) -> Solved:
    """All constraints, with the least movement.

    held: points the hand has, and where it wants them; they go there first, then everything settles with these
    points moving least.  The result may leave constraints off (see Solved.off); whether that is taken is the
    caller's business."""
    layout = Unknowns(sketch)
    system = System(layout, [*sketch.constraints.values(), *layout.inner_constraints()])
    x = layout.start.copy()
    weight = np.ones(len(x))
    for number, place in (held or {}).items():
        columns = layout.own(number)[:2]
        x[columns] = place
        weight[columns] = STIFF
    for column in layout.fixed():
        x[column] = layout.start[column]
    free = np.ones(len(x))
    free[list(layout.fixed())] = 0.0
    x, steps = _settle(system, x, free / weight, SHARP)
    if system.count and np.abs(system.residuals(x)).max() > HOLDS:
        # a contradiction: nearly undamped steps drown in rounding there
        x, more = _settle(system, x, free / weight, SOFT)
        steps += more
    x = _upright_sizes(layout, x)
    off: dict[int, float] = {}
    for owner, miss in zip(system.owners, system.residuals(x), strict=True):
        if abs(miss) > HOLDS * max(1.0, float(np.abs(x).max(initial=1.0)) / 100):
            off[owner] = max(off.get(owner, 0.0), abs(float(miss)))
    worst = max(off.values(), default=0.0)  # the rest of the sketch settles slowly beside a contradiction
    return Solved(layout.back(x), {n: miss for n, miss in off.items() if miss > worst * 1e-3}, steps)


def against(sketch: Sketch, constraint: Constraint) -> tuple[int, ...]:
    """The constraints that keep another one from holding, for a sketch whose own constraints hold: those whose
    slopes make up its slope, so that no movement they allow changes what it says.  Where its slope is free at the
    place and only a way off it is barred, those that are off in the least-squares place."""
    layout = Unknowns(sketch)
    mine = [*sketch.constraints.values(), *layout.inner_constraints()]
    old, new = System(layout, mine), System(layout, [constraint])
    free = np.ones(len(layout.start))
    free[list(layout.fixed())] = 0.0
    rows = old.slopes(layout.start).toarray() * free
    involved: set[int] = set()
    for slope in new.slopes(layout.start).toarray() * free:
        share = np.linalg.lstsq(rows.T, slope, rcond=1e-9)[0]
        if np.abs(rows.T @ share - slope).max() > 1e-6:
            involved = set(solve(sketch.with_constraints(constraint)).off)
            break
        involved |= {old.owners[k] for k in np.flatnonzero(np.abs(share) > 1e-6)}
    return tuple(r for r in sketch.constraints if r in involved)


def _upright_sizes(layout: Unknowns, x: Floats) -> Floats:
    """A radius that came out negative is the same circle."""
    x = x.copy()
    for column in layout._size.values():
        x[column] = abs(x[column])
    return x


def _settle(system: System, x: Floats, give: Floats, least: float) -> tuple[Floats, int]:
    """give: 1/weight of each parameter, 0 for one that stays; least: damping."""
    if not system.count:
        return x, 0
    damping = least
    miss = system.residuals(x)
    square = float(miss @ miss)
    for step in range(1, STEPS + 1):
        if np.abs(miss).max() < 1e-11:
            return x, step
        slopes = system.slopes(x)
        eased = slopes.multiply(give[None, :]).tocsr()
        normal = (eased @ slopes.T).tocsc()
        scale = float(normal.diagonal().max(initial=0.0)) or 1.0
        while damping < 1e6:
            y = _solve_sparse(normal + damping * scale * sparse.identity(system.count, format="csc"), -miss)
            move = eased.T @ y
            tried = system.residuals(x + move)
            better = float(tried @ tried)
            if np.isfinite(better) and better < square * (1 - 1e-9) + 1e-26:
                break
            damping = max(damping * 10, 1e-9)
        else:
            return x, step  # the least-squares place: nothing serves all constraints
        gain = square - better
        x, miss, square = x + move, tried, better
        damping = max(damping / 10, least)
        if gain < 1e-14 * max(square, TINY) and square > 1e-18:
            return x, step
    return x, STEPS


def _solve_sparse(matrix: Any, right: Floats) -> Floats:
    import warnings

    from scipy.sparse import linalg

    with warnings.catch_warnings():
        warnings.simplefilter("ignore", linalg.MatrixRankWarning)
        return np.atleast_1d(linalg.spsolve(matrix, right))


def freedom(sketch: Sketch) -> Freedom:
    """At the place where the sketch stands, which should be a solved one."""
    layout = Unknowns(sketch)
    constraints = [*sketch.constraints.values(), *layout.inner_constraints()]
    system = System(layout, constraints)
    x = layout.start
    slopes = system.slopes(x)
    fixed = layout.fixed()
    degrees, loose = 0, np.zeros(len(x), bool)
    nulls: dict[int, Floats] = {}
    needless: list[int] = []
    part_of: dict[int, int] = {}
    for number, (columns, rows) in enumerate(_parts(slopes, len(x))):
        columns = [c for c in columns if c not in fixed]
        if not columns:
            continue
        block = slopes[rows][:, columns].toarray()
        left, sizes, right = np.linalg.svd(block, full_matrices=True)
        rank = int((sizes > 1e-9 * max(1.0, sizes.max(initial=0.0))).sum())
        null = right[rank:]
        degrees += len(null)
        moves = np.abs(null).max(axis=0, initial=0.0) > 1e-7
        for k, column in enumerate(columns):
            loose[column] = moves[k]
            nulls[column], part_of[column] = null[:, k], number
        spare = left[:, rank:]
        if spare.shape[1]:
            involved = np.abs(spare).max(axis=1) > 1e-7
            needless += [system.owners[r] for r, yes in zip(rows, involved, strict=True) if yes]
    of = {}
    for number in [*sketch.points, *sketch.curves]:
        together: dict[int, list[Floats]] = {}
        for c in layout.own(number):
            if loose[c]:
                together.setdefault(part_of[c], []).append(nulls[c])
        of[number] = sum(int(np.linalg.matrix_rank(np.array(rows), tol=1e-7)) for rows in together.values())
    known = set(sketch.constraints)
    return Freedom(degrees, of, tuple(dict.fromkeys(n for n in needless if n in known)))


def _parts(slopes: Any, count: int) -> list[tuple[list[int], list[int]]]:
    """Columns and rows that hang together."""
    from scipy.sparse import csgraph

    rows = slopes.shape[0]
    graph = sparse.coo_matrix(
        (np.ones(slopes.nnz), (slopes.tocoo().row, slopes.tocoo().col + rows)), shape=(rows + count, rows + count)
    )
    _, labels = csgraph.connected_components(graph, directed=False)
    found: dict[int, tuple[list[int], list[int]]] = {}
    for i, label in enumerate(labels.tolist()):
        columns, lines = found.setdefault(label, ([], []))
        (lines if i < rows else columns).append(i if i < rows else i - rows)
    return [part for part in found.values() if part[0]]
