"""A solved study as scripts see it: figures in units of the model, MPa and N, anywhere in the parts."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from ..errors import EditError
from .answer import Answer
from .elements import Floats, shapes

NEAR = 24  # elements that are looked at for a point
INSIDE = -1e-6  # least share of a corner, of a point within an element


class Result:
    """displacement, von_mises, stress at points of the model (in its units); largest_displacement; reactions: N by
    support; error: share of the stress in doubt; warnings: in words."""

    def __init__(self, answer: Answer, unit: float) -> None:
        self.answer, self._unit = answer, unit
        self._corners = answer.setup.problem.mesh.points[answer.setup.problem.mesh.tets[:, :4]]
        self._tree = cKDTree(self._corners.mean(axis=1))

    @property
    def largest_displacement(self) -> float:
        return float(self.answer.solution.lengths.max()) / self._unit

    @property
    def largest_von_mises(self) -> float:
        return float(self.answer.solution.von_mises.max())

    @property
    def reactions(self) -> dict[str, tuple[float, ...]]:
        return {name: tuple(force.tolist()) for name, force in self.answer.solution.reactions.items()}

    @property
    def error(self) -> float:
        return self.answer.solution.error

    @property
    def unknowns(self) -> int:
        return self.answer.setup.problem.mesh.unknowns

    @property
    def warnings(self) -> list[str]:
        return [words for _, words in self.answer.warnings]

    def displacement(self, point: Sequence[float]) -> tuple[float, float, float]:
        x, y, z = (self._at(point, self.answer.solution.moved) / self._unit).tolist()
        return x, y, z

    def stress(self, point: Sequence[float]) -> list[list[float]]:
        found: list[list[float]] = self._at(point, self.answer.solution.stress.reshape(-1, 9)).reshape(3, 3).tolist()
        return found

    def von_mises(self, point: Sequence[float]) -> float:
        return float(self._at(point, self.answer.solution.von_mises[:, None])[0])

    def _at(self, point: Sequence[float], values: Floats) -> Floats:
        """By the shape functions of the element that holds the point.  Raises EditError for one off the parts."""
        place = np.asarray(point, float) * self._unit
        _, near = self._tree.query(place, k=min(NEAR, len(self._corners)))
        best, found = -np.inf, None
        for element in np.atleast_1d(near).tolist():
            corners = self._corners[element]
            inner = np.linalg.solve((corners[1:] - corners[0]).T, place - corners[0])
            least = float(min(*inner, 1 - inner.sum()))
            if least > best:
                best, found = least, (element, np.clip(inner, 0, 1))
        assert found is not None
        size = float(self.answer.setup.problem.mesh.sizes[found[0]])
        if best < INSIDE and -best * size > 0.1 * size:
            raise EditError(f"the point {tuple(point)} lies in none of the parts")
        weights = shapes(found[1][None])[0]
        return np.asarray(weights @ values[self.answer.setup.problem.mesh.tets[found[0]]])
