"""Blobs by content address, compressed with zstd.  Large ones go on in further rows, since the database takes a row in
one packet."""

from __future__ import annotations

from collections.abc import Mapping

import zstandard

from ravine.core import RavineError
from ravine.core.address import digest

from .tables import Account, Blob, Piece, database

ROW = 16 << 20  # compressed bytes


def put(owner: Account | int, blobs: Mapping[str, bytes]) -> None:
    """Store those that are not there yet."""
    if not blobs:
        return
    known = {row.address for row in Blob.select(Blob.address).where(Blob.address.in_(list(blobs)))}
    for address, data in blobs.items():
        if address in known:
            continue
        packed = zstandard.ZstdCompressor(level=3).compress(data)
        rows = [packed[at : at + ROW] for at in range(0, len(packed), ROW)]
        # another writer may store the same content at the same time, which is no conflict
        with database.atomic():
            Blob.insert(
                address=address, owner=owner, size=len(data), data=rows[0], pieces=len(rows) - 1
            ).on_conflict_ignore().execute()
            for number, row in enumerate(rows[1:], 1):
                Piece.insert(blob=address, number=number, data=row).on_conflict_ignore().execute()


def put_one(owner: Account | int, data: bytes) -> str:
    address = digest(data)
    put(owner, {address: data})
    return address


def get(address: str) -> bytes:
    row = Blob.get_or_none(Blob.address == address)
    if row is None:
        raise RavineError(f"a stored piece of this model is missing ({address[:10]}); the database is damaged")
    packed = [bytes(row.data)]
    if row.pieces:
        packed += [bytes(p.data) for p in Piece.select().where(Piece.blob == address).order_by(Piece.number)]
    try:
        data = zstandard.ZstdDecompressor().decompress(b"".join(packed), max_output_size=row.size)
    except zstandard.ZstdError:
        data = b""
    if digest(data) != address:
        raise RavineError(f"a stored piece of this model is damaged ({address[:10]})")
    return data
