"""What every worker would otherwise load; imported once, in the process that workers are forked from.

Only loading, no kernel call: the kernel starts threads of its own with the first, and a fork takes none along.
"""

from __future__ import annotations

import importlib
import pkgutil

import ravine.core

from . import tasks as tasks

for module in pkgutil.walk_packages(ravine.core.__path__, "ravine.core."):
    importlib.import_module(module.name)
