"""One edit from raw values to what changed."""

from __future__ import annotations

import logging
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ..dimensions import upkeep
from ..errors import CannotDo, EditError
from ..kernel.failures import SpoiledInput
from ..model.mirroring import follow_mirrors
from ..model.records import DIMENSIONS, JOINTS
from ..model.snapshot import Snapshot, text_id
from ..operations import joints, ties
from ..operations.acceptance import check_accepted
from ..operations.ladder import FAILURES, reason_of
from ..operations.work import Climb, Fact, Outcome, Piece, Work
from .base import Edit
from .fields import Context
from .registry import find_edit

log = logging.getLogger("ravine.edits")


@dataclass(frozen=True)
class Change:
    """What an edit did.  added, changed, removed: body ids (of what was added those of
    dimensions and joints, too); ended: ids of faces, edges and vertices that are no
    more; sentence: as the journal tells it; files: what an export wrote, by name."""

    edit: str
    sentence: str
    before: Snapshot
    after: Snapshot
    added: tuple[str, ...]
    changed: tuple[str, ...]
    removed: tuple[str, ...]
    ended: tuple[str, ...]
    facts: tuple[Fact, ...]
    warnings: tuple[str, ...]
    files: dict[str, bytes]
    pieces: tuple[Piece, ...] = ()

    def fact(self, code: str) -> Any:
        """Value of a fact (mm³, kg, mm or text), None when the edit does not tell it."""
        return next((f.value for f in self.facts if f.code == code), None)


def change_of(edit: Edit, sentence: str, before: Snapshot, outcome: Outcome) -> Change:
    after = outcome.snapshot
    changed = [b for b in before.bodies if b in after.bodies and before.bodies[b] != after.bodies[b]]
    return Change(
        edit.name,
        sentence,
        before,
        after,
        (*(text_id("body", b) for b in after.bodies if b not in before.bodies), *_new_records(before, after)),
        tuple(text_id("body", b) for b in changed),
        tuple(text_id("body", b) for b in before.bodies if b not in after.bodies),
        _ended(before, after),
        outcome.facts,
        outcome.warnings,
        dict(outcome.files),
        outcome.pieces,
    )


def _new_records(before: Snapshot, after: Snapshot) -> tuple[str, ...]:
    """Ids of new dimensions and joints."""
    dimensions = [text_id("dimension", n) for n in after.kept(DIMENSIONS) if n not in before.kept(DIMENSIONS)]
    return (*dimensions, *(text_id("joint", n) for n in after.kept(JOINTS) if n not in before.kept(JOINTS)))


def _ended(before: Snapshot, after: Snapshot) -> tuple[str, ...]:
    """Ids of faces, edges and vertices that no body has any more."""
    pairs = [(body, after.bodies.get(number)) for number, body in before.bodies.items()]
    changed = [body for body, now in pairs if now is None or (now is not body and now.ids() != body.ids())]
    had = {(kind, i) for body in changed for kind, row in body.ids().items() for i in row}
    if not had:
        return ()
    has = {(kind, i) for body in after.bodies.values() for kind, row in body.ids().items() for i in row}
    return tuple(text_id(kind, i) for kind, i in sorted(had - has))


def perform(name: str, raw: Mapping[str, Any], work: Work, *, decimal_comma: bool = False) -> tuple[Edit, Change]:
    """Read, apply and tell one edit.  Raises EditError; the work's snapshot is never changed.  Whatever else the kernel
    or the local engine raise is logged with its traceback and told as a refusal."""
    context = Context(work.snapshot, work.geometry, decimal_comma)
    edit = find_edit(name).read(raw, context)
    sentence = edit.told(context)
    try:
        outcome = edit.apply(work)
        if outcome.snapshot is not work.snapshot and not edit.shown_only:
            after = follow_mirrors(work.geometry, work.snapshot, outcome.snapshot)
            after = upkeep.follow_dimensions(work.geometry, work.snapshot, after)
            outcome = _with_joints(work, _with_ties(work, replace(outcome, snapshot=after)))
            if work.mode.checks and not edit.as_found:
                check_accepted(work, work.snapshot, outcome.snapshot)
    except FAILURES as error:
        if isinstance(error, EditError):
            if error.field not in edit.fields():
                error.field = None  # it is about what follows, which has no gap in this sentence
            raise
        raise _given_up(edit, work, error) from error
    followed = ", ".join(dict.fromkeys(str(f.value) for f in outcome.facts if f.code == "follows"))
    if followed:
        sentence += f"; {followed} follow{'' if ', ' in followed else 's'}"
    tried = tuple(Fact("rung", climb.what, _tried(climb), tone="quiet") for climb in work.climbs)
    return edit, change_of(edit, sentence, work.snapshot, replace(outcome, facts=(*outcome.facts, *tried)))


def _with_ties(work: Work, outcome: Outcome) -> Outcome:
    """What is tied to what the edit moved follows."""
    if not any(d.stays is not None for d in outcome.snapshot.kept(DIMENSIONS).values()):
        return outcome
    done = ties.follow_ties(work, work.snapshot, outcome.snapshot)
    facts, warnings = (*outcome.facts, *done.facts), (*outcome.warnings, *done.lost)
    return replace(outcome, snapshot=done.snapshot, facts=facts, warnings=warnings)


def _with_joints(work: Work, outcome: Outcome) -> Outcome:
    """What is joined to what the edit moved follows."""
    done = joints.follow_joints(work, work.snapshot, outcome.snapshot)
    if done.snapshot is outcome.snapshot:
        return replace(outcome, warnings=(*outcome.warnings, *done.lost))
    after = upkeep.follow_dimensions(work.geometry, outcome.snapshot, done.snapshot)
    return replace(outcome, snapshot=after, facts=(*outcome.facts, *done.facts))


def _given_up(edit: Edit, work: Work, error: Exception) -> CannotDo:
    log.warning("%s: not caught by the edit", edit.name, exc_info=error)
    if isinstance(error, SpoiledInput):
        work.geometry.restore_all(b.shape for b in work.snapshot.bodies.values())
    reason = CannotDo(f"{reason_of(error)}; nothing changed")
    doing = edit.doing_words(Context(work.snapshot, work.geometry), reason)
    return reason.said_of(doing) if doing else reason


def _tried(climb: Climb) -> str:
    """Which rung did it, and why those before it did not."""
    return climb.rung + "".join(f"; not {name}: {why}" for name, why in climb.failed)
