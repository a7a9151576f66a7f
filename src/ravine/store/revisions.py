"""Saving states and stepping between them.  Every move says which revision it starts from; when somebody else was
faster, it is refused and told, never overwritten."""

from __future__ import annotations

import json
import random
import time
from collections.abc import Mapping
from typing import Any

from peewee import IntegrityError, OperationalError

from ravine.core import RavineError

from . import blobs
from .tables import Account, Design, Revision, database, now

# MariaDB's numbers for a transaction that was undone because another one stood in its way.
CROSSED = {1020, 1205, 1213}
TRIES = 4

SENTENCE = 2000  # letters of one that are kept


class Conflict(RavineError):
    """The model has moved on since the edit began."""


def _conflict(design: Design) -> Conflict:
    latest = Revision.get_or_none(Revision.id == Design.get_by_id(design.id).head)
    told = f"“{latest.sentence}”" if latest else "another change"
    return Conflict(
        f"{design.name} was changed meanwhile ({told}), so this edit was not saved. The newest state is shown; do the "
        f"edit again there"
    )


def save(
    owner: Account | int,
    design: Design,
    base: int,
    *,
    state: str,
    new_blobs: Mapping[str, bytes],
    edit: str,
    values: Mapping[str, Any],
    sentence: str,
    facts: list,
    warnings: list,
    token: str | None = None,
) -> Revision:
    """A new revision on top of `base` (a Revision id; 0 for the first); for a token that was saved before, the revision
    of then.  All or nothing.  Raises Conflict."""
    row = {
        "owner": owner, "state": state, "edit": edit, "values": json.dumps(values), "sentence": sentence[:SENTENCE],
        "facts": json.dumps(facts), "warnings": json.dumps(warnings), "token": token,
    }  # fmt: skip
    for left in range(TRIES - 1, -1, -1):
        try:
            return _saved(owner, design, base, new_blobs, row)
        except IntegrityError as error:
            raise _conflict(design) from error
        except OperationalError as error:  # to wait for one another is no conflict: it is done again
            if not left or not error.args or error.args[0] not in CROSSED:
                raise
            time.sleep(0.05 * random.random())
    raise AssertionError("unreachable")


def of_token(design: Design, token: str | None) -> Revision | None:
    """The revision that an edit named so was saved as."""
    return Revision.get_or_none((Revision.design == design) & (Revision.token == token)) if token else None


def _saved(
    owner: Account | int, design: Design, base: int, new_blobs: Mapping[str, bytes], row: Mapping[str, Any]
) -> Revision:
    with database.atomic():
        # The model's row is locked first, so that writers of one model queue up here instead of deadlocking.
        held = Design.select().where(Design.id == design.id).for_update().get()
        known = of_token(design, row["token"])
        if known is not None:
            return known
        if held.head != base:
            raise _conflict(design)
        blobs.put(owner, new_blobs)
        last = Revision.select(Revision.number).where(Revision.design == design).order_by(Revision.number.desc())
        number = (last.first().number if last.exists() else 0) + 1
        revision = Revision.create(design=design, number=number, parent=base, **row)
        _move_head(design, base, head=revision.id, tip=revision.id)
    return revision


def _move_head(design: Design, base: int, **target: int) -> None:
    moved = (
        Design.update(updated=now(), **target)
        .where((Design.id == design.id) & (Design.head == base) & Design.deleted.is_null())
        .execute()
    )
    if moved != 1:
        raise _conflict(design)


def head(design: Design) -> Revision | None:
    return Revision.get_or_none(Revision.id == design.head)


def path_to_tip(design: Design) -> list[Revision]:
    """Revisions from the first to the tip, along the line the head stands on."""
    every = {row.id: row for row in Revision.select().where(Revision.design == design)}
    path, at = [], every.get(design.tip)
    while at is not None:
        path.append(at)
        at = every.get(at.parent)
    return path[::-1]


def step(design: Design, base: int, direction: int) -> Revision:
    """Move the head back (−1) or forward (+1).  Raises Conflict, or RavineError at either end."""
    path = path_to_tip(design)
    places = [i for i, row in enumerate(path) if row.id == base]
    if not places or design.head != base:
        raise _conflict(design)
    target = places[0] + direction
    if not 0 <= target < len(path):
        raise RavineError("there is no edit to step back over" if direction < 0 else "there is no edit to step to")
    _move_head(design, base, head=path[target].id)
    return path[target]


def go_to(design: Design, base: int, target: int) -> Revision:
    """Move the head to any revision on its line.  Raises Conflict, or RavineError for one that is not on it."""
    if design.head != base:
        raise _conflict(design)
    found = next((row for row in path_to_tip(design) if row.id == target), None)
    if found is None:
        raise RavineError("that revision is not on the line of this model")
    if found.id != base:
        _move_head(design, base, head=found.id)
    return found
