"""The scene of a state: which body stands where, with ids in the order of its shape's faces, edges, corners."""

from __future__ import annotations

from typing import Any

from ..model.snapshot import Body, Snapshot, text_id


def body_entry(body: Body) -> dict[str, Any]:
    return {
        "id": text_id("body", body.id),
        "name": body.name,
        "kind": body.kind,
        "shape": body.shape,
        "faces": body.faces,
        "edges": body.edges,
        "vertices": body.vertices,
        "finish": body.finish,
        "faceFinishes": {str(face): colour for face, colour in body.face_finishes.items()},
        "locked": body.locked,
    }


def scene(snapshot: Snapshot) -> dict[str, Any]:
    """matrix: 3x4 row by row, mm, from the body's coordinates to the model's."""
    return {
        "units": snapshot.units,
        "nodes": [
            {
                "id": text_id("node", found.node.id),
                "name": found.node.name,
                "body": text_id("body", found.body.id),
                "matrix": found.matrix,
                "path": [text_id("node", p) for p in found.path],
            }
            for found in snapshot.occurrences()
        ],
        "bodies": [body_entry(body) for body in snapshot.bodies.values()],
    }
