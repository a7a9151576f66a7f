"""Blobs by content address, compressed with zstd."""

from __future__ import annotations

from collections.abc import Mapping

import zstandard

from ravine.core import RavineError
from ravine.core.address import digest

from .tables import Account, Blob

LARGEST = 240 << 20  # compressed bytes; the database takes packets of 256 MB


def put(owner: Account | int, blobs: Mapping[str, bytes]) -> None:
    """Store those that are not there yet."""
    if not blobs:
        return
    known = {row.address for row in Blob.select(Blob.address).where(Blob.address.in_(list(blobs)))}
    for address, data in blobs.items():
        if address in known:
            continue
        packed = zstandard.ZstdCompressor(level=3).compress(data)
        if len(packed) > LARGEST:
            raise RavineError(f"{len(packed) >> 20} MB in one piece is more than the database takes (240 MB)")
        # another writer may store the same content at the same time, which is no conflict
        Blob.insert(address=address, owner=owner, size=len(data), data=packed).on_conflict_ignore().execute()


def put_one(owner: Account | int, data: bytes) -> str:
    address = digest(data)
    put(owner, {address: data})
    return address


def get(address: str) -> bytes:
    row = Blob.get_or_none(Blob.address == address)
    if row is None:
        raise RavineError(f"a stored piece of this model is missing ({address[:10]}); the database is damaged")
    data = zstandard.ZstdDecompressor().decompress(bytes(row.data), max_output_size=row.size)
    if digest(data) != address:
        raise RavineError(f"a stored piece of this model is damaged ({address[:10]})")
    return data
