"""Meshes with fewer triangles, or smoother."""

from __future__ import annotations

from collections.abc import Callable

from ..errors import EditError
from ..mending.mesh_shape import distances, fewer, smoother
from ..model.derive import remesh_body
from ..model.snapshot import Body
from ..model.trimesh_body import TriangleMesh
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import CountGap, PickGap, ShareGap
from .mend import bodies_of

PARTS = PickGap("the meshes", "Parts that are meshes.", element="node")


@edit
class Decimate(Edit):
    name = "decimate"
    title = "Fewer triangles"
    sentence = "Keep {share} of the triangles of {parts}"
    past = "Kept {share} of the triangles of {parts}"
    help = (
        "Merges triangles where that changes the form least.  The line tells how many are left and how far the new "
        "corners lie off the old mesh at most."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 62
    drawing = "facets"

    parts: tuple[str, ...] = gap(PARTS)
    share: float = gap(ShareGap("the share", "Of the triangles that stay.", default=0.5))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        def change(mesh: TriangleMesh) -> TriangleMesh:
            made = fewer(mesh, max(4, round(self.share * len(mesh.triangles))))
            if len(made.triangles) >= len(mesh.triangles):
                raise EditError("none of its triangles can go without spoiling the form", self.parts, field="share")
            return made

        return _changed(work, self.parts, change)


@edit
class Smooth(Edit):
    name = "smooth"
    title = "Smooth"
    sentence = "Smooth {parts} with {rounds} rounds"
    past = "Smoothed {parts} with {rounds} rounds"
    help = "Evens out noise without shrinking the body; open borders stay where they are."
    offered_for = "node"
    stages = ("Mend",)
    rank = 63
    drawing = "simplify"

    parts: tuple[str, ...] = gap(PARTS)
    rounds: int = gap(CountGap("the rounds", "More even out more.", default=10))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return _changed(work, self.parts, lambda mesh: smoother(mesh, self.rounds))


def _changed(work: Work, parts: tuple[str, ...], change: Callable[[TriangleMesh], TriangleMesh]) -> Outcome:
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


def mesh_bodies(work: Work, parts: tuple[str, ...]) -> list[tuple[Body, TriangleMesh]]:
    """Raises EditError for parts that are no meshes, or locked."""
    found = []
    for body in bodies_of(work, parts):
        geometry = work.geometry.get(body.shape)
        if not isinstance(geometry, TriangleMesh):
            raise EditError(f"{body.name} has exact faces; this edit is for meshes of triangles", parts, field="parts")
        found.append((body, geometry))
    return found
