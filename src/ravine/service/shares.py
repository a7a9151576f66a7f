"""Links under which a revision can be looked at without being let in: each with a secret of its own that is told
once, an end, a count, and a way to revoke it."""

from __future__ import annotations

import json
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256
from typing import Any

from ravine.core import EditError, RavineError
from ravine.store.tables import Design, Revision, ShareLink, now

from .designs import Designs
from .filled import kept_views

MOST = 50  # of one model
DAYS = (1, 400)
FLAGS = ("inside", "names", "figures")


class NoLink(RavineError):
    """There is no such link, or it has ended."""


@dataclass(frozen=True)
class LinkShown:
    """state: open, over or revoked."""

    id: int
    revision: int
    state: str
    until: datetime
    opened: int
    what: dict[str, bool]


def links_of(design: Design) -> list[LinkShown]:
    """The newest first."""
    rows = ShareLink.select().where(ShareLink.design == design).order_by(ShareLink.id.desc())
    numbers = {r.id: r.number for r in Revision.select(Revision.id, Revision.number).where(Revision.design == design)}
    return [
        LinkShown(row.id, numbers.get(row.revision, 0), _state(row), row.until, row.opened, json.loads(row.what))
        for row in rows
    ]


def _state(row: ShareLink) -> str:
    return "revoked" if row.revoked is not None else "over" if row.until < now() else "open"


def make(designs: Designs, design: Design, days: int, what: Mapping[str, bool]) -> str:
    """A link to the state that is shown.  Returns its secret, which is kept nowhere.  Raises EditError."""
    if not DAYS[0] <= days <= DAYS[1]:
        raise EditError(f"a link holds for {DAYS[0]} to {DAYS[1]} days", field="days", nearest=str(DAYS[1]))
    if ShareLink.select().where(ShareLink.design == design).count() >= MOST:
        raise EditError(f"{MOST} links are kept of this model; drop one first")
    secret = secrets.token_urlsafe(24)
    kept = {name: bool(what.get(name, True)) for name in FLAGS}
    ShareLink.create(owner=designs.owner, design=design, revision=design.head, digest=_digest(secret),
                     what=json.dumps(kept), until=now() + timedelta(days=days))  # fmt: skip
    return secret


def revoke(designs: Designs, design: Design, ident: int) -> None:
    """From now on it shows nothing.  Raises NoLink."""
    mine = (ShareLink.id == ident) & (ShareLink.design == design) & (ShareLink.owner == designs.owner)
    if not ShareLink.update(revoked=now()).where(mine & ShareLink.revoked.is_null()).execute():
        raise NoLink("this link was revoked already")


def page_for(designs: Designs, secret: str) -> bytes:
    """What a link shows; counted.  Raises NoLink, in the same words whatever is wrong with it."""
    row = ShareLink.get_or_none(ShareLink.digest == _digest(secret[:200]))
    design = None if row is None else Design.get_or_none((Design.id == row.design_id) & Design.deleted.is_null())
    if row is None or design is None or _state(row) != "open":
        raise NoLink("this link shows nothing: it was revoked, it is over, or it was never given")
    revision = Revision.get((Revision.id == row.revision) & (Revision.design == design))
    flags = json.loads(row.what)
    title = design.name if flags.get("names", True) else "Model"
    values: dict[str, Any] = {
        "views": kept_views(design),
        "title": title,
        "said": f"revision {revision.number}",
        **flags,
    }
    data: bytes = designs.study(revision, "shared page", **values)
    ShareLink.update(opened=ShareLink.opened + 1).where(ShareLink.id == row.id).execute()
    return data


def _digest(secret: str) -> str:
    return sha256(secret.encode()).hexdigest()
