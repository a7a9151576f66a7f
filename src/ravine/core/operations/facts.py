"""Facts that several edits tell alike."""

from __future__ import annotations

from ..model.materials import mass_kg
from ..model.measure import volume_mm3
from ..model.snapshot import Snapshot
from .work import Fact, Work

ROUNDING = 1e-12  # share of the volumes that are added up


def change_facts(work: Work, after: Snapshot, bodies: set[int]) -> tuple[Fact, ...]:
    """Volume and mass change over `bodies`, counted once each, whatever number of places shows them."""
    volumes: list[float] = []
    masses: list[float] = []
    for number in bodies:
        for snapshot, sign in ((after, 1.0), (work.snapshot, -1.0)):
            body = snapshot.bodies.get(number)
            if body is None:
                continue
            amount = sign * volume_mm3(work.geometry.get(body.shape), body.kind)
            volumes.append(amount)
            one = mass_kg(amount, body.material)
            if one is not None:
                masses.append(one)
    facts = [Fact("volume_change", "volume", _sum(volumes), "volume")]
    if masses:
        facts.append(Fact("mass_change", "mass", _sum(masses), "mass"))
    return tuple(facts)


def _sum(amounts: list[float]) -> float:
    """0 where it is but rounding: what only slid is not told to have grown."""
    found = sum(amounts)
    return 0.0 if abs(found) < ROUNDING * sum(abs(a) for a in amounts) else found
