"""Who is asking.  One person object a request, through one check; for now there is one local owner."""

from __future__ import annotations

from dataclasses import dataclass

from ravine.core import RavineError
from ravine.store.schema import LOCAL_OWNER
from ravine.store.tables import Account, database


@dataclass(frozen=True)
class Person:
    """id: of the account whose rows they see."""

    id: int
    name: str


_known: dict[tuple[str, object], Person] = {}  # by database and port: the account never changes


def signed_in() -> Person:
    """The person behind this request.  Raises RavineError when there is none."""
    where = (database.obj.database, database.obj.connect_params.get("port"))
    if where not in _known:
        account = Account.get_or_none(Account.name == LOCAL_OWNER)
        if account is None:
            raise RavineError("this data folder has no owner; its preparation was interrupted, start Ravine again")
        _known[where] = Person(account.id, account.name)
    return _known[where]
