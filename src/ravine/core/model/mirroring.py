"""Parts that stay the mirror of another one: made anew whenever that one changes."""

from __future__ import annotations

from dataclasses import replace

from ..kernel.transform import mirrored
from .derive import reshape_body
from .geometry import GeometryStore, Solid
from .snapshot import Body, Snapshot


def follow_mirrors(geometry: GeometryStore, before: Snapshot, after: Snapshot) -> Snapshot:
    """Faces, edges and corners that the original kept are kept in the mirrored part as well.  A part whose original
    is gone goes its own way from then on."""
    for number in sorted(after.bodies):
        body = after.bodies[number]
        if body.mirror is None:
            continue
        origin = after.bodies.get(body.mirror.of)
        if origin is None:
            after = after.with_body(replace(body, mirror=None, locked=False))
        elif number not in before.bodies or before.bodies[origin.id].shape == origin.shape:
            continue
        else:
            after = _followed(geometry, before.bodies[origin.id], after, body, origin)
    return after


def _followed(geometry: GeometryStore, was: Body, after: Snapshot, body: Body, origin: Body) -> Snapshot:
    assert body.mirror
    shape = mirrored(geometry.solid(origin.shape).shape, body.mirror.point, body.mirror.normal)
    ids = {}
    for kind, row in origin.ids().items():
        fellow = dict(zip(was.ids()[kind], body.ids()[kind], strict=True))
        ids[kind] = [fellow.get(i) for i in row]
    return reshape_body(after, geometry, body, Solid(shape), ids)
