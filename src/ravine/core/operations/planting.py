"""What the edits on whole features share: how far a pick reaches, moving, removing and planting a feature."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import CannotDo
from ..kernel.shapes import placed
from ..local.features import Lifted, feature_of
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid
from .booleans import combined
from .work import Work


def reach(solid: Solid, faces: Sequence[int], extent: str) -> set[int]:
    """The picked faces, or the features they belong to, where they do."""
    if extent == "picked":
        return set(faces)
    found: set[int] = set()
    for face in faces:
        if face not in found:
            found |= feature_of(solid.topology, [face]) or {face}
    return found


def plant(work: Work, snapshot: Snapshot, body: Body, parts: Sequence[Lifted], motions: Sequence[Rigid]) -> Snapshot:
    """Copies of a lifted feature, its parts in turn, at other places of the same body.  Raises EditError when one of
    them does not meet the body."""
    for part in parts:
        body = snapshot.body(body.id)
        before = work.geometry.solid(body.shape).volume_mm3
        copies = [placed(part.shape, m) for m in motions]
        snapshot = combined(work, snapshot, body, "unite" if part.matter else "subtract", copies)
        change = abs(work.geometry.solid(snapshot.body(body.id).shape).volume_mm3 - before)
        if change < 1e-9 * before:
            what = "stands inside the body" if part.matter else "lies outside the body"
            raise CannotDo(f"the copy {what}, so nothing would change")
    return snapshot
