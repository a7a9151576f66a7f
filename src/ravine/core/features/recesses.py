"""Slots, pockets and steps: walls that bend inwards around a floor, or around nothing."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..local.surfaces import Floats
from ..rigid import vec_of
from .feature import Drive, Feature
from .links import Links

LEANING = np.sin(np.radians(16.0))  # a wall with draft is still a wall
FACING = 1 - 1e-6  # of two walls that look at one another
LONG = 3.0  # times its width a recess with square ends is long before it is a slot
OPEN_MOST = (
    0.5  # share of the part's box that an open recess may take: beyond it the part is an angle, not one with a step
)
GOES_ON = 1.25  # times the length of its floor a wall may be, with rounds
ON = 1e-5  # mm


def find_recesses(links: Links, taken: set[int], ribs: Sequence[Feature] = ()) -> list[Feature]:
    """taken: faces that are no walls of a recess: of holes, grooves, bosses; ribs: which may stand across one."""
    across = _across(links, ribs)
    stands = {f for rib in ribs for f in rib.faces}
    return [f for group in _groups(links, taken | stands, across) if (f := _read(links, group, stands)) is not None]


def _across(links: Links, ribs: Sequence[Feature]) -> dict[int, set[int]]:
    """Faces of one plane that ribs part."""
    found: dict[int, set[int]] = {}
    for rib in ribs:
        for a, b in itertools.permutations(rib.stands_on, 2):
            if links.topology.surface(a).same(links.topology.surface(b), links.topology.extent(a)):
                found.setdefault(a, set()).add(b)
    return found


def _groups(links: Links, taken: set[int], across: Mapping[int, set[int]]) -> list[set[int]]:
    """Faces that are connected across roots, or smoothly over the round end of a slot; not past what stands in the
    middle of one."""
    seen, found = set(taken), []
    for start in range(links.count):
        if start in seen or not _wall_like(links, start):
            continue
        group, waiting = {start}, [start]
        while waiting:
            face = waiting.pop()
            for link in links.of(face):
                beside = link.beside
                if beside in group or beside in seen or any(link.inner) or not _wall_like(links, beside):
                    continue
                if link.bend < 0 or (link.bend == 0 and _rounds_off(links, face, beside)):
                    group.add(beside)
                    waiting.append(beside)
            for beside in across.get(face, set()) - group - seen:
                group.add(beside)
                waiting.append(beside)
        seen |= group
        if len(group) > 1:
            found.append(group)
    return found


def _wall_like(links: Links, face: int) -> bool:
    if face in links.fillets or face in links.chamfers:
        return False
    surface = links.topology.surface(face)
    return surface.kind == "plane" or (surface.kind in ("cylinder", "cone") and links.topology.sign(face) < 0)


def _rounds_off(links: Links, *faces: int) -> bool:
    return any(links.topology.surface(f).kind == "cylinder" and links.topology.sign(f) < 0 for f in faces)


@dataclass
class _Recess:
    links: Links
    group: set[int]
    floors: frozenset[int]  # of one plane, parted by ribs
    way: Floats  # out of it
    ribs: frozenset[int]  # faces of what stands across it

    @cached_property
    def walls(self) -> list[int]:
        return [f for f in sorted(self.group) if f not in self.floors]

    @cached_property
    def flat(self) -> list[int]:
        return [f for f in self.walls if self.links.topology.surface(f).kind == "plane"]

    @cached_property
    def ends(self) -> list[int]:
        """Round walls."""
        return [f for f in self.walls if self.links.topology.surface(f).kind != "plane"]

    @cached_property
    def points(self) -> Floats:
        return np.concatenate([self.links.border(f) for f in sorted(self.group)])

    @cached_property
    def blends(self) -> set[int]:
        """Rounds between its own faces."""
        fillets = self.links.fillets
        own = {f for f, item in fillets.items() if item.supports and set(item.supports) <= self.group | fillets.keys()
               and set(item.supports) & self.group}  # fmt: skip
        return {f for f in own if set(fillets[f].supports) <= self.group | own}

    @cached_property
    def closed(self) -> bool:
        """Whether walls go all the way round."""
        if self.floors:
            own = [link for f in self.floors for link in self.links.of(f) if not link.inner[0]]
            around = self.group | self.ribs | self.links.fillets.keys()  # a round corner may meet the floor in a round
            return all(link.bend < 0 and link.beside in around for link in own)
        return all(sum(link.beside in self.group for link in self.links.of(f)) >= 2 for f in self.walls)

    @cached_property
    def _opposite(self) -> list[tuple[float, int, int]]:
        """Pairs of parallel flat walls, and the gap between (mm), below 0 where they look away from one another."""
        found: list[tuple[float, int, int]] = []
        for a, b in itertools.combinations(self.flat, 2):
            one, other = self.links.normal(a), self.links.normal(b)
            if float(one @ other) < -FACING:
                found.append((float((self.links.border(b)[0] - self.links.border(a)[0]) @ one), a, b))
        return found

    @cached_property
    def facing(self) -> tuple[int, int] | None:
        """The nearest pair of flat walls that look at one another."""
        rows = [row for row in self._opposite if row[0] > ON]
        return min(rows)[1:] if rows else None

    @property
    def stands_up(self) -> bool:
        """Whether walls look away from one another: matter between them, not a recess."""
        return any(gap < -ON for gap, _, _ in self._opposite)

    def extent(self, way: Floats) -> float:
        return float(np.ptp(self.points @ way))

    @cached_property
    def depth(self) -> float:
        return self.extent(self.way)


def _read(links: Links, group: set[int], ribs: set[int]) -> Feature | None:
    recess = _laid_out(links, group, frozenset(ribs))
    if recess is None:
        return None
    if not recess.closed and (recess.stands_up or _takes_most(recess) or _walls_go_on(recess)):
        return None
    if not recess.walls:
        return None  # floors on either side of a wall across the whole part
    return _slot(recess) or (_pocket(recess) if recess.closed or len(recess.walls) > 2 else _step(recess))


def _laid_out(links: Links, group: set[int], ribs: frozenset[int]) -> _Recess | None:
    """With its floor, to which all others stand up; or none, where all walls run along one direction."""
    flat = [f for f in sorted(group) if links.topology.surface(f).kind == "plane"]
    flat.sort(key=lambda f: -_area(links, f))
    if len(group) > 2:
        flat.sort(key=lambda f: -sum(link.beside in group and link.bend < 0 for link in links.of(f)))
    for floor in flat:
        way = links.normal(floor)
        plane = links.topology.surface(floor)
        floors = frozenset(f for f in flat if f == floor or links.topology.surface(f).same(plane, 1.0))
        if all(_stands(links, f, way) for f in group - floors) and _looks_in(links, group, floor):
            return _Recess(links, group, floors, way, ribs)
    for floor in flat:
        way = links.normal(floor)
        level = {f for f in flat if float(links.normal(f) @ way) > FACING}
        found = _Recess(links, group, frozenset(level), way, ribs)
        if len(level) > 1 and all(_stands(links, f, way) for f in group - level) and found.closed:
            return found
    way_through = _common_way(links, group)
    if way_through is not None and len(group) > 2 and all(_stands(links, f, way_through) for f in group):
        return _Recess(links, group, frozenset(), way_through, ribs)
    return None


def _area(links: Links, face: int) -> float:
    points = links.border(face)
    return float(np.prod(np.sort(np.ptp(points, axis=0))[1:]))


def _looks_in(links: Links, group: set[int], floor: int) -> bool:
    """Not a wall that others only lean against: what is linked to it bends inwards."""
    return all(link.bend <= 0 for link in links.of(floor) if link.beside in group)


def _stands(links: Links, face: int, way: Floats) -> bool:
    surface = links.topology.surface(face)
    lean = abs(float(surface.axial.z @ way))
    return lean < LEANING if surface.kind == "plane" else lean > 1 - 1e-6


def _common_way(links: Links, group: set[int]) -> Floats | None:
    axes = [links.topology.surface(f) for f in sorted(group)]
    round_ = next((s for s in axes if s.kind == "cylinder"), None)
    if round_ is not None:
        return round_.axial.z
    first = axes[0].axial.z
    for surface in axes[1:]:
        way = np.cross(first, surface.axial.z)
        size = float(np.linalg.norm(way))
        if size > LEANING:
            return np.asarray(way / size)
    return None


def _takes_most(recess: _Recess) -> bool:
    """Whether what it leaves open is most of the box around the part."""
    boxes = recess.links.topology.boxes
    whole = float(np.prod(boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)))
    own = boxes[sorted(recess.group)]
    return float(np.prod(own[:, 3:].max(axis=0) - own[:, :3].min(axis=0))) > OPEN_MOST * whole


def _walls_go_on(recess: _Recess) -> bool:
    """Whether a wall of an open one is much longer than the floor: something stands on the wall, nothing was cut."""
    if not recess.floors:
        return False
    ground = np.concatenate([recess.links.border(f) for f in recess.floors])
    for wall in recess.flat:
        along = np.cross(recess.links.normal(wall), recess.way)
        if np.ptp(recess.links.border(wall) @ along) > GOES_ON * np.ptp(ground @ along):
            return True
    return False


def _slot(recess: _Recess) -> Feature | None:
    pair = recess.facing
    if pair is None:
        return None
    links, (a, b) = recess.links, pair
    across = recess.links.normal(a)
    along = np.cross(across, recess.way)
    along /= np.linalg.norm(along)
    width = float((links.border(b)[0] - links.border(a)[0]) @ across)
    length = recess.extent(along)
    round_ = [f for f in recess.ends if abs(links.topology.surface(f).radius - width / 2) < ON]
    rest = [f for f in recess.walls if f not in (a, b) and f not in round_]
    ends = len(round_) + len(rest)
    if recess.closed:
        if len(round_) != 2 and not (len(rest) == 2 and not round_ and length > LONG * width):
            return None
        form = "closed, round ends" if round_ else "closed, square ends"
    elif ends > 1:
        return None
    else:
        form = "open at both ends" if not ends else "open, round end" if round_ else "open, square end"
    other = "pocket" if recess.closed else ""
    sizes = {"width": width, "length": length, "depth": recess.depth}
    outwards = {
        f: float(np.sign((links.topology.surface(f).axial.origin - links.border(a).mean(axis=0)) @ along))
        for f in round_
    }
    slid = {f: 0.5 * side * along for f, side in outwards.items()}
    drives = {"width": Drive(dict.fromkeys((a, b, *round_), -0.5), {f: vec_of(-v) for f, v in slid.items()})}
    ending = links.square_to(rest, along)
    if len(round_) + len(ending) == 2:
        drives["length"] = Drive(dict.fromkeys(ending, -0.5), {f: vec_of(v) for f, v in slid.items()})
    elif len(round_) + len(ending) == 1:
        drives["length"] = Drive(dict.fromkeys(ending, -1.0), {f: vec_of(2 * v) for f, v in slid.items()})
    return _feature(recess, "slot", form, sizes, drives, other)


def _pocket(recess: _Recess) -> Feature:
    links = recess.links
    longest = max(recess.flat, key=lambda f: float(np.linalg.norm(np.ptp(links.border(f), axis=0))), default=None)
    across = recess.links.normal(longest) if longest is not None else links.topology.surface(min(recess.group)).axial.x
    across = across - (across @ recess.way) * recess.way
    across /= np.linalg.norm(across)
    ways = sorted((across, np.cross(recess.way, across)), key=recess.extent)
    sizes = {"length": recess.extent(ways[1]), "width": recess.extent(ways[0]), "depth": recess.depth}
    drives = {}
    for name, way in zip(("width", "length"), ways, strict=True):
        walls = links.square_to(recess.flat, way)
        if walls:
            drives[name] = Drive({f: -1.0 / len(walls) for f in walls})
    form = "closed" if recess.closed else "open"
    return _feature(recess, "pocket", form, sizes, drives, "slot" if recess.facing else "")


def _step(recess: _Recess) -> Feature:
    wall = recess.walls[0]
    out = recess.links.normal(wall)
    rows = [(recess.extent(out), [wall]), (recess.depth, sorted(recess.floors))]
    deep, wide = sorted(rows)  # which of the two faces is the floor is a matter of view
    sizes = {"width": wide[0], "length": recess.extent(np.cross(out, recess.way)), "depth": deep[0]}
    drives = {n: Drive(dict.fromkeys(row[1], -1.0)) for n, row in (("width", wide), ("depth", deep))}
    return _feature(recess, "step", "", sizes, drives, "")


def _feature(
    recess: _Recess, kind: str, form: str, sizes: dict[str, float], drives: dict[str, Drive], other: str
) -> Feature:
    links = recess.links
    if recess.floors and kind != "step":
        drives["depth"] = Drive(dict.fromkeys(recess.floors, -1.0))
    corners = {
        round(links.fillets[f].radius, 6) for f in recess.blends if not recess.floors & set(links.fillets[f].supports)
    }
    roots = {round(links.fillets[f].radius, 6) for f in recess.blends if recess.floors & set(links.fillets[f].supports)}
    if len(corners) == 1:
        sizes["corner_radius"] = corners.pop()
    if len(roots) == 1:
        sizes["floor_radius"] = roots.pop()
    if not recess.floors:
        form = f"{form}, through"
    mouths = {
        link.beside for f in recess.walls for link in links.of(f) if link.bend > 0 and link.beside not in recess.group
    }
    low, high = recess.points.min(axis=0), recess.points.max(axis=0)
    if len({round(float(links.border(f)[0] @ recess.way), 4) for f in recess.floors}) > 1:
        form = f"stepped, {form}"
    return Feature(
        kind,
        form,
        tuple(sorted(recess.group | recess.blends)),
        sizes,
        vec_of((low + high) / 2),
        vec_of(recess.way),
        tuple(sorted(mouths)),
        other,
        drives=drives,
    )
