"""What a solid is made of, as the equations want it."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError


@dataclass(frozen=True)
class Elastic:
    """modulus: MPa; poisson; density: t/mm³; strength: MPa, at which it yields; expansion: 1/K; conductivity:
    W/(m K) = mW/(mm K)."""

    modulus: float
    poisson: float
    density: float
    strength: float
    expansion: float
    conductivity: float

    def __post_init__(self) -> None:
        if not 0 <= self.poisson <= 0.49:
            raise EditError(f"a Poisson's ratio of {self.poisson:g} cannot be computed with; up to 0.49 can")

    @property
    def lame(self) -> tuple[float, float]:
        """λ and μ, MPa."""
        e, nu = self.modulus, self.poisson
        return e * nu / ((1 + nu) * (1 - 2 * nu)), e / (2 * (1 + nu))
