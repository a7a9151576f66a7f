"""The pick made wider along the body: the loop of an edge, tangent runs, the chain between a first and a last one."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError
from ..local.edge_runs import edge_chain, face_chain, loops_of, tangent_faces, tangent_run
from .geometry import GeometryStore
from .snapshot import Snapshot, split_id, text_id

WAYS = ("loop", "run", "chain")


def grown_selection(snapshot: Snapshot, geometry: GeometryStore, picked: Sequence[str], way: str) -> list[list[str]]:
    """Ids of wider picks of edges or faces, the one meant most first: both loops of one edge, one run, one chain.
    Raises EditError where the pick has none."""
    if way not in WAYS:
        raise EditError(f"a pick is widened by {', '.join(WAYS)}, not “{way[:20]}”")
    found = [(split_id(i)[0], *snapshot.owner_of(*split_id(i))) for i in picked]
    kinds, bodies = {k for k, _, _ in found}, {b.id: b for _, b, _ in found}
    if len(kinds) != 1 or not kinds <= {"edge", "face"} or len(bodies) != 1:
        raise EditError("pick edges of one part, or faces of one part, first", picked)
    (kind,), (body,) = kinds, bodies.values()
    if body.kind == "mesh":
        raise EditError(f"{body.name} is a mesh; its faces have no exact borders to follow", picked)
    topology, at = geometry.solid(body.shape).topology, [n for _, _, n in found]
    if way == "loop":
        if kind != "edge" or len(at) != 1:
            raise EditError("a loop goes on from one edge; pick a single one", picked)
        rows = loops_of(topology, at[0])
    elif way == "run":
        rows = [(tangent_run if kind == "edge" else tangent_faces)(topology, at)]
    else:
        if len(at) != 2:
            raise EditError("a chain leads from a first to a last one; pick two edges or two faces", picked)
        rows = [(edge_chain if kind == "edge" else face_chain)(topology, *at)]
        if not rows[0]:
            raise EditError("no sharp edges lead from one to the other", picked)
    return [[text_id(kind, body.ids()[kind][n]) for n in row] for row in rows]
