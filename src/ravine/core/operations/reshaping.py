"""What the edits that reshape bodies through the local face engine share: which faces of which body, the step from
one snapshot to the next, and how a failure reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from ..errors import CannotDo, EditError
from ..local.engine import Reshaped, reshape
from ..local.failure import LocalFailure
from ..local.plan import Step
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..model.words import describe_faces
from ..rigid import IDENTITY, Rigid
from .ladder import reason_of
from .work import Work


def faces_by_body(snapshot: Snapshot, ids: Sequence[Reference]) -> dict[int, list[int]]:
    """Face numbers for each body they belong to.  Raises EditError for faces of a mesh."""
    found: dict[int, list[int]] = {}
    for ident in ids:
        number = ident.number
        body, _ = ident.owner
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident])
        found.setdefault(body.id, []).append(number)
    return found


def indices(body: Body, faces: Sequence[int]) -> list[int]:
    return [body.faces.index(f) for f in faces]


def matrix_of(snapshot: Snapshot, body: Body) -> Rigid:
    """Placement of the body where it is first shown."""
    found = snapshot.occurrences(body.id)
    return found[0].matrix if found else IDENTITY


def place_of(faces: Sequence[Reference], body: Body) -> Rigid:
    """The placement in which the first of these references on the body was picked."""
    return next(f.matrix for f in faces if f.body is not None and f.body.id == body.id)


def into_body(here: Rigid, motion: Rigid) -> Rigid:
    """A motion in model coordinates as one in the coordinates of a body that stands `here`."""
    return here.inverse @ motion @ here


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
