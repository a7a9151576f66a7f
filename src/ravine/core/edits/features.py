"""What the edits on whole features share: how far a pick reaches, moving, removing and planting a feature."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError
from ..kernel.boolean import single_solid
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape, ShapeIndex, parts_of, placed
from ..local.features import Lifted, feature_of
from ..local.surfaces import Motion
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .base import Work
from .gaps import ChoiceGap
from .shaping import combine_into

EXTENT = ChoiceGap(
    "the extent",
    "Whether the rest of the feature goes along: the walls of a pocket with its floor, all of a stepped hole.",
    default="feature",
    options={"feature": "with the rest of the feature", "picked": "alone"},
)


def reach(solid: Solid, faces: Sequence[int], extent: str) -> set[int]:
    """The picked faces, or the features they belong to, where they do."""
    if extent == "picked":
        return set(faces)
    found: set[int] = set()
    for face in faces:
        if face not in found:
            found |= feature_of(solid.fabric, [face]) or {face}
    return found


def plant(
    work: Work, snapshot: Snapshot, body: Body, parts: Sequence[Lifted], motions: Sequence[Motion], doing: str
) -> Snapshot:
    """Copies of a lifted feature, its parts in turn, at other places of the same body.  Raises EditError when one of
    them does not meet the body."""
    for part in parts:
        body = snapshot.body(body.id)
        before = work.geometry.solid(body.shape).volume_mm3
        copies = [placed(part.shape, [float(v) for v in m.matrix.reshape(-1)]) for m in motions]
        snapshot = combined(work, snapshot, body, "unite" if part.matter else "subtract", copies, doing)
        change = abs(work.geometry.solid(snapshot.body(body.id).shape).volume_mm3 - before)
        if change < 1e-9 * before:
            what = "stands inside the body" if part.matter else "lies outside the body"
            raise EditError(f"{doing}: the copy {what}, so nothing would change")
    return snapshot


def combined(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    kind: str,
    tools: Sequence[Shape],
    doing: str,
    faces: Sequence[str] = (),
    field: str | None = None,
    stand_ins: Sequence[tuple[str, int, Shape]] = (),
    merge: bool = True,
) -> Snapshot:
    """One body with tools united, subtracted or intersected, ids carried (stand_ins as in carry_ids).  merge: faces
    that come to lie on one surface.  Raises EditError, which `doing` begins, when it falls apart or comes out
    unsound."""
    solid, result, trace = combine_into(work, body, kind, tools, merge=merge)
    pieces = len(parts_of(result, "solid"))
    if pieces != 1:
        why = f"the body would fall into {pieces} pieces" if pieces else "nothing of the body would be left"
        raise EditError(f"{doing}: {why}", faces, field=field)
    result = single_solid(result)
    found = None if work.preview else fault(result, solid.index)
    if found:
        raise EditError(f"{doing}: {found}", faces, field=field)
    ids = carry_ids([(solid.index, body.ids())], stand_ins, trace, ShapeIndex(result))
    return reshape_body(snapshot, work.geometry, body, Solid(result), ids)
