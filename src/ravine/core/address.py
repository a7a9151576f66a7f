"""Content addresses of blobs."""

from __future__ import annotations

import hashlib


def digest(data: bytes) -> str:
    """40 hex digits (BLAKE2b, 160 bit)."""
    return hashlib.blake2b(data, digest_size=20).hexdigest()
