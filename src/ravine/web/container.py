"""One binary answer with a JSON head and any number of blobs: `RVE1`, uint32 length, JSON, blobs.

The head's `blobs` lists the lengths; each blob starts on a multiple of four counted from the end of the head.
"""

from __future__ import annotations

import json
import struct
from typing import Any

from flask import Response

MAGIC = b"RVE1"
TYPE = "application/x-ravine"


def pack(head: dict[str, Any], blobs: list[bytes] | None = None) -> Response:
    blobs = blobs or []
    text = json.dumps({**head, "blobs": [len(b) for b in blobs]}, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    body = b"".join([MAGIC, struct.pack("<I", len(text)), text, *(b + b"\0" * (-len(b) % 4) for b in blobs)])
    return Response(body, mimetype=TYPE)
