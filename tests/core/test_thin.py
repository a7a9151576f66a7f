"""Only workers load the geometry library: declarations, pages, the starter and the engine's server do without."""

import os
import subprocess
import sys

import pytest

PROBE = """
import importlib, sys
for name in {names!r}:
    importlib.import_module(name)
{then}
print("OCP" in sys.modules)
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


def loaded(names, then=""):
    told = subprocess.run([sys.executable, "-c", PROBE.format(names=names, then=then)], capture_output=True, text=True,
                          env={**os.environ, "PYTHONPATH": "src"}, check=True)  # fmt: skip
    return told.stdout.strip() == "True"


@pytest.mark.parametrize(
    "names",
    [["ravine.core.edits", "ravine.core.studies"], ["ravine.web.app", "ravine.service.jobs"], ["ravine.engine.server"],
     ["ravine.cli.start", "ravine.demo.scenario"]],
    ids=["declarations", "pages", "engine", "starter"],
)  # fmt: skip
def test_these_processes_do_without_the_geometry_library(names):
    assert not loaded(names)


def test_all_that_is_declared_is_known_without_it():
    assert not loaded(["ravine.core"], DECLARATIONS)


def test_a_worker_has_it():
    assert loaded(["ravine.engine.tasks"])
