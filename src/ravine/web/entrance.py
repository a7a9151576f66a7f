"""The way in, for the pages and for the starter that prints it: a token that is good once, and what it turns into."""

from __future__ import annotations

import hmac
import secrets
from hashlib import sha256
from pathlib import Path
from urllib.parse import urlsplit

TOKEN = "enter"


def pass_of(session_key: str) -> str:
    """What the cookie of a window holds that was let in."""
    return hmac.new(session_key.encode(), b"let in", sha256).hexdigest()


def cookie_name(host: str) -> str:
    """Cookies know no ports, so the name has ours: two data folders on one machine keep apart."""
    return f"ravine-{urlsplit(f'//{host}').port or 80}"


def new_token(entrance: Path) -> str:
    """Writes the token that the next window may enter with."""
    token = secrets.token_urlsafe(24)
    fresh = entrance.with_suffix(".new")
    fresh.unlink(missing_ok=True)
    fresh.touch(0o600)
    fresh.write_text(token)
    fresh.replace(entrance)
    return token
