"""A result for the page: the surface of the mesh with what is shown over it."""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping
from typing import Any

import numpy as np

from . import stress as stresses
from .answer import Answer
from .elements import Floats
from .loose import Loose
from .modes import Mode
from .of_model import Setup

MAGIC = b"RVS1"
QUARTERS = np.array([(0, 3, 5), (3, 1, 4), (5, 4, 2), (3, 4, 5)])


def answer_head(answer: Answer, units: float) -> dict[str, Any]:
    """Figures with their places (mm in the model); units: mm in one of the model's."""
    mesh, solution = answer.setup.problem.mesh, answer.solution
    most, hottest, least = int(np.argmax(solution.lengths)), answer.hottest, int(np.argmin(answer.margin))
    return {
        "study": answer.study.name, "kind": "static", "parts": answer.setup.names, "unknowns": mesh.unknowns,
        "elements": len(mesh.tets), "quality": float(mesh.quality.min()),
        "displacement": {"value": float(solution.lengths[most]) / units, "at": mesh.points[most].tolist()},
        "von_mises": {"value": float(solution.von_mises[hottest]), "at": mesh.points[hottest].tolist()},
        "margin": {"value": float(answer.margin[least]), "at": mesh.points[least].tolist()},
        "reactions": {name: force.tolist() for name, force in solution.reactions.items()},
        "balance": solution.balance, "error": solution.error,
        "rounds": [[r.unknowns, r.moved / units, r.stress, r.error] for r in answer.rounds],
        "warnings": [list(w) for w in answer.warnings],
    }  # fmt: skip


def packed_answer(answer: Answer, units: float) -> bytes:
    solution = answer.solution
    first = stresses.principal(solution.stress)
    fields = {
        "displacement": solution.lengths / units, "von_mises": solution.von_mises, "principal": first[:, 0],
        "pressed": first[:, 2], "margin": np.minimum(answer.margin, 100.0),
    }  # fmt: skip
    if solution.problem.ties:
        fields["contact"] = _contact_pressure(answer)
    return packed(answer.setup, answer_head(answer, units), solution.moved, fields)


def _contact_pressure(answer: Answer) -> Floats:
    """MPa at nodes of the sides that were integrated over, 0 elsewhere."""
    count = len(answer.setup.problem.mesh.points)
    total, share = np.zeros(count), np.zeros(count)
    for tie in answer.setup.problem.ties:
        push = np.einsum("qi,qi->q", tie.tractions(answer.solution.moved), tie.normals)
        rows = tie.gap.tocoo()
        weight = np.abs(rows.data) * tie.areas[rows.row]
        np.add.at(total, rows.col, weight * push[rows.row])
        np.add.at(share, rows.col, weight)
    return np.asarray(np.where(share > 0, -total / np.where(share > 0, share, 1.0), 0.0))


def packed_modes(setup: Setup, study: str, modes: list[Mode], which: int) -> bytes:
    mode = modes[which]
    head = {"study": study, "kind": "modes", "parts": setup.names, "unknowns": setup.problem.mesh.unknowns,
            "hertz": [m.hertz for m in modes], "which": which, "warnings": []}  # fmt: skip
    size = 0.06 * float(np.ptp(setup.problem.mesh.points, axis=0).max())
    return packed(setup, head, mode.shape * size, {"displacement": np.linalg.norm(mode.shape, axis=1)})


def packed_loose(setup: Setup, study: str, found: list[Loose], which: int) -> bytes:
    """A motion that nothing holds, as large as can be seen well; told: all of them in words."""
    motion = found[which]
    head = {"study": study, "kind": "loose", "parts": setup.names, "unknowns": setup.problem.mesh.unknowns,
            "told": [m.told(setup.names) for m in found], "which": which, "warnings": []}  # fmt: skip
    lengths = np.linalg.norm(motion.field, axis=1)
    most = float(lengths.max())
    size = 0.1 * float(np.ptp(setup.problem.mesh.points, axis=0).max())
    return packed(setup, head, motion.field / most * size, {"displacement": lengths / most})


def packed(setup: Setup, head: dict[str, Any], moved: Floats, fields: Mapping[str, Floats]) -> bytes:
    """RVS1, uint32 length of a JSON header padded to four; float32 points (n, 3) mm in the model; uint32 triangles
    (m, 3); float32 displacements (n, 3) mm; float32 (n,) of each field the header names; then what lies within, to be
    cut open: points, displacements and fields likewise of the elements' corners, and uint32 elements (t, 4)."""
    mesh = setup.problem.mesh
    quarters = mesh.triangles[:, QUARTERS].reshape(-1, 3)
    nodes, triangles = np.unique(quarters, return_inverse=True)
    corners, tets = np.unique(mesh.tets[:, :4], return_inverse=True)
    whole = {
        **head, "points": len(nodes), "triangles": len(quarters), "fields": list(fields),
        "corners": len(corners), "tets": len(mesh.tets),
        "ends": {k: [float(v[nodes].min()), float(v[nodes].max())] for k, v in fields.items()},
    }  # fmt: skip
    text = json.dumps(whole).encode()
    text += b" " * (-len(text) % 4)
    parts = [mesh.points[nodes].astype("<f4"), triangles.astype("<u4"), moved[nodes].astype("<f4"),
             *(v[nodes].astype("<f4") for v in fields.values()),
             mesh.points[corners].astype("<f4"), moved[corners].astype("<f4"),
             *(v[corners].astype("<f4") for v in fields.values()), tets.astype("<u4")]  # fmt: skip
    return MAGIC + struct.pack("<I", len(text)) + text + b"".join(p.tobytes() for p in parts)


def head_of(data: bytes) -> dict[str, Any]:
    """Of what was packed."""
    found: dict[str, Any] = json.loads(data[8 : 8 + struct.unpack("<I", data[4:8])[0]])
    return found
