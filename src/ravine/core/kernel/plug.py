"""A feature as a body of its own: its faces, closed by caps on the faces around it."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.TopAbs import TopAbs_FORWARD
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Wire

from .rebuild import tolerance_of
from .shapes import Shape, ShapeIndex, as_face
from .volumes import volume_properties


def plug(
    index: ShapeIndex, faces: Sequence[int], loops: Sequence[tuple[int, Sequence[tuple[int, bool]]]]
) -> tuple[Shape, bool]:
    """The solid that `faces` and caps enclose, and whether it is matter (a boss) rather than a void (a hole).

    loops: for each cap the face whose surface it lies on, and its edges with their sense in that face's inner loop
    """
    builder = BRep_Builder()
    shell = TopoDS_Shell()
    builder.MakeShell(shell)
    for number in faces:
        builder.Add(shell, index.get("face", number))
    for owner, edges in loops:
        around = as_face(index.get("face", owner))
        cap = TopoDS_Face()
        builder.MakeFace(cap, BRep_Tool.Surface_s(around), TopLoc_Location(), tolerance_of(around, "face"))
        wire = TopoDS_Wire()
        builder.MakeWire(wire)
        for edge, against in edges:
            sense = index.get("edge", edge).Oriented(TopAbs_FORWARD)
            builder.Add(wire, sense if against else sense.Reversed())
        wire.Closed(True)
        builder.Add(cap, wire)
        # the cap looks along with the face around it where the feature is a boss' foot turned down, and a hole's lid
        builder.Add(shell, cap.Oriented(around.Orientation()).Reversed())
    shell.Closed(True)
    solid = TopoDS_Solid()
    builder.MakeSolid(solid)
    builder.Add(solid, shell)
    matter = volume_properties(solid).amount > 0
    return (solid if matter else solid.Reversed()), matter
