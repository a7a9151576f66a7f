"""What the edits that reshape bodies through the local face engine share: which faces of which body, the step from
one snapshot to the next, and how a failure reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from .. import rigid as placement
from ..errors import CannotDo, EditError
from ..local.engine import Reshaped, reshape
from ..local.failure import LocalFailure
from ..local.plan import Step
from ..local.surfaces import Floats, Motion
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..model.words import describe_faces
from .ladder import reason_of
from .work import Work


def faces_by_body(snapshot: Snapshot, ids: Sequence[str]) -> dict[int, list[int]]:
    """Face numbers for each body they belong to.  Raises EditError for faces of a mesh."""
    found: dict[int, list[int]] = {}
    for ident in ids:
        number = split_id(ident)[1]
        body, _ = snapshot.owner_of("face", number)
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident])
        found.setdefault(body.id, []).append(number)
    return found


def indices(body: Body, faces: Sequence[int]) -> list[int]:
    return [body.faces.index(f) for f in faces]


def matrix_of(snapshot: Snapshot, body: Body) -> placement.Matrix:
    """Placement of the body where it is first shown."""
    found = snapshot.occurrences(body.id)
    return found[0].matrix if found else placement.IDENTITY


def into_body(snapshot: Snapshot, body: Body, motion: Motion) -> Motion:
    """A motion in model coordinates as one in the body's own."""
    rows = np.array(matrix_of(snapshot, body)).reshape(3, 4)
    turn, shift = rows[:, :3], rows[:, 3]
    return Motion(turn.T @ motion.turn @ turn, turn.T @ (motion.turn @ shift + motion.shift - shift))


def reshape_step(
    work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step], *, chamfers: bool = True
) -> tuple[Snapshot, Reshaped]:
    """The snapshot with faces (by id number) changed; all ids stay.  chamfers: whether they follow their walls.
    Raises LocalFailure and changes nothing."""
    solid = work.geometry.solid(body.shape)
    asked = {body.faces.index(f): step for f, step in steps.items()}
    result = reshape(solid.topology, asked, check=work.mode.checks, chamfers=chamfers)
    return with_reshaped(work, snapshot, body, result), result


def with_reshaped(work: Work, snapshot: Snapshot, body: Body, result: Reshaped) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    if work.mode.keeps:
        result.settle()
    address = work.geometry.put_solid(solid.with_faces_changed(result.topology, result.faces, result.volume_change))
    return snapshot.with_body(replace(body, shape=address))


def refusal(work: Work, body: Body, failure: Exception, field: str, nearest: str | None = None) -> CannotDo:
    """The reason, and the faces that stop it, named."""
    if isinstance(failure, EditError):
        return CannotDo(failure.reason, failure.where, failure.nearest or nearest, failure.field or field)
    stopping = failure.faces if isinstance(failure, LocalFailure) else ()
    where = [text_id("face", body.faces[f]) for f in stopping if f < len(body.faces)]
    named = ""
    if where:
        named = f" ({describe_faces(work.snapshot, work.geometry, where[:3])})"
    return CannotDo(f"{reason_of(failure)}{named}", where, nearest, field)


def vector(values: Sequence[float]) -> Floats:
    return np.array(values, float)


def triple(v: Floats) -> tuple[float, float, float]:
    x, y, z = v.tolist()
    return x, y, z
