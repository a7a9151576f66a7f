"""Features lifted out: what is lifted and what is left add up to the part, or to the part closed up."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.volumes import volume_properties
from tests.core.test_feature_sizes import plate
from tests.parts import model_of
from tests.planted import planted_plate


def lifted(model, body, feature, way):
    """Volumes: of the part before and after, and of what was lifted out."""
    before = model.measure(body).volume
    change = model.do("lift out", faces=[feature.faces[0]], way=way)
    made = next(b for b in change.added if b.startswith("b"))
    for ident in (body, made):
        assert fault(model.geometry.solid(model.body(ident).shape).shape) is None
    return before, model.measure(body).volume, model.measure(made).volume


@pytest.mark.parametrize("seed", range(4))
def test_part_and_lifted_solid_add_up(tmp_path, seed):
    """Cut: what sinks adds its plug, what stands takes its matter; copied, the part stays as it was."""
    model, body = model_of(tmp_path, planted_plate(seed)[0])
    features = [f for f in model.features(body) if f.kind not in ("fillet", "chamfer")]
    for feature in features:
        rises = feature.kind in ("boss", "rib")
        before, after, own = lifted(model, body, feature, "cut")
        assert after == pytest.approx(before - own if rises else before + own, rel=1e-9), feature
        model.undo()
    before, after, own = lifted(model, body, features[0], "copy")
    assert after == before
    assert own > 0


def test_a_plug_has_the_form_of_its_pocket_with_its_rounds(tmp_path):
    tool = build.fillet(build.box(40, 30, 20, (10, 15, 8)), 5, lambda e: abs(e.ends[0][2] - e.ends[1][2]) > 1)
    tool = build.fillet(tool, 2, lambda e: abs(e.middle[2] - 8) < 1e-6)
    model, body = model_of(tmp_path, build.subtract(build.box(80, 60, 20), tool))
    pocket = next(f for f in model.features(body) if f.kind == "pocket")
    _, after, own = lifted(model, body, pocket, "cut")
    assert after == pytest.approx(80 * 60 * 20, rel=1e-9)
    assert own == pytest.approx(
        volume_properties(build.subtract(tool, build.box(90, 90, 20, (0, 0, 20)))).amount, rel=1e-9
    )
    assert [model.snapshot.bodies[b].name for b in sorted(model.snapshot.bodies)] == [
        "Part",
        "Plug of a pocket of Part",
    ]


def test_a_boss_with_a_hole_through_it_comes_with_its_hole(tmp_path):
    body = build.unite(build.box(60, 60, 10), build.cylinder(12, 21, (30, 30, 9)))
    model, ident = model_of(tmp_path, build.subtract(body, build.cylinder(4, 12, (30, 30, 20))))
    boss = next(f for f in model.features(ident) if f.kind == "boss")
    _, after, own = lifted(model, ident, boss, "cut")
    assert own == pytest.approx(math.pi * 144 * 20 - math.pi * 16 * 10, rel=1e-9)
    assert after == pytest.approx(60 * 60 * 10, rel=1e-9)


def test_a_plain_face_is_no_feature(tmp_path):
    model, body = model_of(tmp_path, plate())
    side = model.faces(body, kind="plane", normal=(1, 0, 0)).largest()
    before = model.snapshot
    with pytest.raises(EditError, match="belongs to no feature"):
        model.do("lift out", faces=[side.id])
    assert model.snapshot is before
