"""What gunicorn loads; the address of engine and database come in the environment from the starter."""

from __future__ import annotations

import importlib
import logging
import os

from ravine.engine.client import RemoteEngine
from ravine.service.jobs import Runner
from ravine.store import schema

from .app import create_app

logging.basicConfig(level=logging.INFO, format="%(asctime)s %(name)s %(message)s")
_host, _, _port = os.environ["RAVINE_DB"].partition(":")
schema.connect(schema.Address(_host, int(_port), "ravine", os.environ["RAVINE_DB_PASSWORD"], "ravine"))
if os.environ.get("RAVINE_ENGINE_EXTRA"):
    importlib.import_module(os.environ["RAVINE_ENGINE_EXTRA"])  # further edits; tests plant faults with it
application = create_app(
    RemoteEngine(os.environ["RAVINE_ENGINE"], bytes.fromhex(os.environ["RAVINE_ENGINE_KEY"])),
    os.environ["RAVINE_SESSION_KEY"],
)
Runner(application.extensions["designs"]).start()
