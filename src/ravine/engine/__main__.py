"""`python -m ravine.engine ADDRESS`: the engine process.

The one that workers are forked from loads the geometry library while this one gets ready.
"""

from __future__ import annotations

import multiprocessing
import os
from multiprocessing import forkserver

from . import PRELOADED

if __name__ == "__main__":
    key = bytes.fromhex(os.environ.pop("RAVINE_ENGINE_KEY"))  # workers do without it
    multiprocessing.set_forkserver_preload(PRELOADED)
    forkserver.ensure_running()
    from .server import main

    main(key)
