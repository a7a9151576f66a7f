"""Meshes with fewer triangles, or smoother."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..errors import EditError
from ..mending.mesh_shape import distances, fewer, smoother
from ..model.derive import remesh_body
from ..model.references import Reference
from ..model.trimesh_body import TriangleMesh
from .mended_bodies import mesh_bodies
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Decimate(Operation):
    """Merges triangles where that changes the form least."""

    parts: tuple[Reference, ...]
    share: float = 0.5

    def do(self, work: Work) -> Outcome:
        def change(mesh: TriangleMesh) -> TriangleMesh:
            made = fewer(mesh, max(4, round(self.share * len(mesh.triangles))))
            if len(made.triangles) >= len(mesh.triangles):
                raise EditError("none of its triangles can go without spoiling the form", self.parts, field="share")
            return made

        return _changed(work, self.parts, change)


@dataclass(frozen=True, kw_only=True)
class Smooth(Operation):
    """Evens out noise without shrinking the body; open borders stay where they are."""

    parts: tuple[Reference, ...]
    rounds: int = 10

    def do(self, work: Work) -> Outcome:
        return _changed(work, self.parts, lambda mesh: smoother(mesh, self.rounds))


def _changed(work: Work, parts: tuple[Reference, ...], change: Callable[[TriangleMesh], TriangleMesh]) -> Outcome:
    snapshot, count, off, volume = work.snapshot, 0, 0.0, 0.0
    meshes = mesh_bodies(work, parts)
    for number, (body, mesh) in enumerate(meshes):
        work.progress(number / len(meshes), body.name)
        made = change(mesh)
        count += len(made.triangles)
        volume += made.volume_and_centroid[0] - mesh.volume_and_centroid[0]
        off = max(off, float(distances(made.points, mesh).max()))
        snapshot = remesh_body(snapshot, work.geometry, body, made)
    facts = (
        Fact("triangles", "triangles", float(count), "count"),
        Fact("off", "corners off at most", off, "length"),
        Fact("volume_change", "volume", volume, "volume"),
    )
    return Outcome(snapshot, facts)
