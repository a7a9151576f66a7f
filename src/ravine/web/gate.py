"""Who may come in: the window that opened the printed address.  Any account of this machine reaches our port; only the
one that sees where Ravine was started sees the token, which is good once and becomes a cookie.

The cookie is SameSite=Strict and HttpOnly (RFC 6265bis); what other sites cause a browser to send is refused by its
Sec-Fetch-Site header (W3C, Fetch Metadata Request Headers).
"""

from __future__ import annotations

import hmac
from pathlib import Path
from urllib.parse import urlencode

from flask import redirect, render_template, request
from werkzeug.wrappers import Response

from .entrance import TOKEN, cookie_name, pass_of

OWN = {"same-origin", "none"}  # "none": typed, or opened from outside the browser
OPEN = {"static", "alive"}  # shipped files, and whether we live
LINKS = {"sharing.look"}  # these carry a secret of their own, and are followed from elsewhere


class Gate:
    """entrance: the file that holds the token; it goes with its use."""

    def __init__(self, session_key: str, entrance: Path) -> None:
        self._pass, self._entrance = pass_of(session_key), entrance

    def check(self) -> Response | str | tuple[str, int] | None:
        """Before a request: None where it may go on."""
        if request.endpoint in LINKS and request.method == "GET":
            return None
        if request.headers.get("Sec-Fetch-Site", "none") not in OWN:
            return "this request was caused by another site", 403
        if request.endpoint in OPEN or self._let_in():
            return None
        token = request.args.get(TOKEN, "")
        if request.method == "GET" and token and self._take(token):
            rest = urlencode([(k, v) for k, v in request.args.items() if k != TOKEN])
            path = "/" + request.path.lstrip("/")  # two strokes would lead to another host
            answer = redirect(f"{path}?{rest}" if rest else path)
            answer.set_cookie(
                cookie_name(request.host), self._pass, httponly=True, samesite="Strict", max_age=400 * 86400
            )
            return answer
        return render_template("trouble.html", title="This window has not been let in", reason=CLOSED), 403

    def _let_in(self) -> bool:
        shown = request.cookies.get(cookie_name(request.host), "")
        return hmac.compare_digest(shown.encode(), self._pass.encode())

    def _take(self, token: str) -> bool:
        """Whether this is the token; of two windows that come at once, one gets in."""
        try:
            known = self._entrance.read_text()
            if not hmac.compare_digest(token.encode(), known.encode()):
                return False
            self._entrance.unlink()
        except FileNotFoundError:
            return False
        return True


CLOSED = (
    "Open the address that was printed where Ravine was started. Each is good for one browser; when one has been used, "
    "the next is printed there."
)
