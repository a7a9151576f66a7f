"""What rounding and chamfering edges share: which edges go along, carrying ids, the largest size that fits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import floor, log10

from ..errors import EditError
from ..kernel.blend import Blended
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape, ShapeIndex
from ..local.edge_runs import loops_with, tangent_run
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..model.words import plural
from ..units import editable_length, format_length
from .base import Outcome, Work
from .facts import change_facts
from .gaps import ChoiceGap, PickGap
from .shaping import largest_that_works

EDGES = PickGap(
    "the edges", "Sharp edges, or faces, which stand for all their sharp edges.", element="edge", also=("face",)
)
RUNS = ChoiceGap(
    "the run",
    "Edges that go on without a kink always come along; or all edges of the loop do.",
    default="tangent",
    options={"tangent": "following tangent runs", "loop": "with their whole loop"},
)

Blend = Callable[[Solid, list[int]], Blended]


def edges_by_body(work: Work, picked: Sequence[str], run: str) -> dict[int, list[int]]:
    """Edge places in each body's index.  Raises EditError when a picked edge is not sharp."""
    found: dict[int, list[int]] = {}
    for ident in picked:
        kind, number = split_id(ident)
        body, index = work.snapshot.owner_of(kind, number)
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact edges", [ident])
        fabric = work.geometry.solid(body.shape).fabric
        row = found.setdefault(body.id, [])
        if kind == "face":
            row += [e for e in fabric.edges_of(index) if fabric.meeting(e) == "sharp"]
        elif fabric.meeting(index) != "sharp":
            raise EditError(f"edge {ident} is smooth already, so there is nothing to take off", [ident], field="edges")
        else:
            row.append(index)
    for number, row in found.items():
        fabric = work.geometry.solid(work.snapshot.body(number).shape).fabric
        if run == "loop":
            row[:] = loops_with(fabric, row)
        row[:] = tangent_run(fabric, row)
        if not row:
            raise EditError("the picked faces have no sharp edges", list(picked), field="edges")
    return found


def blend_edges(
    work: Work, picked: Sequence[str], run: str, size: float, blend: Callable[[float], Blend], doing: str
) -> Outcome:
    """Blend the picked edges with what goes along; `blend` gives the kernel's call for a size, `doing` begins a
    refusal."""
    snapshot = work.snapshot
    chosen = edges_by_body(work, picked, run)
    for number, edges in chosen.items():
        body = snapshot.body(number)
        work.progress(0.2, "taking the edges off")
        try:
            snapshot = blend_body(work, snapshot, body, edges, blend(size))
        except EditError as error:
            words = f"{doing} {format_length(size, snapshot.units)}"
            raise refuse(work, body, edges, words, error, size, blend) from None
    return Outcome(snapshot, change_facts(work, snapshot, set(chosen)))


def blend_body(work: Work, snapshot: Snapshot, body: Body, edges: list[int], blend: Blend) -> Snapshot:
    """Raises EditError when the kernel cannot or the result is unsound."""
    solid = work.geometry.solid(body.shape)
    found = blend(solid, edges)
    broken = fault(found.shape, solid.index)
    if broken:
        raise EditError(f"it would not leave a sound body: {broken}")
    ids = carry_ids([(solid.index, body.ids())], [], found.trace, ShapeIndex(found.shape))
    return reshape_body(snapshot, work.geometry, body, Solid(found.shape), ids)


def refuse(
    work: Work, body: Body, edges: list[int], doing: str, error: EditError, size: float, blend: Callable[[float], Blend]
) -> EditError:
    """The refusal with the edges and, unless only previewed, the largest size that fits."""
    solid = work.geometry.solid(body.shape)

    def works(trial: float) -> bool:
        try:
            found = blend(trial)(solid, edges)
        except EditError:
            return False
        return fault(found.shape, solid.index) is None

    largest = largest_that_works(size, works) if work.wants_nearest else None
    nearest = None if largest is None else editable_length(_down(largest), work.snapshot.units)
    where = [text_id("edge", body.edges[e]) for e in edges]
    return EditError(f"{doing} {plural(len(edges), 'edge')}: {error.reason}", where, nearest, "size")


def _down(size: float) -> float:
    """To three figures, never above: a size that surely fits and reads well."""
    scale = 10.0 ** (floor(log10(size)) - 2)
    return floor(size / scale + 1e-9) * scale


def face_beside(solid: Solid, edge: int) -> Shape:
    return solid.index.get("face", solid.index.faces_of_edges[edge][0])
