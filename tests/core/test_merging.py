"""The kernel's merging of faces has an end: what never returns, or takes the process along, costs a try."""

from __future__ import annotations

import math
import os
import signal
import time

import pytest

from ravine.core import Model
from ravine.core.formats import step
from ravine.core.kernel import build, merging
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import parts_of
from ravine.core.rigid import IDENTITY


@pytest.fixture
def rods(tmp_path):
    """A rod in two lengths whose round walls are one where they are united."""
    shapes = [build.cylinder(5, 10, (0, 0, z)) for z in (0, 10)]
    nodes = [WriteNode(n, IDENTITY, i, []) for i, n in enumerate("AB")]
    parts = [WritePart(n, s, None, {}) for n, s in zip("AB", shapes, strict=True)]
    path = tmp_path / "rods.step"
    path.write_bytes(step.write(nodes, parts, "Rods"))
    model = Model()
    model.do("import", path=str(path))
    return model


def never():
    while True:
        pass


def dies():
    os.kill(os.getpid(), signal.SIGKILL)


def raises():
    raise RuntimeError("in the trial")


@pytest.fixture
def planted(monkeypatch):
    """Merging that misbehaves, in the trial and here alike."""

    def plant(way):
        class Planted(merging.ShapeUpgrade_UnifySameDomain):
            def Build(self):
                way()

        monkeypatch.setattr(merging, "ShapeUpgrade_UnifySameDomain", Planted)
        monkeypatch.setattr(merging, "SECONDS", 0.3)

    return plant


@pytest.mark.parametrize("way", [never, dies, raises])
def test_a_trial_that_does_not_end_well_is_told_in_time(way):
    began = time.monotonic()
    assert not merging.ends_well(way, 0.3)
    assert time.monotonic() - began < 3
    with pytest.raises(ChildProcessError):
        os.waitpid(-1, os.WNOHANG)


def test_a_trial_changes_nothing_here():
    seen = []
    assert merging.ends_well(lambda: seen.append(1), 5)
    assert seen == []


def test_the_rods_become_one_face(rods):
    rods.do("combine", part="A", tools="B", way="unite")
    (body,) = rods.bodies()
    assert [f.area for f in rods.faces(body, kind="cylinder")] == pytest.approx([2 * math.pi * 5 * 20])


@pytest.mark.parametrize("way", [never, dies])
def test_an_edit_whose_merging_fails_leaves_the_faces_apart_and_says_so(planted, rods, way):
    planted(way)
    change = rods.do("combine", part="A", tools="B", way="unite")
    (body,) = rods.bodies()
    assert [f.area for f in rods.faces(body, kind="cylinder")] == pytest.approx([2 * math.pi * 5 * 10] * 2)
    assert rods.measure(body).volume == pytest.approx(math.pi * 25 * 20)
    (tried,) = (f.value for f in change.facts if f.code == "rung")
    assert "merging its faces would have damaged the body" in tried


def test_only_round_faces_are_tried_with_what_lies_around_them(rods, monkeypatch):
    """In the trial stand the two round walls and the ends; where only flat faces meet there is none."""
    seen = []
    monkeypatch.setattr(merging, "ends_well", lambda way, _: seen.append(way.__self__) or True)
    plate = build.subtract(build.box(40, 40, 4), *(build.cylinder(1, 6, (x, 5, -1)) for x in (5, 10, 15)))
    joined = build.unite(build.unite(plate, build.box(4, 40, 10, (40, 0, 0))), build.cylinder(4, 10, (20, 20, 0)))
    assert seen == []
    build.unite(joined, build.cylinder(4, 10, (20, 20, 10)))
    (tried,) = seen
    tried.Build()
    assert len(parts_of(tried.Shape(), "face")) == 3, "the wall made one, the plate's top around it, its end"
