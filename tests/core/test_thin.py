"""Only workers load the geometry library; declarations, pages, the starter and the engine's server do without, and none
of those that only wait holds what it has no use for."""

import os
import subprocess
import sys

import pytest

PROBE = """
import importlib, sys
for name in {names!r}:
    importlib.import_module(name)
{then}
print(*(name for name in {heavy!r} if name in sys.modules))
"""
DECLARATIONS = """
from ravine.core.edits import registry
from ravine.core.studies import studies
assert len([cls.schema() for cls in registry().values()]) > 70
assert len([cls.schema() for cls in studies().values()]) > 15
assert all(cls.drawing and cls.help for cls in registry().values())
from ravine.core.model.snapshot import Snapshot
from ravine.core.view.scene import scene
scene(Snapshot.from_json(Snapshot().to_json()))
"""


LIBRARIES = ("OCP", "scipy", "shapely", "netgen", "ezdxf", "fontTools", "PIL", "lxml")
WAITING = (*LIBRARIES, "numpy", "flask", "jinja2")


def loaded(names, heavy, then=""):
    probe = PROBE.format(names=names, heavy=heavy, then=then)
    told = subprocess.run([sys.executable, "-c", probe], capture_output=True, text=True,
                          env={**os.environ, "PYTHONPATH": "src"}, check=True)  # fmt: skip
    return told.stdout.split()


@pytest.mark.parametrize(
    ("names", "heavy"),
    [(["ravine.core.edits", "ravine.core.studies"], LIBRARIES),
     (["ravine.web.app", "ravine.service.jobs"], LIBRARIES),
     (["ravine.engine.server"], WAITING),
     (["ravine.cli.start"], WAITING),
     (["ravine.supplier.__main__"], WAITING),
     (["ravine.printshop.__main__"], WAITING),
     (["ravine.cli.bringing_in"], LIBRARIES)],
    ids=["declarations", "pages", "engine", "starter", "supplier", "printshop", "demo"],
)  # fmt: skip
def test_these_processes_do_without_large_libraries(names, heavy):
    assert loaded(names, heavy) == []


def test_all_that_is_declared_is_known_without_them():
    assert loaded(["ravine.core"], LIBRARIES, DECLARATIONS) == []


def test_a_worker_has_the_geometry_library():
    assert "OCP" in loaded(["ravine.engine.tasks"], LIBRARIES)
