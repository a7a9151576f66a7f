"""Bosses, ribs, and clusters: what stands up from a face, or is sunk into it, and is more than one simple form."""

from __future__ import annotations

import numpy as np

from ..local.features import feature_of
from ..local.surfaces import Floats
from ..rigid import vec_of
from .feature import Feature
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
    topology = links.topology
    points = np.concatenate([links.border(f) for f in sorted(faces)])
    foot = float(links.border(base)[0] @ way)
    height = float((points @ way).max()) - foot
    walls = [f for f in faces if f not in links.fillets and f not in links.chamfers]
    tops = [
        f for f in walls if topology.surface(f).kind == "plane" and abs(float(topology.surface(f).axial.z @ way)) > BACK
    ]
    sides = [f for f in walls if f not in tops]
    round_ = [f for f in sides if topology.surface(f).kind in ("cylinder", "cone") and topology.sign(f) > 0]
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    standing = all(_stands(links, f, way) for f in sides)
    kind, form, sizes = "cluster", "raised", {"height": height}
    if len(tops) == 1 and sides and standing:
        if (
            len(round_) == len(sides)
            and len({id(topology.surface(f)) for f in round_}) >= 1
            and links.goes_round(set(round_))
        ):
            axis = topology.surface(round_[0]).axial
            diameter = 2 * max(links.radii_of(f)[1] for f in round_)
            middle = axis.origin + ((middle - axis.origin) @ axis.z) * axis.z
            cylinder = topology.surface(round_[0]).kind == "cylinder"
            kind, form = "boss", "round" if cylinder else "round, tapered"
            sizes = {"diameter": diameter, "height": height}
        else:
            x, y = _sides_of(links, sides, np.concatenate([links.border(f) for f in sides]), way)
            long, wide = max(x, y), min(x, y)
            kind, form, sizes = "boss", "pad", {"length": long, "width": wide, "height": height}
            if wide <= THIN * height and wide <= SLIM * long:
                kind, form, sizes = "rib", "", {"thickness": wide, "height": height, "length": long}
    return Feature(kind, form, tuple(sorted(faces)), sizes, vec_of(middle), vec_of(way), (base,))


def _sides_of(links: Links, sides: list[int], points: Floats, way: Floats) -> tuple[float, float]:
    flat = [f for f in sides if links.topology.surface(f).kind == "plane"]
    longest = max(flat, key=lambda f: float(np.linalg.norm(np.ptp(links.border(f), axis=0))), default=None)
    across = links.topology.surface(longest).axial.z if longest is not None else np.eye(3)[int(np.abs(way).argmin())]
    across = across - (across @ way) * way
    across /= np.linalg.norm(across)
    return float(np.ptp(points @ across)), float(np.ptp(points @ np.cross(way, across)))


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
        for k, a in enumerate(sides):
            for b in sides[k + 1 :]:
                rib = _rib(links, top, a, b)
                if rib is not None:
                    seen |= {a, b, top}
                    found.append(rib)
    return found


def _rib(links: Links, top: int, a: int, b: int) -> Feature | None:
    topology = links.topology
    out, other, up = (links.normal(f) for f in (a, b, top))
    if float(out @ other) > -BACK or abs(float(out @ up)) > LEANING:
        return None
    thick = float((links.border(a)[0] - links.border(b)[0]) @ out)
    points = np.concatenate([links.border(a), links.border(b)])
    height, length = float(np.ptp(points @ up)), float(np.ptp(points @ np.cross(out, up)))
    roots = [{link.beside for link in links.of(f) if link.bend < 0 and not link.inner[0]} for f in (a, b)]
    along = float(np.ptp(links.border(top) @ np.cross(out, up)))
    if thick < ON or thick > THIN * height or thick > THIN * length or not all(roots):
        return None
    if (
        along < length / 2
        or _overlap(links, a, b, np.cross(out, up)) < length / 2
        or abs(float(np.ptp(links.border(top) @ out)) - thick) > thick
    ):
        return None  # what lies between two large sides is the part itself, not a rib
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    sizes = {"thickness": thick, "height": height, "length": length}
    ends = {link.beside for link in links.of(top) if link.bend > 0} - {a, b}
    narrow = {f for f in ends if topology.surface(f).kind == "plane" and _only_rims(links, f, (a, b))}
    return Feature(
        "rib",
        "",
        tuple(sorted({a, b, top, *narrow})),
        sizes,
        vec_of(middle),
        vec_of(up),
        tuple(sorted(roots[0] | roots[1])),
    )


def _overlap(links: Links, a: int, b: int, way: Floats) -> float:
    """How far (mm) two faces lie beside one another along a direction."""
    one, other = (links.border(f) @ way for f in (a, b))
    return float(min(one.max(), other.max()) - max(one.min(), other.min()))


def _only_rims(links: Links, face: int, sides: tuple[int, int]) -> bool:
    """Whether it closes a rib at its end: narrow between the sides, and bent outwards from both."""
    own = [link.bend for link in links.of(face) if link.beside in sides]
    return len(own) == 2 and min(own) > 0
