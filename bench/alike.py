"""Everything like one face, on 5 000 faces: reading them, asking once they are read, and after an edit of one."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np
import trimesh
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakePolygon,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_Sewing,
)
from OCP.gp import gp_Pnt
from OCP.TopoDS import TopoDS

from ravine.core import Model
from ravine.core.kernel.shapes import Shape
from ravine.core.model.alike import alike
from ravine.core.model.derive import blank_ids, numbered
from ravine.core.model.geometry import Solid
from ravine.core.model.snapshot import Body, Node


def ball_of_facets() -> Shape:
    """A solid of 5 120 plane faces."""
    ball = trimesh.creation.icosphere(subdivisions=4, radius=100)
    sewing = BRepBuilderAPI_Sewing(1e-6)
    for corners in np.asarray(ball.triangles):
        outline = BRepBuilderAPI_MakePolygon(*(gp_Pnt(*map(float, p)) for p in corners), True)
        sewing.Add(BRepBuilderAPI_MakeFace(outline.Wire()).Face())
    sewing.Perform()
    return BRepBuilderAPI_MakeSolid(TopoDS.Shell(sewing.SewedShape())).Solid()


def model_of(shape: Shape) -> Model:
    """Without a file between, which the kernel takes minutes to read."""
    model = Model()
    (number, place), snapshot = model.snapshot.fresh(2)
    ids, snapshot = numbered(snapshot, blank_ids(shape))
    address = model.geometry.put_solid(Solid(shape))
    body = Body(number, "Ball", "solid", address, ids["face"], ids["edge"], ids["vertex"])
    snapshot = replace(snapshot.with_body(body).with_node(Node(place, "Ball", body=number)), roots=(place,))
    return Model(snapshot=snapshot, geometry=model.geometry)


def measure_alike() -> None:
    shape = ball_of_facets()
    model = model_of(shape)
    (body,) = model.bodies()
    faces = model.body(body).faces
    start = time.perf_counter()
    count = len(model.geometry.solid(model.body(body).shape).faces.kind)
    print(f"reading {count} faces: {1000 * (time.perf_counter() - start):.0f} ms")
    alike(model.snapshot, model.geometry, f"f{faces[1]}")
    for what in ("once read", "after a face was pushed"):
        times = []
        for face in (faces[0], faces[7], faces[-1], faces[len(faces) // 2]):
            start = time.perf_counter()
            found = alike(model.snapshot, model.geometry, f"f{face}")
            times.append(1000 * (time.perf_counter() - start))
        print(f"alike, {what}: {min(times):.0f} to {max(times):.0f} ms (budget 100), {len(found)} criteria")
        model.do("push", faces=[f"f{faces[3]}"], distance=0.001)
