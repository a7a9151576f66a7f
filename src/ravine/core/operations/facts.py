"""Facts that several edits tell alike."""

from __future__ import annotations

from ..model.materials import mass_kg
from ..model.measure import volume_mm3
from ..model.snapshot import Snapshot
from .work import Fact, Work


def change_facts(work: Work, after: Snapshot, bodies: set[int]) -> tuple[Fact, ...]:
    """Volume and mass change over `bodies`, counted once each, whatever number of places shows them."""
    delta, mass, weighed = 0.0, 0.0, False
    for number in bodies:
        for snapshot, sign in ((after, 1.0), (work.snapshot, -1.0)):
            body = snapshot.bodies.get(number)
            if body is None:
                continue
            amount = sign * volume_mm3(work.geometry.get(body.shape), body.kind)
            delta += amount
            one = mass_kg(amount, body.material)
            if one is not None:
                mass, weighed = mass + one, True
    facts = [Fact("volume_change", "volume", delta, "volume")]
    if weighed:
        facts.append(Fact("mass_change", "mass", mass, "mass"))
    return tuple(facts)
