"""What the edits that reshape bodies through the local face engine share: which faces of which body, the step from
one snapshot to the next, and how a failure reads."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np

from ..errors import EditError
from ..kernel.boolean import SpoiledInput, combine
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.history import Trace
from ..kernel.shapes import Shape
from ..local.engine import Reshaped, reshape
from ..local.failure import LocalFailure
from ..local.plan import Step
from ..local.surfaces import Floats, Motion
from ..model import placement
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..model.words import describe_faces
from .base import Work

FAILURES: tuple[type[Exception], ...] = (LocalFailure, EditError, *KERNEL_FAILURES)  # of one way to do an edit
SEARCH_SECONDS = 3.0  # for the largest value that works
SEARCH_SHARE = 1e-3  # of the asked value, to which it is found


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
    result = reshape(solid.fabric, asked, check=not work.preview, chamfers=chamfers)
    return with_reshaped(work, snapshot, body, result), result


def with_reshaped(work: Work, snapshot: Snapshot, body: Body, result: Reshaped) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    if not work.geometry.drafting:
        result.settle()
    address = work.geometry.put_solid(solid.with_faces_changed(result.fabric, result.faces, result.volume_change))
    return snapshot.with_body(replace(body, shape=address))


def combine_into(
    work: Work, body: Body, kind: str, tools: Sequence[Shape], *, merge: bool = True
) -> tuple[Solid, Shape, Trace]:
    """A body united with tools, or cut: the body as it was, the result and who became what.  With `merge`, faces that
    come to lie on one surface become one, unless the kernel cannot without harm.  Raises EditError when the kernel
    gives up."""
    solid = work.geometry.solid(body.shape)
    try:
        return (solid, *combine(kind, solid.shape, tools, merge=merge))
    except SpoiledInput:
        work.geometry.restore(body.shape)
    solid = work.geometry.solid(body.shape)
    return (solid, *combine(kind, solid.shape, tools, merge=False))


def refusal(
    work: Work, body: Body, doing: str, failure: LocalFailure, field: str, nearest: str | None = None
) -> EditError:
    """`doing` begins the sentence, the reason ends it; faces that stop the edit are named."""
    where = [text_id("face", body.faces[f]) for f in failure.faces if f < len(body.faces)]
    named = ""
    if where:
        named = f" ({describe_faces(work.snapshot, work.geometry, where[:3])})"
    return EditError(f"{doing}: {failure.reason}{named}", where, nearest, field)


def largest_that_works(asked: float, works: Callable[[float], bool]) -> float | None:
    """By halving between nothing and what was asked; None when not even a thousandth of it works, or when time is
    short."""
    end = time.monotonic() + SEARCH_SECONDS
    low, high = 0.0, asked
    while abs(high - low) > SEARCH_SHARE * abs(asked) and time.monotonic() < end:
        middle = (low + high) / 2
        if works(middle):
            low = middle
        else:
            high = middle
    return low if abs(low) > SEARCH_SHARE * abs(asked) else None


def vector(values: Sequence[float]) -> Floats:
    return np.array(values, float)


def triple(v: Floats) -> tuple[float, float, float]:
    x, y, z = v.tolist()
    return x, y, z
