"""What mending, stitching and turning over share: the bodies meant, and a mended shape taken over."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..kernel.properties import area_properties
from ..kernel.shape_matching import matched
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..mending.ladder import Mended, size_of
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..model.trimesh_body import TriangleMesh
from .work import Fact, Work


def bodies_of(work: Work, parts: tuple[Reference, ...]) -> list[Body]:
    """The bodies below picked places, each once.  Raises EditError for locked ones."""
    leaves = dict.fromkeys(leaf for p in parts for leaf in work.snapshot.leaves_below(p.number))
    bodies = {b: work.snapshot.bodies[b] for n in leaves if (b := work.snapshot.nodes[n].body) is not None}
    locked = next((b for b in bodies.values() if b.locked), None)
    if locked:
        raise EditError(f"{locked.name} is locked, so it is not changed; unlock it first", parts, field="parts")
    return list(bodies.values())


def taken_over(work: Work, snapshot: Snapshot, body: Body, shape: Shape, within: float | None = None) -> Snapshot:
    """The body with a mended shape: what lies where it lay keeps its id; a solid where it is one now."""
    index = ShapeIndex(shape)
    old = work.geometry.solid(body.shape).index
    near = matched(old, index, max(0.05, within or size_of(shape) / 250))
    known = body.ids()
    ids = {kind: [None if k is None else known[kind][k] for k in row] for kind, row in near.items()}
    kind = "solid" if parts_of(shape, "solid") else "surface"
    return reshape_body(snapshot, work.geometry, replace(body, kind=kind), Solid(shape), ids)


def sheet_facts(found: Mended) -> tuple[Fact, ...]:
    """Of a body that was sewn: its area, how many edges stay open, and with what tolerance it was sewn."""
    facts = (
        Fact("open", "open edges", float(found.left), "count", tone="warning" if found.left else "plain"),
        Fact("tolerance", "sewn within", found.tolerance, "length"),
    )
    if parts_of(found.shape, "solid"):
        return (Fact("solid", "", "now a solid"), *facts)
    return (*facts, Fact("area", "area", abs(area_properties(found.shape).amount), "area"))


def mesh_bodies(work: Work, parts: tuple[Reference, ...]) -> list[tuple[Body, TriangleMesh]]:
    """Raises EditError for parts that are no meshes, or locked."""
    found = []
    for body in bodies_of(work, parts):
        geometry = work.geometry.get(body.shape)
        if not isinstance(geometry, TriangleMesh):
            raise EditError(f"{body.name} has exact faces; this edit is for meshes of triangles", parts, field="parts")
        found.append((body, geometry))
    return found
