"""What the canvas draws: scenes and packets; and the reference page."""

from __future__ import annotations

from flask import Blueprint, Response, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from ravine.core import EditError
from ravine.core.edits import registry
from ravine.core.model.materials import MATERIALS
from ravine.core.studies import studies
from ravine.core.view.scene import scene as scene_of
from ravine.engine.wire import Progress
from ravine.service.connection import in_this_thread

from . import guide
from .asked import ids, json_object
from .streamed import streamed
from .words import designs

pages = Blueprint("look", __name__)


@pages.get("/m/<int:ident>/scene")
def scene(ident: int) -> Response:
    store = designs()
    design = store.get(ident)
    revision = store.head(design)
    return jsonify(scene_of(store.snapshot(revision)) | {"revision": revision.id, "number": revision.number})


@pages.get("/m/<int:ident>/head")
def head(ident: int) -> Response:
    """Which state is the newest: what a page asks now and then, in case another one has gone on."""
    store = designs()
    return jsonify(revision=store.get(ident).head)


@pages.get("/m/<int:ident>/mesh/<body>")
def mesh(ident: int, body: str) -> Response:
    store = designs()
    design = store.get(ident)
    wanted = request.args.get("revision", type=int)
    revision = store.revision(design, wanted) if wanted else store.head(design)
    answer = Response(
        store.study(revision, "mesh", body=body, fine="fine" in request.args), mimetype="application/x-ravine"
    )
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"  # the address names shape and revision
    return answer


@pages.get("/m/<int:ident>/alike/<picked>")
def alike(ident: int, picked: str) -> str:
    """The list under the measures of one picked face or edge."""
    store = designs()
    within = request.args.get("within", "0.01")
    try:
        tolerance = float(within) / 100
    except ValueError:
        raise EditError(f"“{within[:20]}” is no share in percent", nearest="1") from None
    parts = request.args.get("parts", "one")
    found = store.study(
        store.head(store.get(ident)), "alike", picked=picked, tolerance=tolerance, everywhere=parts == "all"
    )
    return render_template("fragments/alike.html", found=found, picked=picked, within=within, parts=parts)


@pages.get("/m/<int:ident>/grow")
def grow(ident: int) -> Response:
    """The loop, the tangent run or the chain that goes with the pick."""
    store = designs()
    picked = ids("picked", request.args)
    return jsonify(
        picks=store.study(
            store.head(store.get(ident)), "grow selection", picked=picked, way=request.args.get("way", "")
        )
    )


@pages.post("/m/<int:ident>/ahead")
def ahead(ident: int) -> Response:
    """Read what searches on a large part need, while nobody waits for it."""
    store = designs()
    return jsonify(faces=store.study(store.head(store.get(ident)), "read ahead"))


@pages.get("/m/<int:ident>/map/<kind>")
def surface_map(ident: int, kind: str) -> Response:
    """Figures over the surface of a part, for the head, with their progress."""
    store = designs()
    revision = store.head(store.get(ident))
    nodes = ids("nodes", request.args)
    pull = request.args.get("pull", "z")

    def work(told: Progress, token: str) -> bytes:
        with in_this_thread():  # in a thread of its own
            return store.study(revision, "map", told, token, kind=kind, nodes=nodes, pull=pull)

    return streamed(store.engine, work)


@pages.get("/m/<int:ident>/picture/<address>")
def picture(ident: int, address: str) -> Response:
    """Behind a sketch of this model."""
    store = designs()
    answer = Response(store.picture(store.get(ident), address), mimetype="image/png")
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@pages.post("/m/<int:ident>/studies/<name>")
def study(ident: int, name: str) -> ResponseReturnValue:
    """Any study of the head by its name, with its values as JSON; GET /studies.json has the schemas."""
    store = designs()
    found = store.study(store.head(store.get(ident)), name, **json_object())
    return Response(found, mimetype="application/octet-stream") if isinstance(found, bytes) else jsonify(found)


@pages.get("/studies.json")
def study_schemas() -> Response:
    """JSON schemas of all studies, for scripts."""
    return jsonify({name: cls.schema() for name, cls in studies().items()})


@pages.get("/edits.json")
def schemas() -> Response:
    """JSON schemas of all edits, for scripts."""
    return jsonify({name: cls.schema() for name, cls in registry().items()})


@pages.get("/help")
def reference() -> str:
    return render_template(
        "help.html", families=guide.by_family(registry().values()), materials=MATERIALS, gestures=guide.GESTURES,
        keys=guide.KEYS, screen_words=guide.WORDS, stage_words=guide.STAGES,
    )  # fmt: skip
