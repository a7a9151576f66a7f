"""Models linked in other models: looked up for edits, offered, and told when they moved on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ravine.core import EditError
from ravine.core.edits.base import Edit
from ravine.core.edits.fields import OtherField
from ravine.core.edits.fields.others import written_out
from ravine.core.model.records import LINKS
from ravine.core.model.snapshot import Snapshot
from ravine.store import revisions
from ravine.store.tables import Design, Revision

if TYPE_CHECKING:
    from .designs import Designs

MOST_OFFERED = 40


@dataclass(frozen=True)
class Standing:
    """How a linked group stands to its model.  newest: number of the head revision there, None where the model was
    deleted; newer: it differs from what is linked."""

    title: str
    revision: int
    newest: int | None
    newer: bool


def looked_up(designs: Designs, design: Design, cls: type[Edit], values: Mapping[str, Any]) -> dict[str, Any]:
    """Values with every other model found, among those of the same owner.  Whatever state a caller claims is looked up
    anew.  Raises EditError."""
    found = dict(values)
    for name, field in cls.fields().items():
        raw = values.get(name)
        if not isinstance(field, OtherField) or raw in (None, ""):
            continue
        asked = f"{raw.get('model')}:{raw.get('revision')}" if isinstance(raw, Mapping) else raw
        if (numbers := written_out(asked)) is None:
            raise EditError(f"{field.label} is the number of a model, such as 3, or with a revision 3:17", field=name)
        found[name] = _state(designs, design, *numbers, name)
    return found


def _state(designs: Designs, design: Design, model: int, revision: int | None, field: str) -> dict[str, Any]:
    if model == design.id:
        raise EditError("a model is not linked into itself; copy the part instead", field=field)
    other = Design.get_or_none((Design.id == model) & (Design.owner == designs.owner) & Design.deleted.is_null())
    if other is None:
        raise EditError(f"you have no model {model}, or it was deleted", field=field)
    if revision is None:
        row = designs.head(other)
    else:
        row = Revision.get_or_none((Revision.design == other) & (Revision.number == revision))
        if row is None:
            newest = designs.head(other).number
            raise EditError(f"{other.name} has no revision {revision}", field=field, nearest=f"{model}:{newest}")
    return {"model": model, "revision": row.number, "title": other.name, "state": row.state_id}


def offered(designs: Designs, design: Design, cls: type[Edit], values: Mapping[str, str]) -> dict[str, str]:
    """What a line may choose from, by how it is written: other models at their newest revision, or the revisions of the
    one that is filled in where the edit also takes a part that comes from it."""
    filled = next((written_out(values.get(n)) for n, f in cls.fields().items() if isinstance(f, OtherField)), None)
    if cls.pick_field() is not None and filled is not None:
        other = Design.get_or_none((Design.id == filled[0]) & (Design.owner == designs.owner))
        path = [] if other is None else revisions.path_to_tip(other)[::-1]
        return {f"{filled[0]}:{r.number}": f"revision {r.number}, {r.sentence[:60]}" for r in path[:MOST_OFFERED]}
    rows = [row for row in designs.all() if row.id != design.id][:MOST_OFFERED]
    heads = {row.id: row.number for row in Revision.select().where(Revision.id.in_([r.head for r in rows]))}
    return {f"{row.id}:{heads[row.head]}": f"{row.name}, revision {heads[row.head]}" for row in rows}


def standings(designs: Designs, snapshot: Snapshot) -> dict[int, Standing]:
    """By group."""
    links = snapshot.kept(LINKS)
    if not links:
        return {}
    models = {link.model for link in links.values()}
    rows = Design.select().where(Design.id.in_(models) & (Design.owner == designs.owner) & Design.deleted.is_null())
    heads = {row.id: designs.head(row) for row in rows}
    found = {}
    for node, link in links.items():
        head = heads.get(link.model)
        newer = head is not None and head.state_id != link.state
        found[node] = Standing(link.title, link.revision, head.number if head else None, newer)
    return found
