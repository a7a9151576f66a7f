"""What rounding and chamfering edges share: which edges go along, carrying ids, the largest size that fits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import floor, log10

from ..errors import CannotDo, EditError
from ..kernel.blend import Blended
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape, ShapeIndex
from ..local.edge_runs import loops_with, tangent_run
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..units import editable_length
from .facts import change_facts
from .ladder import FAILURES, largest_that_works, reason_of
from .work import Outcome, Work

Blend = Callable[[Solid, list[int]], Blended]


def edges_by_body(work: Work, picked: Sequence[Reference], run: str) -> dict[int, list[int]]:
    """Edge places in each body's index.  Raises EditError when a picked edge is not sharp."""
    found: dict[int, list[int]] = {}
    for ident in picked:
        kind, number = ident.kind, ident.number
        body, index = ident.owner
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact edges", [ident])
        topology = work.geometry.solid(body.shape).topology
        row = found.setdefault(body.id, [])
        if kind == "face":
            row += [e for e in topology.edges_of(index) if topology.meeting(e) == "sharp"]
        elif topology.meeting(index) != "sharp":
            raise EditError(f"edge {ident} is smooth already, so there is nothing to take off", [ident], field="edges")
        else:
            row.append(index)
    for number, row in found.items():
        topology = work.geometry.solid(work.snapshot.body(number).shape).topology
        if run == "loop":
            row[:] = loops_with(topology, row)
        row[:] = tangent_run(topology, row)
        if not row:
            raise EditError("the picked faces have no sharp edges", list(picked), field="edges")
    return found


def blend_edges(
    work: Work, picked: Sequence[Reference], run: str, size: float, blend: Callable[[float], Blend]
) -> Outcome:
    """Blend the picked edges with what goes along; `blend` gives the kernel's call for a size."""
    snapshot = work.snapshot
    chosen = edges_by_body(work, picked, run)
    for number, edges in chosen.items():
        body = snapshot.body(number)
        work.progress(0.2, "taking the edges off")
        try:
            snapshot = blend_body(work, snapshot, body, edges, blend(size))
        except FAILURES as error:
            raise refuse(work, body, edges, error, size, blend) from None
    return Outcome(snapshot, change_facts(work, snapshot, set(chosen)))


def blend_body(work: Work, snapshot: Snapshot, body: Body, edges: list[int], blend: Blend) -> Snapshot:
    """Raises EditError when the kernel cannot or the result is unsound."""
    solid = work.geometry.solid(body.shape)
    found = blend(solid, edges)
    index = ShapeIndex(found.shape)
    broken = fault(index, solid.index)
    if broken:
        raise CannotDo(f"it would not leave a sound body: {broken}")
    ids = carry_ids([(solid.index, body.ids())], [], found.trace, index)
    return reshape_body(snapshot, work.geometry, body, Solid.mapped(index), ids)


def refuse(
    work: Work, body: Body, edges: list[int], error: Exception, size: float, blend: Callable[[float], Blend]
) -> CannotDo:
    """The refusal with the edges and the largest size that fits."""
    solid = work.geometry.solid(body.shape)

    def works(trial: float) -> bool:
        try:
            found = blend(trial)(solid, edges)
        except FAILURES:
            return False
        return fault(found.shape, solid.index) is None

    largest = largest_that_works(size, works) if work.mode.advises else None
    nearest = None if largest is None else editable_length(_down(largest), work.snapshot.units)
    where = [text_id("edge", body.edges[e]) for e in edges]
    return CannotDo(reason_of(error), where, nearest, "size")


def _down(size: float) -> float:
    """To three figures, never above: a size that surely fits and reads well."""
    scale = 10.0 ** (floor(log10(size)) - 2)
    return floor(size / scale + 1e-9) * scale


def face_beside(solid: Solid, edge: int) -> Shape:
    return solid.index.get("face", solid.index.faces_of_edges[edge][0])
