"""From what was asked of some faces to a new surface for every face that changes with them."""

from __future__ import annotations

from collections.abc import Container, Mapping

from .chamfers import chamfer_of
from .failure import LocalFailure, NoReading
from .fillets import Fillet, chain, fillet_of, is_corner_patch, is_hub, pushed_radius
from .following import follow
from .plan import Offset, Plan, Radius, Step
from .rolling import rolled
from .topology import SolidTopology


def make_plan(topology: SolidTopology, asked: Mapping[int, Step], *, chamfers: bool = True) -> Plan:
    """chamfers: whether they follow their walls, instead of staying where they are.  Raises LocalFailure where a
    surface cannot take the change or a round cannot follow."""
    plan = Plan()
    steps = _with_same_surface(topology, asked)
    fillets: dict[int, tuple[Fillet, float]] = {}
    for face, step in steps.items():
        if isinstance(step, Radius):
            for member, strip in chain(topology, face).items():
                fillets[member] = (strip, step.radius)
            if face not in fillets:
                raise LocalFailure("it is no round between two faces", [face])
        elif isinstance(step, Offset) and (item := radius_changed(topology, face, steps)):
            radius = pushed_radius(topology, item, step.distance)
            if radius < 1e-6:
                raise LocalFailure(f"its radius of {item.radius:.6g} mm would vanish", [face])
            for member, other in chain(topology, face).items():
                fillets[member] = (other, radius)
        elif isinstance(step, Offset):
            _check_chamfer(topology, face, step, steps)
            if is_corner_patch(topology, face) and not any(f in steps for f in topology.neighbours(face)):
                raise NoReading("it is a corner where rounds meet; push one of those instead", [face])
    for face, step in steps.items():
        if face not in fillets:
            plan.change(topology, face, step)
    _resize(topology, plan, fillets)
    follow(topology, plan, steps, set(fillets), chamfers)
    return plan


def radius_changed(topology: SolidTopology, face: int, pushed: Container[int]) -> Fillet | None:
    """The round whose radius a push changes: one pushed by itself; together with its supports it goes as any face."""
    item = fillet_of(topology, face)
    if item is None or any(f in pushed for f in item.supports) or is_hub(topology, item.face):
        return None
    return item


def _check_chamfer(topology: SolidTopology, face: int, step: Offset, steps: Mapping[int, Step]) -> None:
    """One pushed by itself goes no farther than the corner it cuts off."""
    item = chamfer_of(topology, face)
    if item is None or any(f in steps for f in item.supports) or step.distance / item.corner < 1 - 1e-9:
        return
    width = " × ".join(f"{leg:.6g}" for leg in dict.fromkeys(round(v, 6) for v in item.legs))
    what = f"its width of {width} mm" if item.legs else "its width"
    raise NoReading(f"{what} would vanish; remove it instead", [face])


def _with_same_surface(topology: SolidTopology, asked: Mapping[int, Step]) -> dict[int, Step]:
    steps = dict(asked)
    for face, step in asked.items():
        if isinstance(step, Offset):
            for other in topology.one_surface(face):
                steps.setdefault(other, step)
    return steps


def _resize(topology: SolidTopology, plan: Plan, fillets: Mapping[int, tuple[Fillet, float]]) -> None:
    """Rounds that were asked for another radius; strips before the corners that hang on them."""
    for face, (item, radius) in sorted(fillets.items(), key=lambda row: row[1][0].kind == "sphere"):
        found = rolled(topology, item, plan.surfaces, radius, plan.rolled)
        if found is None:
            raise LocalFailure(f"no round of radius {radius:.6g} mm touches its neighbours", [face, *item.supports])
        plan.roll(item, found, None)
