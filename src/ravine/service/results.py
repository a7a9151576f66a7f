"""What long computations came to, kept with the state that they are of: there again after a restart."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from ravine.core.address import digest
from ravine.store import blobs
from ravine.store.tables import Design, Result

from .designs import Designs
from .rows import Revision


def _what(name: str, values: Mapping[str, Any]) -> str:
    return digest(json.dumps([name, values], sort_keys=True).encode())


def kept_result(design: Design, revision: Revision, name: str, values: Mapping[str, Any]) -> bytes | None:
    row = Result.get_or_none(
        (Result.design == design) & (Result.state == revision.state_id) & (Result.what == _what(name, values))
    )
    return None if row is None else blobs.get(row.blob_id)


def keep_result(
    designs: Designs, design: Design, revision: Revision, name: str, values: Mapping[str, Any], data: bytes
) -> None:
    address = blobs.put_one(designs.owner, data)
    Result.insert(
        design=design, state=revision.state_id, what=_what(name, values), blob=address
    ).on_conflict_ignore().execute()
