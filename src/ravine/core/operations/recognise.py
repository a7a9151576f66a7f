"""The forms of a mesh: as faces of it to pick, or as exact surfaces beside it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel.shapes import Shape
from ..kernel.soup import face_over
from ..mending.forms import Recognised
from ..mending.mesh_regions import forms_of, regions_of
from ..model.derive import blank_ids, remesh_body, reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Node
from ..model.trimesh_body import TriangleMesh
from ..rigid import IDENTITY
from ..units import format_length
from .mended_bodies import mesh_bodies
from .reshaping import matrix_of
from .work import Fact, Operation, Outcome, Work

KINDS = {"plane": "planes", "cylinder": "cylinders", "cone": "cones", "sphere": "balls", "torus": "rings"}
NEARLY_ROUND = 5.2  # rad: what goes so far around is taken to go all around


@dataclass(frozen=True, kw_only=True)
class Recognise(Operation):
    """Finds planes, cylinders, cones, balls and rings in a mesh."""

    parts: tuple[Reference, ...]
    deviation: float | None = None
    what: str = "faces"

    def do(self, work: Work) -> Outcome:
        snapshot, counts, worst, free = work.snapshot, dict.fromkeys(KINDS, 0), 0.0, 0.0
        for body, mesh in mesh_bodies(work, self.parts):
            work.progress(0.1, f"looking at {body.name}")
            found = forms_of(mesh, self.deviation, work.progress)
            if self.what == "faces":
                if not found:
                    continue
                parted = regions_of(mesh, found, self.deviation)
                free = max(free, parted.free)
                for form in parted.forms:
                    if form.surface is not None:
                        counts[form.surface.kind] += 1
                        worst = max(worst, form.off)
                snapshot = remesh_body(snapshot, work.geometry, body, parted.divided(mesh))
                continue
            (group,), snapshot = snapshot.fresh(1)
            leaves: list[int] = []
            for item in found:
                shape = _laid(mesh, item)
                if shape is None:
                    continue
                counts[item.surface.kind] += 1
                worst = max(worst, item.off)
                name = _name(item, counts[item.surface.kind], snapshot.units)
                (number, leaf), snapshot = snapshot.fresh(2)
                fresh = Body(number, name, "surface", "", (), finish="#c9a45c")
                snapshot = reshape_body(snapshot, work.geometry, fresh, Solid(shape), blank_ids(shape))
                told = {"corners off": format_length(item.off, snapshot.units)}
                snapshot = snapshot.with_node(Node(leaf, name, IDENTITY, (), number, told))
                leaves.append(leaf)
            if leaves:
                matrix = matrix_of(work.snapshot, body)
                snapshot = snapshot.with_node(Node(group, f"Forms of {body.name}", matrix, tuple(leaves)))
                snapshot = replace(snapshot, roots=(*snapshot.roots, group))
        if not any(counts.values()):
            raise EditError("no plane, cylinder, cone, ball or ring was recognised; a larger deviation may find some",
                            self.parts, field="deviation")  # fmt: skip
        facts = [Fact(kind, KINDS[kind], float(n), "count") for kind, n in counts.items() if n]
        if self.what == "faces":
            facts.append(Fact("free", "follows none", f"{100 * free:.1f} % of the surface"))
        return Outcome(snapshot, (*facts, Fact("off", "corners off on average at most", worst, "length")))


def _name(item: Recognised, number: int, units: str) -> str:
    surface = item.surface
    size = ""
    if surface.kind in ("cylinder", "sphere"):
        size = f" Ø{format_length(2 * surface.numbers[0], units)}"
    elif surface.kind == "cone":
        size = f" {np.degrees(abs(surface.numbers[1])):.2f}°"
    return f"{ {'sphere': 'Ball', 'torus': 'Ring'}.get(surface.kind, surface.kind.capitalize()) } {number}{size}"


def _laid(mesh: TriangleMesh, item: Recognised) -> Shape | None:
    """The surface as far as its triangles reach."""
    surface = item.surface
    uv = surface.parameters(mesh.points[np.unique(mesh.triangles[item.triangles])])
    low, high = uv.min(axis=0), uv.max(axis=0)
    if surface.kind != "plane":
        turn = np.sort(np.mod(uv[:, 0], 2 * np.pi))
        fields = np.diff(np.append(turn, turn[0] + 2 * np.pi))
        at = int(np.argmax(fields))
        around = 2 * np.pi - float(fields[at])
        low[0] = 0.0 if around > NEARLY_ROUND else float(turn[(at + 1) % len(turn)])
        high[0] = low[0] + (2 * np.pi if around > NEARLY_ROUND else around)
    return face_over(surface.kernel, (low[0], high[0], low[1], high[1]))
