"""What requests carry, checked at the edge."""

from __future__ import annotations

import base64
import json
import math
from collections.abc import Mapping
from typing import Any

from flask import request

from ravine.core import EditError


def ids(name: str, values: Mapping[str, str]) -> list[str]:
    """Words apart, of a form or a query."""
    return [word for word in values.get(name, "").split(" ") if word]


def json_object() -> dict[str, Any]:
    try:
        data = request.get_json(silent=True)
    except RecursionError:
        raise EditError("the request is nested too deep to be read") from None
    if not isinstance(data, dict):
        raise EditError("the request is not JSON; it takes an object")
    return data


def json_field(name: str, values: Mapping[str, str]) -> dict[str, Any]:
    """An object written as JSON in a form; empty where it is left out."""
    try:
        data = json.loads(values.get(name) or "{}")
    except (ValueError, RecursionError):
        data = None
    if not isinstance(data, dict):
        raise EditError(f"“{name}” is not a JSON object", field=name)
    return data


def png_of(text: str) -> bytes:
    """Of a data URI, as a canvas gives it; nothing for nothing."""
    if not text:
        return b""
    head, _, body = text.partition(",")
    try:
        return base64.b64decode(body if head == "data:image/png;base64" else "!", validate=True)
    except ValueError as error:
        raise EditError("a picture comes as PNG in a data URI", field="picture") from error


def whole(data: Mapping[str, Any], name: str) -> int:
    """A whole number of a JSON object."""
    value = data.get(name)
    if isinstance(value, bool) or not isinstance(value, (int, str)) or not str(value).isdecimal():
        raise EditError(f"“{name}” is a whole number; got “{str(value)[:20]}”", field=name)
    return int(value)


def numbers(raw: Any, count: int) -> list[float]:
    """From text with commas, or a list."""
    values = raw.split(",") if isinstance(raw, str) else raw
    try:
        found = [float(v) for v in values]
    except (TypeError, ValueError):
        found = []
    if len(found) != count or not all(math.isfinite(v) for v in found):
        raise EditError(f"this takes {count} numbers with commas between them")
    return found
