"""The scene of a state: which body stands where, with ids in the order of its shape's faces, edges, corners."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..model.sketch_regions import freedom_of_sketch, regions_of_sketch
from ..model.snapshot import Body, Snapshot, area_id, text_id
from ..sketch.constraints import FORMS
from ..sketch.entities import Constraint, Sketch
from ..sketch.plane_curves import drawn_lines


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
        "sketches": [sketch_entry(sketch) for sketch in snapshot.sketches.values()],
    }


def sketch_entry(sketch: Sketch) -> dict[str, Any]:
    """Places are flat, mm in the plane of the sketch; an area's first line is its outline, the others are holes."""
    curves = []
    free = freedom_of_sketch(sketch)
    for curve in sketch.curves.values():
        lines = [_flat_list(row) for row in drawn_lines(sketch, curve)]
        curves.append(
            {"id": text_id("curve", curve.id), "kind": curve.kind, "helper": curve.construction, "lines": lines,
             "held": free is not None and not free.of[curve.id],
             "points": [text_id("point", p) for p in curve.points]}
        )  # fmt: skip
    return {
        "id": text_id("sketch", sketch.id),
        "name": sketch.name,
        "plane": [sketch.plane.origin, sketch.plane.x, sketch.plane.y],
        "picture": None if sketch.picture is None else {**asdict(sketch.picture), "tall": sketch.picture.tall},
        "degrees": None if free is None else free.degrees,
        "points": {text_id("point", n): at for n, at in sketch.points.items()},
        "curves": curves,
        "areas": [
            {"id": area_id(sketch.id, a.inside), "lines": [_flat_list(row) for row in a.lines]}
            for a in regions_of_sketch(sketch)
        ],
        "sizes": [_size_entry(sketch, rule) for rule in sketch.constraints.values() if FORMS[rule.kind].unit],
    }


def _flat_list(places: Any) -> list[float]:
    return [round(float(v), 6) for v in places.reshape(-1)]


def _size_entry(sketch: Sketch, rule: Constraint) -> dict[str, Any]:
    """A dimension: its value (mm or rad) and the places it is between."""
    at = [sketch.points[n] if n in sketch.points else _middle(sketch, n) for n in rule.on]
    return {"id": text_id("rule", rule.id), "kind": rule.kind, "value": rule.value, "name": rule.name,
            "text": rule.text, "at": at,
            "on": [text_id("point" if n in sketch.points else "curve", n) for n in rule.on]}  # fmt: skip


def _middle(sketch: Sketch, number: int) -> tuple[float, float]:
    curve = sketch.curve(number)
    if curve.kind in ("circle", "arc", "ellipse"):
        return sketch.points[curve.points[0]]
    places = sketch.places(curve)
    return (sum(p[0] for p in places) / len(places), sum(p[1] for p in places) / len(places))
