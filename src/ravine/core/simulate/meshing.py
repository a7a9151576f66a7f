"""Solids filled with tetrahedra by a process of its own, which is ended with the work that waits for it."""

from __future__ import annotations

import json
import logging
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from ..errors import CannotDo
from .assemble import Progress, still
from .mesh import Mesh

log = logging.getLogger("ravine.simulate")

POLL = 0.05  # s
LONGEST = 240.0  # s, for all parts


@dataclass(frozen=True)
class MeshPart:
    """brep: text in the coordinates of the model, mm; faces: how many it has; size: mm, of elements at most; finer:
    sizes of faces by their number."""

    name: str
    brep: bytes
    faces: int
    size: float
    finer: Mapping[int, float] = field(default_factory=dict)


def mesh_parts(parts: Sequence[MeshPart], progress: Progress = still) -> Mesh:
    """One mesh; bodies do not share nodes.  Faces are counted on from part to part.  Raises CannotDo."""
    with tempfile.TemporaryDirectory(prefix="ravine-mesh-") as name:
        folder = Path(name)
        rows = []
        for k, part in enumerate(parts):
            (folder / f"{k}.brep").write_bytes(part.brep)
            finer = {str(f): h for f, h in part.finer.items()}
            rows.append({"brep": f"{k}.brep", "mesh": f"{k}.npz", "size": part.size, "faces": finer})
        (folder / "job.json").write_text(json.dumps({"parts": rows}))
        _run(folder, parts, progress)
        return _joined(folder, parts)


def _run(folder: Path, parts: Sequence[MeshPart], progress: Progress) -> None:
    environment = {**os.environ, "OMP_NUM_THREADS": "1", "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
    errors = folder / "errors"
    with errors.open("w") as told:
        child = subprocess.Popen(
            [sys.executable, "-m", "ravine.mesher", str(folder)],
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=told,
        )
        end = time.monotonic() + LONGEST
        try:
            while child.poll() is None:
                done = sum((folder / f"{k}.npz").exists() for k in range(len(parts)))
                progress(done / len(parts), f"meshing {parts[min(done, len(parts) - 1)].name}")
                if time.monotonic() > end:
                    raise CannotDo(
                        f"the mesh took longer than {LONGEST:g} s; take larger elements, or simplify the part"
                    )
                time.sleep(POLL)
        finally:
            if child.poll() is None:
                child.kill()
                child.wait()
    if child.returncode:
        failed = next((p.name for k, p in enumerate(parts) if not (folder / f"{k}.npz").exists()), parts[0].name)
        log.warning("the mesher ended with %d on %s:\n%s", child.returncode, failed, errors.read_text()[-4000:])
        raise CannotDo(
            f"{failed} could not be filled with elements; set another size of elements, or mend the part"
            if child.returncode > 0
            else f"the mesher broke off while it filled {failed}, perhaps for want of memory; set larger elements, or"
            " simplify the part"
        )


def _joined(folder: Path, parts: Sequence[MeshPart]) -> Mesh:
    points, tets, bodies, triangles, faces = [], [], [], [], []
    nodes = first = 0
    for k, part in enumerate(parts):
        with np.load(folder / f"{k}.npz") as found:
            points.append(found["points"])
            tets.append(found["tets"] + nodes)
            bodies.append(np.full(len(found["tets"]), k))
            triangles.append(found["triangles"] + nodes)
            faces.append(found["faces"] + first)
        nodes += len(points[-1])
        first += part.faces
    mesh = Mesh(np.vstack(points), np.vstack(tets), np.concatenate(bodies), np.vstack(triangles), np.concatenate(faces))
    if mesh.turned:
        raise CannotDo(f"{mesh.turned} elements of the mesh are turned inside out; take smaller elements")
    return mesh
