"""Good parts damaged in named ways, so that finding and mending can be scored.

Every function takes a sound solid and gives what a careless exchange would have left of it, and what was done to it.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass

from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.gp import gp_Pnt
from OCP.ShapeFix import ShapeFix_ShapeTolerance
from OCP.TopAbs import TopAbs_VERTEX

from .boolean import combine
from .build import box
from .properties import area_properties, rough_box
from .queries import edge_facts, face_kind, plane_normal
from .shapes import Shape, as_edge, as_face, parts_of, placed
from .soup import loose, shell_of


@dataclass(frozen=True)
class Planted:
    """code: as the check-up calls it; count: how many; size: mm, where it has one."""

    code: str
    count: int
    size: float = 0.0


@dataclass(frozen=True)
class Damaged:
    shape: Shape
    planted: Planted


def _size(shape: Shape) -> float:
    return max(rough_box(shape).size)


def drop_faces(solid: Shape, chance: random.Random, count: int = 1) -> Damaged:
    faces = parts_of(solid, "face")
    gone = set(chance.sample(range(len(faces)), min(count, len(faces) - 3)))
    return Damaged(shell_of([f for i, f in enumerate(faces) if i not in gone]), Planted("missing face", len(gone)))


def gap_edges(solid: Shape, chance: random.Random, width: float = 0.02) -> Damaged:
    """One face stands off its neighbours by `width`, along its middle normal or across it."""
    faces = parts_of(solid, "face")
    number = chance.randrange(len(faces))
    way = [chance.gauss(0, 1) for _ in range(3)]
    size = sum(c * c for c in way) ** 0.5
    dx, dy, dz = (width * c / size for c in way)
    faces[number] = placed(loose(faces[number]), (1, 0, 0, dx, 0, 1, 0, dy, 0, 0, 1, dz))
    return Damaged(shell_of(faces), Planted("gap", 1, width))


def loosen(solid: Shape, chance: random.Random) -> Damaged:
    """Every face for itself, as surface files bring them: the borders meet but nothing is shared."""
    faces = [loose(f) for f in parts_of(solid, "face")]
    chance.shuffle(faces)
    return Damaged(shell_of(faces), Planted("loose border", len(faces), 0.0))


def split_faces(solid: Shape, chance: random.Random) -> Damaged:
    """The body is cut in two through its middle and the halves united without merging: faces fall in two."""
    low, high = rough_box(solid)
    axis = chance.randrange(3)
    at = low[axis] + (high[axis] - low[axis]) * chance.uniform(0.4, 0.6)
    size = [b - a + 2 for a, b in zip(low, high, strict=True)]
    size[axis] = at - low[axis] + 1
    half = box(size[0], size[1], size[2], tuple(a - 1 for a in low))
    first = combine("common", solid, [half], merge=False)[0]
    second = combine("subtract", solid, [half], merge=False)[0]
    whole = combine("unite", first, [second], merge=False)[0]
    more = len(parts_of(whole, "face")) - len(parts_of(solid, "face"))
    return Damaged(parts_of(whole, "solid")[0], Planted("split face", more))


def flip_faces(solid: Shape, chance: random.Random, count: int = 1) -> Damaged:
    faces = parts_of(solid, "face")
    for number in chance.sample(range(len(faces)), count):
        faces[number] = faces[number].Reversed()
    return Damaged(shell_of(faces), Planted("turned face", count))


def duplicate_faces(solid: Shape, chance: random.Random, count: int = 1) -> Damaged:
    faces = parts_of(solid, "face")
    twins = [loose(f) for f in chance.sample(faces, count)]
    return Damaged(shell_of([*faces, *twins]), Planted("duplicate face", count))


def cross_wires(solid: Shape, chance: random.Random) -> Damaged | None:
    """A flat face whose outline crosses itself: two of its corners are run through in the wrong order.  None where no
    face is a polygon with four corners or more."""
    faces = parts_of(solid, "face")
    polygons = [i for i, f in enumerate(faces) if _corners(f) is not None]
    if not polygons:
        return None
    number = chance.choice(polygons)
    corners = _corners(faces[number]) or []
    at = chance.randrange(len(corners) - 1)
    corners[at], corners[at + 1] = corners[at + 1], corners[at]
    maker = BRepBuilderAPI_MakePolygon()
    for x, y, z in corners:
        maker.Add(gp_Pnt(x, y, z))
    maker.Close()
    old = as_face(faces[number])
    made = BRepBuilderAPI_MakeFace(BRep_Tool.Surface_s(old).Copy(), maker.Wire(), True).Face()
    faces[number] = made.Oriented(old.Orientation())
    return Damaged(shell_of(faces), Planted("crossing outline", 1))


def _corners(face: Shape) -> list[tuple[float, float, float]] | None:
    """Of a plane face with one straight-edged outline of four corners or more, in order."""
    if face_kind(face) != "plane" or len(parts_of(face, "wire")) != 1:
        return None
    edges = parts_of(face, "edge")
    if len(edges) < 4 or any(edge_facts(e).kind != "line" for e in edges):
        return None
    walk = BRepTools_WireExplorer(BRepTools.OuterWire_s(as_face(face)), as_face(face))
    found = []
    while walk.More():
        point = BRep_Tool.Pnt_s(walk.CurrentVertex())
        found.append((point.X(), point.Y(), point.Z()))
        walk.Next()
    return found


def coarse_tolerance(solid: Shape, chance: random.Random, tolerance: float = 0.2) -> Damaged:
    """One face with its edges and corners claims a tolerance far above what it needs."""
    copy = BRepBuilderAPI_Copy(solid, True, False).Shape()
    face = chance.choice(parts_of(copy, "face"))
    ShapeFix_ShapeTolerance().SetTolerance(face, tolerance, TopAbs_VERTEX)
    edges = parts_of(face, "edge")
    builder = BRep_Builder()
    for edge in edges:
        builder.UpdateEdge(as_edge(edge), tolerance)
    return Damaged(copy, Planted("coarse tolerance", len(edges), tolerance))


def thin_strip(solid: Shape, chance: random.Random, width: float = 0.004) -> Damaged | None:
    """A sliver is cut off the edge of a flat face.  None where no face lends itself."""
    faces = [f for f in parts_of(solid, "face") if _corners(f) is not None and area_properties(f).amount > 1.0]
    if not faces:
        return None
    face = chance.choice(faces)
    corners = _corners(face) or []
    (ax, ay, az), (bx, by, bz) = corners[0], corners[1]
    nx, ny, nz = plane_normal(face)
    long = ((bx - ax) ** 2 + (by - ay) ** 2 + (bz - az) ** 2) ** 0.5
    ex, ey, ez = (bx - ax) / long, (by - ay) / long, (bz - az) / long
    ix, iy, iz = ny * ez - nz * ey, nz * ex - nx * ez, nx * ey - ny * ex
    centre = area_properties(face).centroid
    if ix * (centre[0] - ax) + iy * (centre[1] - ay) + iz * (centre[2] - az) < 0:
        ix, iy, iz = -ix, -iy, -iz
    tool = BRepBuilderAPI_MakePolygon()
    big = _size(solid)
    for s, t in ((-big, -big), (big + long, -big), (big + long, width), (-big, width)):
        tool.Add(gp_Pnt(ax + s * ex + t * ix, ay + s * ey + t * iy, az + s * ez + t * iz))
    tool.Close()
    half = BRepBuilderAPI_MakeFace(tool.Wire(), True).Face()
    strip = parts_of(combine("common", face, [half], merge=False)[0], "face")
    rest = parts_of(combine("subtract", face, [half], merge=False)[0], "face")
    if not strip or not rest:
        return None
    others = [f for f in parts_of(solid, "face") if not f.IsSame(face)]
    facing = [f.Oriented(face.Orientation()) for f in (*strip, *rest)]
    return Damaged(shell_of([*others, *facing]), Planted("sliver", len(strip), width))


DAMAGES: dict[str, Callable[[Shape, random.Random], Damaged | None]] = {
    "drop a face": drop_faces,
    "gap": gap_edges,
    "loosen": loosen,
    "split faces": split_faces,
    "flip a face": flip_faces,
    "duplicate a face": duplicate_faces,
    "cross an outline": cross_wires,
    "coarse tolerance": coarse_tolerance,
    "thin strip": thin_strip,
}


def mixed(solid: Shape, chance: random.Random, kinds: int = 3) -> tuple[Shape, list[Planted]]:
    """Several kinds one after another on one part."""
    order = ["thin strip", "drop a face", "gap", "flip a face", "duplicate a face", "cross an outline", "loosen"]
    chosen = set(chance.sample(order, kinds))
    shape, planted = solid, []
    for kind in order:
        harmed = DAMAGES[kind](shape, chance) if kind in chosen else None
        if harmed is not None:
            shape = harmed.shape
            planted.append(harmed.planted)
    return shape, planted
