"""Links to look at a model, at the stage Hand over; and what such a link shows."""

from __future__ import annotations

import base64
import re
from hashlib import sha256

from flask import Blueprint, Response, render_template, request

from ravine.service import shares

from .asked import json_object, whole
from .words import designs

pages = Blueprint("sharing", __name__)
SCRIPT = re.compile(rb"<script>(.*?)</script>", re.DOTALL)


@pages.get("/m/<int:ident>/links")
def panel(ident: int) -> str:
    store = designs()
    design = store.get(ident)
    return render_template("fragments/links.html", links=shares.links_of(design), design=design, fresh="")


@pages.post("/m/<int:ident>/links")
def make(ident: int) -> str:
    """A new one; its address is shown this once."""
    store = designs()
    design = store.get(ident)
    data = json_object()
    flags = {name: data.get(name) is not False for name in shares.FLAGS}
    secret = shares.make(store, design, whole(data, "days"), flags)
    address = f"{request.host_url}s/{secret}"
    return render_template("fragments/links.html", links=shares.links_of(design), design=design, fresh=address)


@pages.post("/m/<int:ident>/links/<int:number>/revoke")
def revoke(ident: int, number: int) -> str:
    store = designs()
    design = store.get(ident)
    shares.revoke(store, design, number)
    return render_template("fragments/links.html", links=shares.links_of(design), design=design, fresh="")


@pages.get("/s/<secret>")
def look(secret: str) -> Response | tuple[str, int]:
    """Read only, and nothing but this one page."""
    try:
        data = shares.page_for(designs(), secret)
    except shares.NoLink as error:
        return render_template("trouble.html", title="Nothing is shown here", reason=str(error)), 404
    answer = Response(data, mimetype="text/html")
    scripts = " ".join(f"'sha256-{base64.b64encode(sha256(s).digest()).decode()}'" for s in SCRIPT.findall(data))
    answer.headers["Content-Security-Policy"] = (
        f"default-src 'none'; script-src {scripts}; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; "
        "frame-ancestors 'none'"
    )
    answer.headers["Cache-Control"] = "no-store"
    answer.headers["X-Robots-Tag"] = "noindex"
    return answer
