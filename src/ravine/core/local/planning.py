"""From what was asked of some faces to a new surface for every face that changes with them."""

from __future__ import annotations

from collections.abc import Mapping

from .chamfers import chamfer_of
from .fabric import Fabric
from .failure import LocalFailure, NoReading
from .following import follow
from .plan import Offset, Plan, Radius, Step
from .rolling import rolled
from .rounds import Round, chain, is_corner_patch, is_hub, pushed_radius, round_of


def make_plan(fabric: Fabric, asked: Mapping[int, Step], *, chamfers: bool = True) -> Plan:
    """chamfers: whether they follow their walls, instead of staying where they are.  Raises LocalFailure where a
    surface cannot take the change or a round cannot follow."""
    plan = Plan()
    steps = _with_same_surface(fabric, asked)
    rounds: dict[int, tuple[Round, float]] = {}
    for face, step in steps.items():
        if isinstance(step, Radius):
            for member, strip in chain(fabric, face).items():
                rounds[member] = (strip, step.radius)
            if face not in rounds:
                raise LocalFailure("it is no round between two faces", [face])
        elif isinstance(step, Offset) and (item := round_of(fabric, face)) and _picked_alone(fabric, item, steps):
            radius = pushed_radius(fabric, item, step.distance)
            if radius < 1e-6:
                raise LocalFailure(f"its radius of {item.radius:.6g} mm would vanish", [face])
            for member, other in chain(fabric, face).items():
                rounds[member] = (other, radius)
        elif isinstance(step, Offset):
            _check_chamfer(fabric, face, step, steps)
            if is_corner_patch(fabric, face) and not any(f in steps for f in fabric.neighbours(face)):
                raise NoReading("it is a corner where rounds meet; push one of those instead", [face])
    for face, step in steps.items():
        if face not in rounds:
            plan.change(fabric, face, step)
    _resize(fabric, plan, rounds)
    follow(fabric, plan, steps, set(rounds), chamfers)
    return plan


def _picked_alone(fabric: Fabric, item: Round, steps: Mapping[int, Step]) -> bool:
    """A round pushed by itself changes radius; together with its supports it is pushed like any face."""
    return not any(f in steps for f in item.supports) and not is_hub(fabric, item.face)


def _check_chamfer(fabric: Fabric, face: int, step: Offset, steps: Mapping[int, Step]) -> None:
    """One pushed by itself goes no farther than the corner it cuts off."""
    item = chamfer_of(fabric, face)
    if item is None or any(f in steps for f in item.supports) or step.distance / item.corner < 1 - 1e-9:
        return
    width = " × ".join(f"{leg:.6g}" for leg in dict.fromkeys(round(v, 6) for v in item.legs))
    what = f"its width of {width} mm" if item.legs else "its width"
    raise NoReading(f"{what} would vanish; remove it instead", [face])


def _with_same_surface(fabric: Fabric, asked: Mapping[int, Step]) -> dict[int, Step]:
    steps = dict(asked)
    for face, step in asked.items():
        if isinstance(step, Offset):
            for other in fabric.one_surface(face):
                steps.setdefault(other, step)
    return steps


def _resize(fabric: Fabric, plan: Plan, rounds: Mapping[int, tuple[Round, float]]) -> None:
    """Rounds that were asked for another radius; strips before the corners that hang on them."""
    for face, (item, radius) in sorted(rounds.items(), key=lambda row: row[1][0].kind == "sphere"):
        found = rolled(fabric, item, plan.surfaces, radius, plan.rolled)
        if found is None:
            raise LocalFailure(f"no round of radius {radius:.6g} mm touches its neighbours", [face, *item.supports])
        plan.roll(item, found, None)
