"""What every body has to pass before a result goes through: the kernel's check of the whole body, once a body."""

from __future__ import annotations

from ..errors import CannotDo
from ..kernel.check import fault_of_change
from ..model.snapshot import Snapshot, text_id
from .work import Work


def check_accepted(work: Work, before: Snapshot, after: Snapshot) -> None:
    """All exact solids that are others than before.  Raises CannotDo naming the body and what is wrong with it."""
    for number, body in after.bodies.items():
        old = before.bodies.get(number)
        if body.kind != "solid" or (old is not None and old.shape == body.shape):
            continue
        if body.shape in work.sound:
            continue
        solid = work.geometry.solid(body.shape)
        was = work.geometry.solid(old.shape).index if old is not None and old.kind == "solid" else None
        found = fault_of_change(solid.index, was)
        if found:
            raise CannotDo(f"{body.name} would be no sound solid: {found}", [text_id("body", number)])
        work.sound.add(body.shape)
