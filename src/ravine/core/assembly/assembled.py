"""A state read for its joints: which places in the tree move as one, where the ends are, how well they hold."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..errors import EditError, RavineError
from ..model.geometry import GeometryStore
from ..model.joint import Joint
from ..model.records import JOINTS
from ..model.references import Places
from ..model.snapshot import Snapshot
from ..rigid import IDENTITY, Rigid
from .equations import Stacked, System
from .frames import Frame, frame_of, part_frame
from .joint_rows import add_joint
from .solver import HOLDS, Solved, groups, solve

TURNED = 0.5  # of the product of two directions that ran alike, below which one has turned over


@dataclass
class Assembled:
    """units: places in the tree that joints move as one; chains: numbers of the units that carry each, itself last;
    ends: frames by joint; lost: why a joint can no longer be read, by its id."""

    snapshot: Snapshot
    matrices: dict[int, Rigid]
    paths: dict[int, tuple[int, ...]]
    units: list[int] = field(default_factory=list)
    chains: list[tuple[int, ...]] = field(default_factory=list)
    system: System = field(default_factory=System)
    joints: dict[int, Joint] = field(default_factory=dict)
    ends: dict[int, tuple[Frame, ...]] = field(default_factory=dict)
    lost: dict[int, str] = field(default_factory=dict)

    @cached_property
    def _numbers(self) -> dict[int, int]:
        return {node: number for number, node in enumerate(self.units)}

    def carried(self, leaf: int | None) -> tuple[int, ...]:
        """Numbers of the units that carry a place, outermost first."""
        if leaf is None:
            return ()
        return tuple(self._numbers[n] for n in self.paths[leaf] if n in self._numbers)

    def still(self) -> set[int]:
        """Numbers of the units that never move: with something locked in them.  What comes from another model is locked
        as to its shape only."""
        linked = self.snapshot.linked
        held = {b.id for b in self.snapshot.bodies.values() if b.locked and b.id not in linked}
        locked = {n for n, node in self.snapshot.nodes.items() if node.body in held}
        return {number for leaf in locked if leaf in self.paths for number in self.carried(leaf)}

    @cached_property
    def stacked(self) -> Stacked:
        return Stacked(self.system, self.chains)

    def missed(self) -> dict[int, float]:
        """By how much (mm) each joint is off now."""
        found = dict.fromkeys(self.joints, 0.0)
        for owner, off in zip(self.system.owners, np.abs(self.stacked.residuals()).tolist(), strict=True):
            found[owner] = max(found[owner], off)
        return found

    @property
    def level(self) -> float:
        """mm, below which a joint holds."""
        return 10 * HOLDS * self.stacked.length

    def parts_of(self) -> list[tuple[set[int], set[int]]]:
        """What hangs together: units, and the joints among them."""
        links: dict[int, set[int]] = {j: set() for j in self.joints}
        for row, owner in zip(self.system.rows, self.system.owners, strict=True):
            if owner in links:
                links[owner].update(self.system.carried[row.a], self.system.carried[row.b])
        found = groups([link for link in links.values() if link])
        return [(units, {j for j, link in links.items() if link and link <= units}) for units in found]


def assembled(snapshot: Snapshot, geometry: GeometryStore, joints: Iterable[Joint] | None = None) -> Assembled:
    """joints: those that count; all that are awake when left out."""
    found = Assembled(snapshot, {}, {})
    for node, matrix, path in snapshot.walk():
        found.matrices[node.id], found.paths[node.id] = matrix, (*path, node.id)
    places = Places(snapshot)
    rows = [j for j in snapshot.kept(JOINTS).values() if not j.asleep] if joints is None else list(joints)
    for joint in rows:
        try:
            found.ends[joint.id] = _ends(places, geometry, joint)
        except RavineError as error:
            found.lost[joint.id] = str(error)
            continue
        found.joints[joint.id] = joint
    _find_units(found)
    for joint in found.joints.values():
        add_joint(found.system, joint, found.ends[joint.id], lambda f: found.system.frame(f, found.carried(f.leaf)))
    return found


def _ends(places: Places, geometry: GeometryStore, joint: Joint) -> tuple[Frame, ...]:
    """As they are now.  Raises UnknownId for one that an edit ended."""
    ends = [places.resolve(text) for text in (*joint.of, *joint.to)]
    if joint.kind != "fixed":
        return tuple(frame_of(geometry, end) for end in ends)
    part = part_frame(ends[0].matrix, ends[0].node)
    return part, part_frame(ends[1].matrix, ends[1].node) if len(ends) > 1 else part_frame(IDENTITY, None)


def _find_units(found: Assembled) -> None:
    """For every joint the places below the last that both its ends have in common."""
    units: set[int] = set()
    for ends in found.ends.values():
        first, last = (found.paths[f.leaf] if f.leaf is not None else () for f in (ends[0], ends[-1]))
        common = next(
            (k for k, (a, b) in enumerate(zip(first, last, strict=False)) if a != b), min(len(first), len(last))
        )
        for path in (first, last):
            if path and last and first:
                units.add(path[min(common, len(path) - 1)])
            elif path:
                units.add(path[-1])
    found.units = [n for n in found.paths if n in units]  # parents first
    found.chains = [found.carried(n) for n in found.units]


def settle(found: Assembled, ease: Mapping[int, float]) -> tuple[Snapshot, dict[int, float]]:
    """All joints met, with the least motion; ease: of units by number, as in the solver.  Returns the state and by how
    much (mm) joints are missed, those that hold left out."""
    off: dict[int, float] = {}
    motions = [IDENTITY] * len(found.units)
    for units, joints in found.parts_of():
        solved, missed = _solved(found, sorted(units), joints, ease)
        off.update(missed)
        for unit, motion in zip(sorted(units), solved.motions, strict=True):
            motions[unit] = motion
    nodes = dict(found.snapshot.nodes)
    for unit, number in enumerate(found.units):
        around = found.chains[unit][-2:-1]
        before = motions[around[0]] if around else IDENTITY
        if motions[unit].same(before):
            continue
        above = found.matrices[found.paths[number][-2]] if len(found.paths[number]) > 1 else IDENTITY
        placement = ((before @ above).inverse @ (motions[unit] @ found.matrices[number])).squared
        nodes[number] = replace(nodes[number], placement=placement)
    return replace(found.snapshot, nodes=nodes), off


def _solved(
    found: Assembled, units: list[int], joints: set[int], ease: Mapping[int, float]
) -> tuple[Solved, dict[int, float]]:
    system, chains = subsystem(found, units, joints)
    solved = solve(system, chains, {k: ease.get(u, 1.0) for k, u in enumerate(units)})
    off: dict[int, float] = {}
    for owner, missed in zip(system.owners, np.abs(solved.missed), strict=True):
        if missed > HOLDS * solved.length:
            off[owner] = max(off.get(owner, 0.0), float(missed))
    for owner in joints - off.keys():
        if _turned_over(found, found.joints[owner], dict(zip(units, solved.motions, strict=True))):
            off[owner] = solved.length
    return solved, off


def _turned_over(found: Assembled, joint: Joint, motions: Mapping[int, Rigid]) -> bool:
    a, b = found.ends[joint.id][0], found.ends[joint.id][min(len(joint.of), len(found.ends[joint.id]) - 1)]
    if joint.kind in ("fixed", "angle") or a.kind != b.kind or a.kind not in ("plane", "axis"):
        return False
    ways = []
    for frame in (a, b):
        carried = found.carried(frame.leaf)
        motion = motions[carried[-1]] if carried else IDENTITY
        ways.append(motion.turn @ frame.axes[2])
    return float(ways[0] @ ways[1]) * joint.sense < TURNED


def subsystem(found: Assembled, units: list[int], joints: set[int]) -> tuple[System, list[tuple[int, ...]]]:
    """Of some units, counted anew in their order; what carries them besides stands still."""
    number = {u: k for k, u in enumerate(units)}
    system, places = System(), dict[int, int]()

    def place(frame: int) -> int:
        if frame not in places:
            places[frame] = len(system.points)
            system.points.append(found.system.points[frame])
            system.axes.append(found.system.axes[frame])
            system.carried.append(tuple(number[u] for u in found.system.carried[frame] if u in number))
        return places[frame]

    for row, owner in zip(found.system.rows, found.system.owners, strict=True):
        if owner in joints:
            system.add(owner, replace(row, a=place(row.a), b=place(row.b)))
    return system, [tuple(number[u] for u in found.chains[unit] if u in number) for unit in units]


def check_apart(joint: Joint) -> None:
    """Raises EditError where both ends are on one part."""
    halves = {joint.nodes[: len(joint.of)], joint.nodes[len(joint.of) :]}
    if joint.to and len({n for half in halves for n in half}) < 2:
        raise EditError("both are on the same part; a joint is between two", (*joint.of, *joint.to), field="to")
