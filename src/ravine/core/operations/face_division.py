"""What the edits that divide faces share: the solid stays as it is, its faces become more."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import CannotDo
from ..kernel.boolean import single_solid
from ..kernel.cells import split
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape
from ..model.derive import reshape_body
from ..model.snapshot import Body, Snapshot
from .work import Work


def with_split_faces(
    work: Work, snapshot: Snapshot, body: Body, tools: Sequence[Shape], field: str
) -> tuple[Snapshot, int]:
    """Divided wherever tools (faces, or edges that lie on it; coordinates of the body) cross its faces, and how many
    faces it has more.  Raises EditError when the result is unsound."""
    solid = work.geometry.solid(body.shape)
    result, trace = split(solid.shape, tools)
    whole = solid.turned_into(single_solid(result))
    more = whole.index.count("face") - solid.index.count("face")
    if more < 1:
        return snapshot, 0
    found = None if not work.mode.checks else fault(whole.shape)
    if found:
        raise CannotDo(f"{found}", field=field)
    ids = carry_ids([(solid.index, body.ids())], [], trace, whole.index)
    return reshape_body(snapshot, work.geometry, body, whole, ids), more
