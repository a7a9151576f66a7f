"""Sizes of features set: what comes out is the part built at the new size."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.volumes import volume_properties
from tests.parts import model_of


def plate(**sizes):
    """A plate 120 × 60 × 20 with one of each; sizes that differ from the usual ones."""
    s = {
        "bore": 4.0, "sink": 7.0, "sunk": 6.0, "deep": 9.0, "slot": 8.0, "long": 26.0, "slot_deep": 5.0,
        "x": 24.0, "y": 16.0, "pocket_deep": 7.0, "boss": 6.0, "high": 11.0,
        "thick": 3.0, "rib_high": 9.0, "channel": 4.0,
    } | sizes  # fmt: skip
    body = build.box(120, 60, 20)
    cyl, box = build.cylinder, build.box
    half = (s["long"] - s["slot"]) / 2
    r, low = s["slot"] / 2, 20 - s["slot_deep"]
    slot = [box(2 * half, s["slot"], 10, (50 - half, 15 - r, low))] + [
        cyl(r, 10, (50 + k * half, 15, low)) for k in (-1, 1)
    ]
    body = build.unite(
        body, cyl(s["boss"], s["high"] + 1, (20, 45, 19)),
        box(30, s["thick"], s["rib_high"] + 1, (40, 45 - s["thick"] / 2, 19)),
    )  # fmt: skip
    return build.subtract(
        body, cyl(s["bore"], 22, (20, 15, -1)), cyl(s["sink"], 20, (20, 15, 20 - s["sunk"])),
        cyl(3, 20, (78, 15, 20 - s["deep"])), *slot,
        box(s["x"], s["y"], 20, (98 - s["x"] / 2, 40 - s["y"] / 2, 20 - s["pocket_deep"])),
        box(s["channel"], 62, 3, (88 - s["channel"] / 2, -1, -1)),
    )  # fmt: skip


CASES = [
    ("hole", "counterbored, through", "diameter", 9.5, {"bore": 4.75}),
    ("hole", "counterbored, through", "counterbore_diameter", 17, {"sink": 8.5}),
    ("hole", "counterbored, through", "counterbore_depth", 8.25, {"sunk": 8.25}),
    ("hole", "blind, flat end", "depth", 14.5, {"deep": 14.5}),
    ("slot", "closed, round ends", "width", 6, {"slot": 6.0}),
    ("slot", "closed, round ends", "length", 31, {"long": 31.0}),
    ("slot", "closed, round ends", "depth", 3, {"slot_deep": 3.0}),
    ("pocket", "closed", "length", 28, {"x": 28.0}),
    ("pocket", "closed", "width", 11, {"y": 11.0}),
    ("pocket", "closed", "depth", 12, {"pocket_deep": 12.0}),
    ("boss", "round", "diameter", 15, {"boss": 7.5}),
    ("boss", "round", "height", 4, {"high": 4.0}),
    ("rib", "", "thickness", 2, {"thick": 2.0}),
    ("rib", "", "height", 12, {"rib_high": 12.0}),
    ("slot", "open at both ends", "width", 6, {"channel": 6.0}),
]


@pytest.fixture(scope="module")
def start(tmp_path_factory):
    return model_of(tmp_path_factory.mktemp("features"), plate())


@pytest.mark.parametrize(
    ("kind", "form", "size", "value", "built"), CASES, ids=lambda v: str(v) if isinstance(v, str) else ""
)
def test_a_size_that_is_set_leaves_the_part_built_so(start, kind, form, size, value, built):
    model, body = start
    feature = next(f for f in model.features(body) if (f.kind, f.form) == (kind, form))
    model.do("feature size", faces=[feature.faces[0]], size=size, value=value)
    try:
        assert model.measure(body).volume == pytest.approx(volume_properties(plate(**built)).amount, rel=1e-9)
        same = {n: v for n, v in feature.sizes.items() if not n.startswith(size.split("_")[0])} | {size: value}
        found = [f.sizes for f in model.features(body) if (f.kind, f.form) == (kind, form)]
        assert any({n: f[n] for n in same} == pytest.approx(same) for f in found), found
    finally:
        model.undo()


def test_all_of_a_repeat_at_once_and_rounds_by_their_run(tmp_path):
    body = build.subtract(build.box(80, 40, 12), *(build.cylinder(3, 8, (15 + 25 * i, 20, 6)) for i in range(3)))
    body = build.fillet(body, 2, lambda e: e.kind == "line" and abs(e.length - 12) < 1e-6)
    model, ident = model_of(tmp_path, body)
    hole = next(f for f in model.features(ident) if f.kind == "hole")
    model.do("feature size", faces=[hole.faces[0]], size="depth", value="4 mm", members="alike")
    model.do("feature size", faces=[hole.faces[0]], size="diameter", value="7 mm", members="alike")
    assert model.measure(ident).volume == pytest.approx(
        80 * 40 * 12 - (4 - math.pi) * 4 * 12 - 3 * math.pi * 3.5**2 * 4
    )
    round_ = next(f for f in model.features(ident) if f.kind == "fillet")
    model.do("feature size", faces=[round_.faces[0]], size="radius", value=3, members="alike")
    assert {f.sizes["radius"] for f in model.features(ident) if f.kind == "fillet"} == {3.0}


def test_what_cannot_be_set_is_told_with_what_can(tmp_path):
    model, body = model_of(tmp_path, plate())
    before = model.snapshot
    hole = next(f for f in model.features(body) if f.form == "counterbored, through")
    with pytest.raises(EditError, match=r"a hole has no such size to set; there is diameter, counterbore_diameter"):
        model.do("feature size", faces=[hole.faces[0]], size="height", value=3)
    with pytest.raises(EditError, match="is 8 mm already"):
        model.do("feature size", faces=[hole.faces[0]], size="diameter", value="8 mm")
    lone = next(f for f in model.faces(body) if not any(f.id in g.faces for g in model.features(body)))
    with pytest.raises(EditError, match="it belongs to no feature"):
        model.do("feature size", faces=[lone.id], size="diameter", value=3)
    with pytest.raises(EditError):
        model.do("feature size", faces=[hole.faces[0]], size="diameter", value=90)
    assert model.snapshot is before
