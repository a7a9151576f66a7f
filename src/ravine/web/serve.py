"""What gunicorn loads; the address of engine and database come in the environment from the starter."""

from __future__ import annotations

import importlib
import logging
import os
from pathlib import Path

from ravine.engine.client import RemoteEngine
from ravine.service import connection
from ravine.service.supply import PrintShop, Supply

from .app import create_app

logging.basicConfig(level=logging.INFO, format="%(asctime)s %(name)s %(message)s")
logging.getLogger("fontTools").setLevel(logging.WARNING)  # a line for every table of every PDF
connection.connect(os.environ["RAVINE_DB"], os.environ["RAVINE_DB_PASSWORD"])
if os.environ.get("RAVINE_ENGINE_EXTRA"):
    importlib.import_module(os.environ["RAVINE_ENGINE_EXTRA"])  # further edits; tests plant faults with it
application = create_app(
    RemoteEngine(os.environ["RAVINE_ENGINE"], bytes.fromhex(os.environ["RAVINE_ENGINE_KEY"])),
    os.environ["RAVINE_SESSION_KEY"],
    Path(os.environ["RAVINE_ENTRANCE"]),
    Supply(os.environ["RAVINE_SUPPLIER"]),
    PrintShop(os.environ["RAVINE_PRINTSHOP"]),
)
