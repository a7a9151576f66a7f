"""The Flask application."""

from __future__ import annotations

import secrets
from pathlib import Path
from urllib.parse import urlsplit

from flask import Flask, Response, g, render_template, request
from flask.typing import ResponseReturnValue
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from ravine import __version__
from ravine.core import EditError, RavineError
from ravine.engine.client import Engine
from ravine.engine.wire import EngineFailure
from ravine.service import connection
from ravine.service.designs import Conflict, Designs, NotFound
from ravine.service.people import signed_in
from ravine.service.supply import PrintShop, Supply

from . import (
    bill,
    checkup,
    clearance,
    drawing,
    exchange,
    features,
    joints,
    kept,
    library,
    look,
    printing,
    review,
    section,
    sentence,
    sharing,
    sheet,
    shelf,
    simulate,
    values,
    variants,
    words,
    workbench,
)
from .container import pack
from .gate import Gate
from .long_queries import LongQueries

LARGEST_UPLOAD = 300 << 20
LOOPBACK = {"127.0.0.1", "localhost", "[::1]"}


PARTS = (
    library, workbench, sentence, exchange, look, section, kept, checkup, clearance, features, values, variants,
    joints, shelf, bill, sheet, simulate, printing,
    drawing, sharing, review,
)  # fmt: skip


def _stamp() -> str:
    """Changes whenever a shipped file does, so that browsers may keep them for good."""
    static = Path(__file__).parent / "static"
    newest = max(int(f.stat().st_mtime) for f in static.rglob("*") if f.is_file())
    return f"{__version__}-{newest:x}"


def create_app(
    engine: Engine, session_key: str, entrance: Path, supply: Supply | None = None, printshop: PrintShop | None = None
) -> Flask:
    """entrance: the file with the token that the next window may enter with; supply, printshop: where parts are ordered
    and printed, ones that never answer when left out."""
    stamp = _stamp()
    app = Flask(__name__, static_url_path=f"/static/{stamp}")  # in the path, so that what scripts import has it, too
    app.config.update(SECRET_KEY=session_key, MAX_CONTENT_LENGTH=LARGEST_UPLOAD, TEMPLATES_AUTO_RELOAD=False)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.extensions["designs"] = Designs(engine)
    app.extensions["supply"] = supply or Supply("unix:nowhere")
    app.extensions["printshop"] = printshop or PrintShop("unix:nowhere")
    words.register(app)
    gate = Gate(session_key, entrance)
    for part in PARTS:
        app.register_blueprint(part.pages)

    @app.context_processor
    def shared() -> dict:
        return {"nonce": g.get("nonce", "")}

    @app.before_request
    def guard() -> Response | None:
        """Only this machine's own pages may speak to us: the host must be loopback (against rebinding), and whatever
        changes something must carry a header that other sites cannot send."""
        g.nonce = secrets.token_urlsafe(12)
        host = urlsplit(f"//{request.host}").hostname or ""
        if host not in LOOPBACK and f"[{host}]" not in LOOPBACK:
            return Response("this address does not serve Ravine", 403)
        if request.method == "POST" and not (request.headers.get("HX-Request") or request.headers.get("X-Ravine")):
            return Response("this request did not come from a page of Ravine", 403)
        if (refused := gate.check()) is not None:
            return app.make_response(refused)
        if request.endpoint not in ("static", "alive"):
            connection.open_for_request()
            g.person = signed_in()
        return None

    @app.teardown_request
    def close(_: BaseException | None) -> None:
        connection.close_after_request()

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = response.headers.get("Content-Security-Policy") or (
            f"default-src 'self'; script-src 'self' 'nonce-{g.nonce}'; img-src 'self' data: blob:; "
            "style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; "
            "form-action 'self'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        if request.endpoint == "static" and response.status_code == 200:
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.get("/alive")
    def alive() -> str:
        return "alive"

    _errors(app)
    app.wsgi_app = LongQueries(app.wsgi_app)  # type: ignore[method-assign]
    return app


def _errors(app: Flask) -> None:
    def answer(error: RavineError, status: int) -> tuple[Response | str, int]:
        told = error.as_dict() if isinstance(error, EditError) else {"reason": str(error)}
        told["kind"] = type(error).__name__
        if request.headers.get("Accept") == "application/x-ravine":
            return pack({"error": told}), status
        if request.headers.get("HX-Request") or request.headers.get("X-Ravine"):
            return render_template("fragments/refusal.html", error=told), status
        return render_template("trouble.html", title="That did not work", reason=str(error)), status

    @app.errorhandler(RavineError)
    def refused(error: RavineError) -> ResponseReturnValue:
        for kind, status in ((NotFound, 404), (Conflict, 409), (EngineFailure, 503)):
            if isinstance(error, kind):
                if status == 503:
                    app.logger.warning("%s: %s", request.path, error)
                return answer(error, status)
        return answer(error, 422)

    def database_away(error: Exception) -> ResponseReturnValue:
        app.logger.warning("database: %s", error)
        return answer(RavineError(connection.words_of(error)), 503)

    for away in connection.AWAY:
        app.register_error_handler(away, database_away)

    @app.errorhandler(RequestEntityTooLarge)
    def too_large(_: Exception) -> ResponseReturnValue:
        return answer(RavineError(f"the file is larger than {LARGEST_UPLOAD >> 20} MB, the most that is taken"), 413)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> ResponseReturnValue:
        return answer(RavineError(error.description or error.name), error.code or 500)
