"""Matter in front of a section taken away, with what the rest of it was."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...errors import EditError
from ...kernel import build
from ...kernel.boolean import combine
from ...kernel.queries import face_kind, plane_normal
from ...kernel.shapes import Shape, ShapeIndex
from ...local.surfaces import Floats
from ...model.drawing_sheet import DrawnView, Point2
from ...rigid import IDENTITY, Rigid, vec_of
from ..projection import ViewFrame
from .legs import legs_of, line_way

FACING = 1e-6  # cosine, from which a cut face looks at the eye, and does not lie along it


@dataclass(frozen=True, eq=False)
class CutShape:
    """edges, faces: for each of its own the number in the whole shape, −1 of those that the cut made; lies_in: of edges
    that the cut made, the face of the whole shape; bare: numbers of its faces that lie in the cut and look at the eye;
    seams: of edges that the cut made where it steps, turns or ends, which are no edges of the part."""

    shape: Shape
    edges: tuple[int, ...]
    faces: tuple[int, ...]
    lies_in: dict[int, int]
    bare: tuple[int, ...]
    seams: frozenset[int]


@dataclass(frozen=True, eq=False)
class Knife:
    """motion: of what it cuts, to where that is drawn; tool: matter that it takes away, or, of a strip, leaves."""

    motion: Rigid
    tool: Shape
    strip: bool = False


def knives_of(view: DrawnView, parent: DrawnView, reach: float) -> list[Knife]:
    """One, or one for each leg of a cutting line that is turned.  reach: mm, beyond everything."""
    above, frame = ViewFrame.of(parent), ViewFrame.of(view)
    if not view.turned:
        return [Knife(IDENTITY, _knife(view.cut, above, frame.eye, reach, view.half))]
    way, found = line_way(above, frame), []
    for leg in legs_of(view, parent):
        low, high = (min(max(v, -2 * reach), 2 * reach) for v in (leg.low, leg.high))
        rows = [(low, leg.level), (high, leg.level), (high, -2 * reach), (low, -2 * reach)]
        face = build.outline(
            [vec_of(frame.about + along * way + depth * frame.eye - reach * above.eye) for along, depth in rows]
        )
        found.append(Knife(leg.motion, build.extrude(face, vec_of(2 * reach * above.eye)), strip=True))
    return found


def _knife(cut: Sequence[Point2], parent: ViewFrame, eye: Floats, reach: float, half: bool = False) -> Shape:
    """All matter on the side of the cutting line from which the section is seen.

    cut: corners of the line in the parent's plane, mm; eye: of the section, unit; reach: mm, beyond everything.  The
    line goes on beyond its ends; with `half` it ends at the first and last corner, and turns off towards the eye
    there."""
    corners = np.array(cut, float)
    toward = parent.way(eye)
    if len(corners) < 2 or np.hypot(*toward) < 0.5:
        raise EditError("a section needs a cutting line that its view looks at")
    toward = toward / np.hypot(*toward)
    first, last = corners[1] - corners[0], corners[-1] - corners[-2]
    if min(np.hypot(*first), np.hypot(*last)) < 1e-6:
        raise EditError("two corners of the cutting line lie on one another")
    if not half:
        corners[0] -= reach * first / np.hypot(*first)
        corners[-1] += reach * last / np.hypot(*last)
    around = [*corners, corners[-1] + 2 * reach * toward, corners[0] + 2 * reach * toward]
    back = parent.eye * -reach
    face = build.outline([vec_of(parent.place(p) + back) for p in around])
    return build.extrude(face, vec_of(2 * reach * parent.eye))


def cut_open(shape: Shape, knife: Knife, eye: Floats) -> CutShape | None:
    """None where nothing is left.  Raises EditError where the kernel gives up."""
    result, trace = combine("common" if knife.strip else "subtract", shape, [knife.tool], merge=False)
    index, before = ShapeIndex(result), ShapeIndex(shape)
    if not index.count("face"):
        return None
    sources = {}
    for kind in ("edge", "face"):
        found = [-1] * index.count(kind)
        for number, part in enumerate(before.all(kind)):
            for piece in trace(part):
                at = index.find(kind, piece)
                if at >= 0:
                    found[at] = number
        sources[kind] = tuple(found)
    bare = []
    for number, source in enumerate(sources["face"]):
        face = index.get("face", number)
        if source < 0 and face_kind(face) == "plane" and float(np.dot(plane_normal(face), eye)) > FACING:
            bare.append(number)
    lies_in = {
        edge: face
        for edge, source in enumerate(sources["edge"]) if source < 0
        for face in [max((sources["face"][f] for f in index.faces_of_edges[edge]), default=-1)] if face >= 0
    }  # fmt: skip
    made = {f for f, source in enumerate(sources["face"]) if source < 0}
    walls = made - set(bare)
    seams = frozenset(
        edge for edge, source in enumerate(sources["edge"]) if source < 0
        for beside in [set(index.faces_of_edges[edge])] if walls & beside or beside <= made
    )  # fmt: skip
    return CutShape(result, sources["edge"], sources["face"], lies_in, tuple(bare), seams)
