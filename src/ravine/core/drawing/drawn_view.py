"""What a view of a sheet draws, in its own plane: lines with the ids of what they are of, cut areas, bends."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel.shapes import Shape, placed
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnSheet, DrawnView
from ..model.geometry import GeometryStore, Solid
from ..model.records import EXPLOSIONS, PARTS
from ..model.snapshot import Occurrence, Snapshot, text_id
from ..rigid import Rigid
from ..sheet.views import flat_of
from ..sketch.plane_curves import TURN, ZERO, PlaneCurve
from .clipping import Breaks, circle, inside_circle, rings_inside
from .meshes.views import cap_loops, lines_of_meshes, mesh_pieces, screen_of
from .projection import ViewFrame, on_paper
from .sections.cut_areas import cut_areas
from .sections.cutting import CutShape, Knife, cut_open, knives_of
from .sections.ribs import rib_profiles
from .view_lines import ViewLine, joined, lines_of

KEPT = 96  # views whose lines are remembered
BREAK = 3.0  # mm on paper between the sides of a broken view


@dataclass(frozen=True, eq=False)
class SourcedLine:
    """curve: mm in the view's plane; layer: of ink.LAYERS; source: as e12@n5, empty for what has none."""

    curve: PlaneCurve
    layer: str
    source: str


@dataclass(frozen=True, eq=False)
class CutArea:
    """loops: rings (n, 2) mm in the view's plane; part: number by which its hatching is told from that of others."""

    loops: tuple[Floats, ...]
    part: int


@dataclass(frozen=True, eq=False)
class Drawn:
    """missing: parts that could not be drawn, and why."""

    lines: tuple[SourcedLine, ...]
    areas: tuple[CutArea, ...] = ()
    missing: tuple[str, ...] = ()

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Low x, low y, high x, high y; nothing where nothing is drawn."""
        if not self.lines:
            return (0.0, 0.0, 0.0, 0.0)
        rows = np.array([tight_box(line.curve) for line in self.lines])
        low, high = rows[:, :2].min(axis=0), rows[:, 2:].max(axis=0)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def tight_box(curve: PlaneCurve) -> Floats:
    """Of rounds exactly, of splines as they are drawn: low x, low y, high x, high y."""
    if curve.kind not in ("round", "ellipse"):
        places = curve.line[1]
        return np.array([*places.min(axis=0), *places.max(axis=0)])
    peaks = [math.atan2(curve.y[k], curve.x[k]) + half * math.pi for k in (0, 1) for half in (0, 1)]
    turns = [curve.first, curve.last]
    turns += [t for p in peaks for n in range(-2, 3) if curve.first < (t := p % TURN + n * TURN) < curve.last]
    places = curve.at(np.array(turns))
    return np.array([*places.min(axis=0), *places.max(axis=0)])


def draw_view(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, view: DrawnView) -> Drawn:
    """Raises EditError where the kernel gives up, or what it shows is no more."""
    if view.kind == "detail":
        return _detail(snapshot, geometry, sheet, view)
    if view.kind == "flat":
        return _flat(snapshot, geometry, view)
    shown = shown_in(snapshot, view)
    rows = tuple((o.body.shape, o.node.id, tuple(o.matrix)) for o in shown)
    line = parent = None
    if view.kind == "section":
        parent = sheet.views.get(view.parent or 0)
        if parent is None:
            raise EditError("the view that this section was cut in is no more")
        line = (parent.eye, parent.right, parent.about, view.cut, view.half, view.turned, view.whole, view.ribs)
    key = ("view lines", rows, view.eye, view.right, view.about, view.hidden, view.smooth, line)
    found = geometry.remembered(key, lambda: _drawn(snapshot, geometry, view, shown, parent), KEPT)
    breaks = breaks_of(view)
    return found if breaks is None else broken(found, breaks)


def shown_in(snapshot: Snapshot, view: DrawnView) -> list[Occurrence]:
    """Places that a view shows, where it shows them."""
    wanted = set(view.nodes)
    found = [o for o in snapshot.occurrences() if not wanted or wanted & {o.node.id, *o.path}]
    shifts = shifts_in(snapshot, view)
    return [
        replace(o, matrix=Rigid.slide(shifts[o.node.id]) @ o.matrix) if o.node.id in shifts else o for o in found
    ]  # fmt: skip


def shifts_in(snapshot: Snapshot, view: DrawnView) -> dict[int, Floats]:
    """Of the places that a view shows apart from where they are, by node: (3,) mm."""
    explosion = snapshot.kept(EXPLOSIONS).get(view.apart)
    shifts: dict[int, Floats] = {}
    if explosion is None:
        return shifts
    below = {n: snapshot.leaves_below(n) for step in explosion.steps for n in step.nodes if n in snapshot.nodes}
    for step in explosion.shifts(below):
        for node, shift in step.items():
            shifts[node] = shifts.get(node, np.zeros(3)) + np.array(shift)
    return shifts


def _drawn(
    snapshot: Snapshot, geometry: GeometryStore, view: DrawnView, shown: list[Occurrence], parent: DrawnView | None
) -> Drawn:
    frame = ViewFrame.of(view)
    knives: list[Knife] = []
    if parent is not None:
        low, high = _reach(geometry, shown)
        reach = 2 * float(np.linalg.norm(high - low)) + float(np.linalg.norm((low + high) / 2 - frame.about))
        knives = knives_of(view, parent, reach)
    shapes: list[Shape] = []
    owners: list[tuple[Occurrence, CutShape | None]] = []
    areas: list[CutArea] = []
    drawn: list[SourcedLine] = []
    meshes: list[Occurrence] = []
    for place in shown:
        body = geometry.get(place.body.shape)
        if not isinstance(body, Solid):
            meshes.append(place)
            continue
        if parent is None or place.body.kind != "solid":
            shapes.append(placed(body.shape, place.matrix))
            owners.append((place, None))
            continue
        for moved, shape, cut in _cut(body.shape, place, knives, frame, whole=place.body.id in view.whole):
            shapes.append(shape)
            owners.append((place, cut))
            if cut is None:
                continue
            found = cut_areas(cut, frame, rib_profiles(body, moved, frame) if view.ribs else [])
            areas += [CutArea(loops, place.body.id) for loops in found.loops]
            drawn += [SourcedLine(curve, "visible", _called(place, "edge", number)) for curve, number in found.edges]
    pieces, missing = mesh_pieces(geometry, meshes, view, parent)
    behind = screen_of(pieces, frame) if pieces else None
    lines = lines_of(shapes, frame, view.hidden, view.smooth, behind) if shapes else []
    drawn += [_sourced(line, owners) for line in lines if not _in_seam(line, owners)]
    seams = joined(line for line in lines if line.visible and _in_seam(line, owners))
    drawn += [SourcedLine(curve, "centre", "") for curve in seams]
    if pieces:
        screen = screen_of(pieces, frame, shapes)
        drawn += [SourcedLine(curve, "visible" if visible else "hidden", "")
                  for curve, visible in lines_of_meshes(pieces, screen, frame, view.hidden)]  # fmt: skip
        areas += [CutArea(loops, body) for body, loops in cap_loops(pieces)]
    return Drawn(tuple(drawn), tuple(areas), missing)


def _cut(
    shape: Shape, place: Occurrence, knives: list[Knife], frame: ViewFrame, whole: bool
) -> Iterator[tuple[Shape, Shape, CutShape | None]]:
    """The part where a knife shows it, and what that leaves of it.  A whole one goes with the knife that leaves most of
    it, and goes where it lies wholly before the cut."""
    found = []
    for knife in knives:
        moved = placed(shape, knife.motion @ place.matrix)
        cut = cut_open(moved, knife, frame.eye)
        if cut is not None:
            found.append((moved, cut))
    if not whole:
        yield from ((moved, cut.shape, cut) for moved, cut in found)
    elif found:
        moved = max(found, key=lambda row: volume_properties(row[1].shape).amount)[0]
        yield moved, moved, None


def _in_seam(line: ViewLine, owners: list[tuple[Occurrence, CutShape | None]]) -> bool:
    cut = owners[line.shape][1]
    return cut is not None and line.edge and line.number in cut.seams


def standard_parts(snapshot: Snapshot) -> tuple[int, ...]:
    """Bodies that sections leave whole (ISO 128-3): what is from the shelf."""
    return tuple(b for b, data in snapshot.kept(PARTS).items() if data.item)


def _reach(geometry: GeometryStore, shown: Iterable[Occurrence]) -> tuple[Floats, Floats]:
    rows = []
    for place in shown:
        box = geometry.get(place.body.shape).box
        rows += [place.matrix.point(c) for c in box.corners]
    places = np.array(rows) if rows else np.zeros((1, 3))
    return places.min(axis=0), places.max(axis=0)


def _sourced(line: ViewLine, owners: list[tuple[Occurrence, CutShape | None]]) -> SourcedLine:
    place, cut = owners[line.shape]
    layer = "hidden" if not line.visible else "smooth" if line.smooth else "visible"
    number, kind = line.number, "edge" if line.edge else "face"
    if cut is not None:
        number = (cut.edges if line.edge else cut.faces)[line.number]
        if number < 0 and line.edge and line.number in cut.lies_in:
            number, kind = cut.lies_in[line.number], "face"
    if number < 0:
        return SourcedLine(line.curve, layer, "")
    return SourcedLine(line.curve, layer, _called(place, kind, number))


def _called(place: Occurrence, kind: str, number: int) -> str:
    return f"{text_id(kind, place.body.ids()[kind][number])}@{text_id('node', place.node.id)}"


def _flat(snapshot: Snapshot, geometry: GeometryStore, view: DrawnView) -> Drawn:
    if view.body is None or view.body not in snapshot.bodies:
        raise EditError("the sheet part that was laid flat here is no more")
    body = snapshot.body(view.body)
    flat = flat_of(snapshot, geometry, body)
    shift = np.array([(flat.box[0] + flat.box[2]) / 2, (flat.box[1] + flat.box[3]) / 2])
    lines = [SourcedLine(on_paper(c, 1.0, -shift), "visible", "")
             for loops in (flat.loops, flat.forms) for loop in loops for c in loop]  # fmt: skip
    for bend in flat.bends:
        a, b = np.array(bend.start) - shift, np.array(bend.end) - shift
        curve = PlaneCurve(0, "line", 0.0, 1.0, a, b - a, ZERO)
        lines.append(SourcedLine(curve, "bends", text_id("face", body.faces[bend.face])))
    return Drawn(tuple(lines))


def _detail(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, view: DrawnView) -> Drawn:
    """What the parent draws within a circle."""
    parent = sheet.views.get(view.parent or 0)
    if parent is None or view.circle is None:
        raise EditError("the view that this detail was taken from is no more")
    whole = draw_view(snapshot, geometry, sheet, parent)
    rim = circle(*view.circle)
    lines = [replace(line, curve=piece) for line in whole.lines for piece in inside_circle(line.curve, rim)]
    areas = [replace(a, loops=tuple(rings)) for a in whole.areas if (rings := rings_inside(a.loops, rim))]
    return Drawn(tuple(lines), tuple(areas), whole.missing)


def broken(drawn: Drawn, breaks: Breaks) -> Drawn:
    lines = tuple(replace(line, curve=piece) for line in drawn.lines for piece in breaks.curves(line.curve))
    areas = tuple(replace(a, loops=tuple(rings)) for a in drawn.areas for rings in breaks.rings(a.loops))
    return replace(drawn, lines=lines, areas=areas)


def breaks_of(view: DrawnView) -> Breaks | None:
    return Breaks(view.gaps, BREAK / view.scale) if view.gaps else None
