"""An exact solid from the forms of a mesh."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..mending.from_forms import solid_from
from ..mending.mesh_regions import forms_of, regions_of
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Node, Snapshot
from ..model.trimesh_body import TriangleMesh
from ..units import format_length
from .mended_bodies import mesh_bodies
from .reshaping import matrix_of
from .work import Fact, Operation, Outcome, Work

NOTHING_FREE = 1e-9  # of the area


@dataclass(frozen=True, kw_only=True)
class MeshToSolid(Operation):
    """Recognises planes, cylinders, cones, balls and rings, crosses them where they meet, and makes the exact
    solid inside them."""

    parts: tuple[Reference, ...]
    deviation: float | None = None
    place: str = "instead"

    def do(self, work: Work) -> Outcome:
        snapshot, off, loosest, volume = work.snapshot, 0.0, 0.0, 0.0
        for body, mesh in mesh_bodies(work, self.parts):
            parted = self._parted(work, body, mesh)
            rough = max((f.off for f in parted.forms), default=0.0)
            found = solid_from(parted, max(3 * rough, 5e-6 * float(np.ptp(mesh.points, axis=0).max())), work.progress)
            if found.shape is None or found.trouble:
                where = "" if found.at is None else f", at {_place(found.at, snapshot.units)}"
                raise EditError(
                    f"no solid came of {body.name}: {found.trouble}{where}; another deviation may do, or sections and "
                    "a loft through them", self.parts, field="deviation")  # fmt: skip
            solid = Solid(found.shape)
            off = max(off, _off(parted))
            loosest = max(loosest, found.loosest)
            volume += solid.volume_mm3 - mesh.volume_and_centroid[0]
            snapshot = self._placed(work, snapshot, body, solid)
        facts = [
            Fact("off", "corners off at most", off, "length"),
            Fact("volume_change", "volume", volume, "volume"),
        ]
        if loosest > 1e-6:
            facts.append(Fact("loosest", "edges miss their faces by up to", loosest, "length", tone="warning"))
        return Outcome(snapshot, tuple(facts))

    def _parted(self, work: Work, body: Body, mesh: TriangleMesh) -> TriangleMesh:
        if not mesh.is_closed:
            raise EditError(f"{body.name} has open or crowded edges; mend it first", self.parts, field="parts")
        parted = mesh
        if not mesh.forms or self.deviation:
            work.progress(0.05, f"looking at {body.name}")
            regions = regions_of(mesh, forms_of(mesh, self.deviation, work.progress), self.deviation)
            parted = regions.divided(mesh)
        free = [n for n, form in enumerate(parted.forms) if form.surface is None]
        share = sum(parted.face_area(n) for n in free) / mesh.area
        if free and share > NOTHING_FREE:
            at = _place(parted.facet(free[0], 0).mean(axis=0), work.snapshot.units)
            raise EditError(
                f"{100 * share:.2g} % of {body.name} follows no plane, cylinder, cone, ball or ring, most of it "
                f"at {at}; a larger deviation may catch it, or cut it into sections and loft those", self.parts,
                field="deviation")  # fmt: skip
        return parted

    def _placed(self, work: Work, snapshot: Snapshot, body: Body, solid: Solid) -> Snapshot:
        ids = blank_ids(solid.shape)
        if self.place == "instead":
            return reshape_body(snapshot, work.geometry, replace(body, kind="solid"), solid, ids)
        (number, leaf), snapshot = snapshot.fresh(2)
        name = f"{body.name} as a solid"
        snapshot = reshape_body(
            snapshot, work.geometry, Body(number, name, "solid", "", (), material=body.material), solid, ids
        )
        snapshot = snapshot.with_node(Node(leaf, name, matrix_of(work.snapshot, body), (), number))
        return replace(snapshot, roots=(*snapshot.roots, leaf))


def _off(mesh: TriangleMesh) -> float:
    """How far a corner of the mesh lies off the form of its face at most."""
    worst = 0.0
    for number, form in enumerate(mesh.forms):
        points = mesh.points[np.unique(mesh.triangles[mesh.triangles_of_faces[number]])]
        if form.surface is not None:
            worst = max(worst, float(np.abs(form.surface.distance(points)[0]).max()))
    return worst


def _place(at: np.ndarray, units: str) -> str:
    return " · ".join(format_length(float(v), units, decimals=1).removesuffix(f" {units}") for v in at)
