"""One body with others united, subtracted or intersected, ids carried."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import CannotDo
from ..kernel.boolean import combine, single_solid
from ..kernel.check import fault
from ..kernel.history import Trace, carry_ids
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .ladder import merged_or_apart
from .work import Work


def combined(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    kind: str,
    tools: Sequence[Shape],
    faces: Sequence[str] = (),
    field: str | None = None,
    stand_ins: Sequence[tuple[str, int, Shape]] = (),
    merge: bool = True,
) -> Snapshot:
    """One body with tools united, subtracted or intersected, ids carried (stand_ins as in carry_ids).  merge: faces
    that come to lie on one surface.  Raises CannotDo when it falls apart or comes out
    unsound."""
    solid, result, trace = combine_into(work, body, kind, tools, merge=merge)
    pieces = len(parts_of(result, "solid"))
    if pieces != 1:
        why = f"the body would fall into {pieces} pieces" if pieces else "nothing of the body would be left"
        raise CannotDo(why, faces, field=field)
    index = ShapeIndex(single_solid(result))
    found = None if not work.mode.checks else fault(index, solid.index)
    if found:
        raise CannotDo(found, faces, field=field)
    ids = carry_ids([(solid.index, body.ids())], stand_ins, trace, index)
    return reshape_body(snapshot, work.geometry, body, Solid.mapped(index), ids)


def combine_into(
    work: Work, body: Body, kind: str, tools: Sequence[Shape], *, merge: bool = True
) -> tuple[Solid, Shape, Trace]:
    """A body united with tools, or cut: the body as it was, the result and who became what.  With `merge`, faces that
    come to lie on one surface become one, unless the kernel cannot without harm.  Raises EditError when the kernel
    gives up."""

    def worked(merge: bool) -> tuple[Solid, Shape, Trace]:
        solid = work.geometry.solid(body.shape)
        return (solid, *combine(kind, solid.shape, tools, merge=merge))

    return merged_or_apart(work, kind, [body.shape], worked) if merge else worked(False)
