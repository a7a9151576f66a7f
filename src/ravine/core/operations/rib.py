"""A rib: a thin wall from a sketched line to the matter around it."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.boolean import combine
from ..kernel.classify import holds
from ..kernel.open_surfaces import filled
from ..kernel.properties import rough_box
from ..kernel.shapes import Shape, parts_of, placed
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats
from ..model.profiles import curve_edge
from ..model.references import Reference
from ..rigid import Rigid
from ..sketch.chains import chain_of
from ..sketch.entities import Curve, Plane, Sketch
from ..sketch.plane_curves import PlaneCurve, plane_curve
from .new_material import put
from .sketching import numbers, sketch_of
from .work import Operation, Outcome, Work

NEAR = 1e-3  # mm from the line at which the matter of the rib is looked for


@dataclass(frozen=True, kw_only=True)
class Rib(Operation):
    """From a line or an open chain of a sketch, in its plane, to the matter around it; half to each side of the
    plane."""

    curve: tuple[Reference, ...]
    side: str = "either"
    thickness: float = 2.0

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curve, "curve")
        chain, closed = chain_of(sketch, sketch.curve(numbers(self.curve)[0]), ("line", "arc"))
        if closed:
            raise EditError("the chain is closed; a rib runs from an open one", self.curve, field="curve")
        solids = [placed(work.geometry.solid(o.body.shape).shape, o.matrix)
                  for o in work.snapshot.occurrences() if o.body.kind == "solid"]  # fmt: skip
        if not solids:
            raise CannotDo("there is no matter for it to reach", field="curve")
        work.progress(0.2, "looking for the matter around it")
        senses = {"left": (1.0,), "right": (-1.0,), "either": (1.0, -1.0)}[self.side]
        found = [r for r in (self._bounded(sketch, chain, solids, sense) for sense in senses) if r is not None]
        if not found:
            raise CannotDo("nothing closes it in on that side", self.curve, field="side")
        tool = min(found, key=lambda s: volume_properties(s).amount)
        work.progress(0.6, "joining it")
        return put(work, tool, "joining", "Rib")

    def _bounded(
        self, sketch: Sketch, chain: list[tuple[Curve, bool]], solids: list[Shape], sense: float
    ) -> Shape | None:
        """The rib on one side of the chain; None where it would run on into the open."""
        boxes = np.array([rough_box(s) for s in solids])
        far = 2 * float(np.linalg.norm(boxes[:, 1].max(axis=0) - boxes[:, 0].min(axis=0)))
        rows = [(flat, forward) for c, forward in chain if (flat := plane_curve(sketch, c)) is not None]
        (start, back), (end, on) = _tip(*rows[0], first=True), _tip(*rows[-1], first=False)
        chord = end - start
        side = sense * np.array([-chord[1], chord[0]]) / float(np.hypot(*chord))
        plane = sketch.plane
        edges = [e for c, _ in chain if (e := curve_edge(sketch, c)) is not None]
        ring = [start, start + far * back, start + far * (back + side), end + far * (on + side), end + far * on, end]
        edges += [build.segment(_placed(plane, a), _placed(plane, b)) for a, b in itertools.pairwise(ring)]
        normal = np.array(plane.normal)
        sheet = build.moved(filled(edges, "curve"), Rigid.slide(-self.thickness / 2 * normal))
        slab = build.extrude(sheet, (self.thickness * normal).tolist())
        rest = combine("subtract", slab, solids, merge=False)[0]
        flat = rows[len(rows) // 2][0]
        middle = flat.at(np.array([(flat.first + flat.last) / 2]))[0] + NEAR * side
        pieces = [p for p in parts_of(rest, "solid") if holds(p, _placed(plane, middle))]
        if not pieces:
            raise CannotDo("the line lies in matter already", self.curve, field="curve")
        low, high = (np.array(v) for v in rough_box(pieces[0]))
        limit = 0.4 * far
        inside = (low > boxes[:, 0].min(axis=0) - limit).all() and (high < boxes[:, 1].max(axis=0) + limit).all()
        return pieces[0] if inside else None


def _tip(flat: PlaneCurve, forward: bool, first: bool) -> tuple[Floats, Floats]:
    """An end of a chain and the direction in which it runs on there."""
    at_start = forward == first
    t = np.array([flat.first if at_start else flat.last])
    way = flat.slope(t)[0] * (-1.0 if at_start else 1.0)
    return flat.at(t)[0], way / float(np.hypot(*way))


def _placed(plane: Plane, place: Floats) -> tuple[float, float, float]:
    return plane.place((float(place[0]), float(place[1])))
