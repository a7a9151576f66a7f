"""What every worker would otherwise load; imported once, in the process that workers are forked from.

Only loading, no kernel call: the kernel starts threads of its own with the first, and a fork takes none along.  Readers
of files bring large libraries, and load when they are used.
"""

from __future__ import annotations

import gc
import importlib
import pkgutil

from ravine.core import operations, studies

from . import tasks as tasks
from .mapped import let_go_of_files

for package in (operations, studies):
    for module in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
        importlib.import_module(module.name)

gc.collect()
gc.freeze()  # a worker's collector need not write to what all of them share, which would copy it
let_go_of_files()
