"""What the edits on open surfaces share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..errors import EditError
from ..kernel.properties import area_properties
from ..kernel.shapes import Shape, placed
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.profiles import curve_edge
from ..model.references import Reference
from ..model.snapshot import Body, Node
from ..rigid import IDENTITY
from .work import Fact, Outcome, Work


def edge_shapes(work: Work, picked: Sequence[Reference]) -> list[Shape]:
    """Edges and curves in model coordinates."""
    found = []
    for ident in picked:
        kind, number = ident.kind, ident.number
        if kind == "curve":
            sketch = work.snapshot.sketch_with("curve", number)
            shape = curve_edge(sketch, sketch.curve(number))
            if shape is None:
                raise EditError(f"{ident} is no single curve", [ident], field="edges")
            found.append(shape)
        else:
            body, index = ident.owner
            found.append(placed(work.geometry.solid(body.shape).index.get("edge", index), ident.matrix))
    return found


def new_sheet(work: Work, shape: Shape) -> Outcome:
    """An open surface as a part of its own."""
    (body, node), snapshot = work.snapshot.fresh(2)
    taken = {b.name for b in snapshot.bodies.values()}
    name = next(n for k in range(1, 10**6) if (n := f"Surface {k}") not in taken)
    fresh = Body(body, name, "surface", "", ())
    snapshot = reshape_body(snapshot, work.geometry, fresh, Solid(shape), blank_ids(shape))
    snapshot = snapshot.with_node(Node(node, name, IDENTITY, (), body))
    facts = (Fact("area", "area", abs(area_properties(shape).amount), "area"),)
    return Outcome(replace(snapshot, roots=(*snapshot.roots, node)), facts)
