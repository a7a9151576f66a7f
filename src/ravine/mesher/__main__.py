"""`python -m ravine.mesher FOLDER`: reads job.json and its B-reps there, writes a mesh of each.

job.json: {"parts": [{"brep": name, "mesh": name, "size": mm, "faces": {number: mm}}]}, faces numbered in map order
from 0.  A mesh (npz): points (n, 3), tets (e, 10), triangles (s, 6), faces (s,), and straightened, the count of middle
nodes that were moved towards their chords.
"""

from __future__ import annotations

import ctypes
import json
import signal
import sys
from pathlib import Path
from typing import Any

import numpy as np

_PR_SET_PDEATHSIG = 1
# curvature safety, segments per edge, grading, share of the size: the next one is tried where one fails
LADDER = ((1.2, 0.7, 0.4, 1.0), (2.0, 1.0, 0.3, 1.0), (3.0, 1.5, 0.2, 0.5))
RIGHT_HANDED = [1, 0, 2, 3, 4, 7, 8, 5, 6, 9]
MIDDLES = [0, 1, 2, 5, 3, 4]
EDGES = np.array([(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)])
TURNED = 0.1  # share of the largest Jacobian below which an element counts as turned
ROUNDS = 8


def main(folder: Path) -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    job = json.loads((folder / "job.json").read_text())
    for part in job["parts"]:
        np.savez(folder / part["mesh"], **_meshed(folder / part["brep"], part["size"], part["faces"]))
        print(part["mesh"], flush=True)


def _meshed(path: Path, size: float, faces: dict[str, float]) -> dict[str, Any]:
    import netgen.meshing as meshing
    import netgen.occ as occ

    meshing.SetMessageImportance(0)
    failures = []
    for safety, segments, grading, share in LADDER:
        geometry = occ.OCCGeometry(str(path))
        for number, own in faces.items():
            geometry.SetFaceMeshsize(int(number), own * share)
        try:
            mesh = geometry.GenerateMesh(
                maxh=size * share, curvaturesafety=safety, segmentsperedge=segments, grading=grading
            )
            mesh.SecondOrder()
        except Exception as error:  # noqa: BLE001 - its own exceptions share no base
            failures.append(str(error))
            continue
        volume = mesh.Elements3D().NumPy()
        if not len(volume):
            failures.append("no tetrahedra")
            continue
        points = np.array(mesh.Coordinates())
        tets = volume["nodes"][:, :10].astype(np.int64)[:, RIGHT_HANDED] - 1
        surface = mesh.Elements2D().NumPy()
        points, moved = _straightened(points, tets)
        return {"points": points, "tets": tets, "triangles": surface["nodes"][:, :6].astype(np.int64)[:, MIDDLES] - 1,
                "faces": surface["index"].astype(np.int64) - 1, "straightened": np.array(moved)}  # fmt: skip
    raise SystemExit(f"no mesh: {'; '.join(failures)}")


def _slopes(at: np.ndarray) -> np.ndarray:
    bary = np.column_stack([1 - at.sum(axis=1), at])
    steps = np.array([[-1, -1, -1], [1, 0, 0], [0, 1, 0], [0, 0, 1.0]])
    found = np.zeros((len(at), 10, 3))
    for i in range(4):
        found[:, i] = (4 * bary[:, i] - 1)[:, None] * steps[i]
    for k, (a, b) in enumerate(EDGES):
        found[:, 4 + k] = 4 * (bary[:, a][:, None] * steps[b] + bary[:, b][:, None] * steps[a])
    return found


_CORNERS = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1.0]])
_NODES = np.vstack([_CORNERS, (_CORNERS[EDGES[:, 0]] + _CORNERS[EDGES[:, 1]]) / 2])


def _straightened(points: np.ndarray, tets: np.ndarray) -> tuple[np.ndarray, int]:
    """Middle nodes of elements that are turned inside out go half way back to their chord, as often as it takes."""
    points, moved = points.copy(), set()
    slopes = _slopes(_NODES)
    first = np.zeros(len(points), int)
    flat = tets[:, 4:].ravel()
    first[flat] = np.arange(len(flat))
    a, b = tets[:, EDGES[:, 0]].ravel(), tets[:, EDGES[:, 1]].ravel()
    for turn in range(ROUNDS):
        sizes = np.linalg.det(np.einsum("eai,qaj->eqij", points[tets], slopes, optimize=True))
        bad = np.flatnonzero(sizes.min(axis=1) < TURNED * sizes.max(axis=1))
        if not len(bad):
            break
        ids = np.unique(tets[bad, 4:])
        chords = (points[a[first[ids]]] + points[b[first[ids]]]) / 2
        off = points[ids] - chords
        points[ids] = chords + (0.5 if turn < 5 else 0.0) * off
        moved |= set(ids[np.linalg.norm(off, axis=1) > 1e-12].tolist())
    return points, len(moved)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
