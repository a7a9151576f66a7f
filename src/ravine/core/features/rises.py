"""Bosses, ribs, and clusters: what stands up from a face, or is sunk into it, and is more than one simple form."""

from __future__ import annotations

from functools import partial

import numpy as np

from ..kernel.carriers import cross
from ..local.features import feature_of
from ..local.surfaces import Floats
from ..rigid import vec_of
from .feature import Drive, Feature
from .links import Links

THIN = 0.5  # of its height a rib is thick at most
SLIM = 0.34  # of its length
BACK = 1 - 1e-6  # of two sides that look away from one another
LEANING = np.sin(np.radians(16.0))
ON = 1e-5  # mm


def find_bosses(links: Links, taken: set[int]) -> list[Feature]:
    """What stands on a face within its border.  taken: faces of holes, which go through bosses without being theirs."""
    found, seen = [], set[int]()
    for base in range(links.count):
        for link in links.of(base):
            if not link.inner[0] or link.bend >= 0 or link.beside in seen | taken:
                continue
            whole = feature_of(links.topology, [link.beside])
            if whole is None or base in whole:
                continue
            faces = whole - taken
            seen |= faces
            way = links.normal(base)
            found.append(_boss(links, base, faces, way))
    return found


def _boss(links: Links, base: int, faces: set[int], way: Floats) -> Feature:
    points = np.concatenate([links.border(f) for f in sorted(faces)])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    walls = [f for f in faces if f not in links.fillets and f not in links.chamfers]
    tops = links.square_to(walls, way)
    sides = [f for f in walls if f not in tops]
    height = float((points @ way).max() - links.border(base)[0] @ way)
    found = None
    if len(tops) == 1 and sides and all(_stands(links, f, way) for f in sides):
        found = _round_boss(links, sides, middle) or _pad(links, sides, way, height)
    if found is None:
        return Feature(
            "cluster", "raised", tuple(sorted(faces)), {"height": height}, vec_of(middle), vec_of(way), (base,)
        )
    kind, form, sizes, drives, place = found
    drives["height"] = Drive(dict.fromkeys(tops, 1.0))
    sizes["height"] = height
    middle = middle if place is None else place
    own = tuple(sorted(faces))
    return Feature(kind, form, own, sizes, vec_of(middle), vec_of(way), (base,), drives=drives)


_Read = tuple[str, str, dict[str, float], dict[str, Drive], Floats | None]


def _round_boss(links: Links, sides: list[int], middle: Floats) -> _Read | None:
    topology = links.topology
    if any(topology.surface(f).kind not in ("cylinder", "cone") or topology.sign(f) < 0 for f in sides):
        return None
    if not links.goes_round(set(sides)):
        return None
    axis = topology.surface(sides[0]).axial
    place = axis.origin + ((middle - axis.origin) @ axis.z) * axis.z
    sizes = {"diameter": 2 * max(links.radii_of(f)[1] for f in sides)}
    straight = all(topology.surface(f).kind == "cylinder" for f in sides)
    drives = {"diameter": Drive(dict.fromkeys(sides, 0.5))} if straight else {}
    return "boss", "round" if straight else "round, tapered", sizes, drives, place


def _pad(links: Links, sides: list[int], way: Floats, height: float) -> _Read:
    flat = [f for f in sides if links.topology.surface(f).kind == "plane"]
    longest = max(flat, key=lambda f: float(np.linalg.norm(np.ptp(links.border(f), axis=0))), default=None)
    across = links.normal(longest) if longest is not None else np.eye(3)[int(np.abs(way).argmin())]
    across = across - (across @ way) * way
    across /= np.linalg.norm(across)
    points = np.concatenate([links.border(f) for f in sides])
    narrow, wide = sorted((across, np.cross(way, across)), key=lambda w: float(np.ptp(points @ w)))
    thick, long = float(np.ptp(points @ narrow)), float(np.ptp(points @ wide))
    rib = thick <= THIN * height and thick <= SLIM * long
    names = ("thickness", "length") if rib else ("width", "length")
    drives = {}
    for name, along in zip(names, (narrow, wide), strict=True):
        ends = links.square_to(sides, along)
        if ends:
            drives[name] = Drive({f: 1.0 / len(ends) for f in ends})
    return "rib" if rib else "boss", "" if rib else "pad", {names[1]: long, names[0]: thick}, drives, None


def _stands(links: Links, face: int, way: Floats) -> bool:
    surface = links.topology.surface(face)
    if surface.kind == "spline":
        return False
    lean = abs(float(surface.axial.z @ way))
    return lean < LEANING if surface.kind == "plane" else lean > BACK


def find_ribs(links: Links, taken: set[int]) -> list[Feature]:
    """Two sides close together that look away from one another, with a narrow top between and roots below."""
    topology, found, seen = links.topology, [], set[int]()
    for top in range(links.count):
        if top in taken or topology.surface(top).kind != "plane":
            continue
        rims = [link.beside for link in links.of(top) if link.bend > 0 and not any(link.inner)]
        sides = [f for f in dict.fromkeys(rims) if topology.surface(f).kind == "plane" and f not in seen | taken]
        normals = np.array([links.normal(f) for f in sides]).reshape(-1, 3)
        for k, a in enumerate(sides):
            for at in np.flatnonzero(normals[k + 1 :] @ normals[k] < -BACK).tolist():
                b = sides[k + 1 + at]
                rib = links.remembered("rib", (top, a, b), partial(_rib, links, top, a, b))
                if rib is not None:
                    seen |= {a, b, top}
                    found.append(rib)
    return found


def _rib(links: Links, top: int, a: int, b: int) -> tuple[Feature | None, set[int] | None]:
    """With the narrow faces at its ends, on which it depends besides."""
    topology = links.topology
    out, up = links.normal(a), links.normal(top)
    if abs(float(out @ up)) > LEANING:
        return None, None
    thick = float((links.border(a)[0] - links.border(b)[0]) @ out)
    points = np.concatenate([links.border(a), links.border(b)])
    way = cross(out, up)
    height, length = float(np.ptp(points @ up)), float(np.ptp(points @ way))
    along = float(np.ptp(links.border(top) @ way))
    if thick < ON or thick > THIN * height or thick > THIN * length:
        return None, None
    if (
        along < length / 2
        or _overlap(links, a, b, way) < length / 2
        or abs(float(np.ptp(links.border(top) @ out)) - thick) > thick
    ):
        return None, None  # what lies between two large sides is the part itself, not a rib
    roots = [{link.beside for link in links.of(f) if link.bend < 0 and not link.inner[0]} for f in (a, b)]
    if not all(roots):
        return None, set()
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    sizes = {"thickness": thick, "height": height, "length": length}
    ends = {link.beside for link in links.of(top) if link.bend > 0} - {a, b}
    narrow = {f for f in ends if topology.surface(f).kind == "plane" and _only_rims(links, f, (a, b))}
    drives = {"thickness": Drive({a: 0.5, b: 0.5}), "height": Drive({top: 1.0})}
    if len(narrow) == 2:
        drives["length"] = Drive(dict.fromkeys(narrow, 0.5))
    own, stands_on = (tuple(sorted(row)) for row in ({a, b, top, *narrow}, roots[0] | roots[1]))
    found = Feature("rib", "", own, sizes, vec_of(middle), vec_of(up), stands_on, drives=drives)
    return found, {*narrow}


def _overlap(links: Links, a: int, b: int, way: Floats) -> float:
    """How far (mm) two faces lie beside one another along a direction."""
    one, other = (links.border(f) @ way for f in (a, b))
    return float(min(one.max(), other.max()) - max(one.min(), other.min()))


def _only_rims(links: Links, face: int, sides: tuple[int, int]) -> bool:
    """Whether it closes a rib at its end: narrow between the sides, and bent outwards from both."""
    own = [link.bend for link in links.of(face) if link.beside in sides]
    return len(own) == 2 and min(own) > 0
