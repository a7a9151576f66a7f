"""Planted damage is found, named and mended to the volume it had; clean parts raise no alarm."""

from __future__ import annotations

import json
import math
import random

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.cli.recipe import apply_recipe
from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.damage import DAMAGES, mixed
from ravine.core.kernel.shapes import Shape, parts_of
from ravine.core.kernel.volumes import volume_properties
from ravine.core.mending.checkup import flaws_of
from ravine.core.mending.findings import KINDS
from ravine.core.mending.ladder import mended
from ravine.core.mending.mesh_checkup import mesh_flaws
from ravine.core.mending.mesh_mending import mesh_mended
from ravine.core.mending.report import flaw_counts
from ravine.core.model.trimesh_body import TriangleMesh
from tests.parts import boss_block, drilled_block, drilled_volume, grid_plate, model_of

VOLUME = drilled_volume(40, 30, 20, 5)


def rounded(x: float, y: float, z: float, radius: float) -> Shape:
    return build.fillet(build.box(x, y, z), radius, lambda e: abs((e.direction or (0, 0, 0))[2]) > 0.9)


def stepped() -> Shape:
    return build.unite(build.cylinder(20, 10), build.cylinder(12, 30), build.cone(12, 6, 8, (0, 0, 30)))


PARTS = {"drilled": drilled_block, "boss": boss_block, "stepped": stepped, "rounded": lambda: rounded(50, 40, 15, 4)}


def codes(shape: Shape) -> dict[str, int]:
    found: dict[str, int] = {}
    for flaw in flaws_of(shape):
        if not KINDS[flaw.code].note:
            found[flaw.code] = found.get(flaw.code, 0) + flaw.count
    return found


@pytest.mark.parametrize("part", [*PARTS, "grid"])
def test_clean_parts_raise_no_alarm(part: str) -> None:
    shape = grid_plate(4, 3) if part == "grid" else PARTS[part]()
    assert codes(shape) == {}
    assert mended(shape).done == {}


@pytest.mark.parametrize("part", PARTS)
@pytest.mark.parametrize("kind", DAMAGES)
def test_each_damage_is_found_and_mended(part: str, kind: str) -> None:
    good = PARTS[part]()
    volume = volume_properties(good).amount
    for seed in (3, 11):
        hurt = DAMAGES[kind](good, random.Random(seed))
        if hurt is None:  # this part has no face of the kind needed
            continue
        found = codes(hurt.shape)
        several = hurt.planted.code in ("gap", "split face", "coarse tolerance", "loose border", "sliver")
        assert found.get(hurt.planted.code, 0) >= 1
        assert several or found == {hurt.planted.code: hurt.planted.count}
        result = mended(hurt.shape)
        assert result.trouble is None
        assert fault(result.shape) is None
        assert volume_properties(result.shape).amount == pytest.approx(volume, rel=1e-3)
        assert codes(result.shape) == {}


def test_a_gap_tells_its_width() -> None:
    hurt = DAMAGES["gap"](build.box(30, 20, 10), random.Random(5), width=0.03)
    widths = [f.size for f in flaws_of(hurt.shape) if f.code == "gap"]
    assert widths
    assert max(widths) <= 0.03 * 1.01
    assert max(widths) >= 0.03 / math.sqrt(3) * 0.99  # along one of three edge directions at least


@settings(max_examples=12, deadline=None)
@given(st.floats(20, 60), st.floats(20, 60), st.floats(6, 20), st.floats(1, 4), st.integers(0, 10**6))
def test_a_face_dropped_from_any_rounded_plate_comes_back(x, y, z, radius, seed) -> None:
    good = build.subtract(rounded(x, y, z, radius), build.cylinder(3, z + 2, (x / 2, y / 2, -1)))
    hurt = DAMAGES["drop a face"](good, random.Random(seed))
    result = mended(hurt.shape)
    assert result.done == {"missing face": 1}
    volume = (x * y - (4 - math.pi) * radius**2 - 9 * math.pi) * z
    assert volume_properties(result.shape).amount == pytest.approx(volume, rel=1e-6)


def test_most_mixed_damages_are_mended() -> None:
    right = 0
    for seed in range(12):
        good = list(PARTS.values())[seed % 4]()
        shape, _ = mixed(good, random.Random(seed))
        result = mended(shape)
        volume = volume_properties(good).amount
        if parts_of(result.shape, "solid") and fault(result.shape) is None:
            right += abs(volume_properties(result.shape).amount - volume) < 1e-3 * volume
    assert right >= 9


def hurt_model(tmp_path, kind: str = "drop a face", seed: int = 3) -> tuple[Model, str, str]:
    hurt = DAMAGES[kind](drilled_block(), random.Random(seed))
    model, body = model_of(tmp_path, hurt.shape)
    return model, body, model.nodes()[0]


def test_the_edit_mends_a_body_and_keeps_ids(tmp_path) -> None:
    model, body, node = hurt_model(tmp_path)
    assert model.body(body).kind == "surface"
    before = model.body(body)
    change = model.do("mend", parts=[node])
    after = model.body(body)
    assert after.kind == "solid"
    assert set(before.faces) < set(after.faces)
    assert set(before.edges) <= set(after.edges)
    assert change.fact("mended missing face") == 1
    assert model.measure(body).volume == pytest.approx(drilled_volume(40, 30, 20, 5), rel=1e-9)
    assert change.sentence == "Mended Part"
    with pytest.raises(EditError, match="there is nothing to mend in Part"):
        model.do("mend", parts=[node])
    model.undo()
    assert model.body(body) == before
    with pytest.raises(EditError, match="no turned faces to mend"):
        model.do("mend", parts=[node], what="turned faces")
    model.do("lock", parts=[node])
    with pytest.raises(EditError, match="locked"):
        model.do("mend", parts=[node])


def test_loose_faces_are_stitched_and_what_stays_open_is_told(tmp_path) -> None:
    model, body, node = hurt_model(tmp_path, "loosen")
    assert model.body(body).kind == "surface"
    change = model.do("stitch", parts=[node], tolerance="0.001")
    assert change.fact("open") == 0
    assert change.fact("open_before") == 28  # 12 and 2 edges, each twice
    assert model.body(body).kind == "solid"
    model.undo()
    gapped, body, node = hurt_model(tmp_path, "gap")
    with pytest.raises(EditError, match=r"no two borders run within 0\.001 mm"):
        gapped.do("stitch", parts=[node], tolerance="0.001")
    assert gapped.do("stitch", parts=[node], tolerance="0.05").fact("open") == 0


def test_a_turned_face_of_a_surface_is_found_and_turned_over(tmp_path) -> None:
    model, body, _ = hurt_model(tmp_path)
    face = model.body(body).faces[1]

    def report() -> dict:
        return json.loads(next(iter(model.do("check up", format="json").files.values())))

    assert report()["counts"] == {"missing face": 1}
    model.do("turn over", faces=[f"f{face}"])
    found = report()
    assert found["counts"] == {"missing face": 1, "turned face": 1}
    (finding,) = [f for f in found["findings"] if f["code"] == "turned face"]
    assert finding["where"] == [f"f{face}"]
    model.do("turn over", faces=finding["where"])
    assert report()["counts"] == {"missing face": 1}
    text = next(iter(model.do("check up").files.values())).decode()
    assert "1  missing face: a border that nothing closes" in text
    model.do("mend", parts=[model.nodes()[0]])
    with pytest.raises(EditError, match="is a solid"):
        model.do("turn over", faces=[f"f{face}"])


def test_overlaps_and_doubtful_sizes_between_parts(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.box(20, 20, 20), "One")
    for name, shape in (("Two", build.box(20, 20, 20, (15, 0, 0))), ("Huge", build.box(1e4, 20, 20, (0, 100, 0)))):
        model_of(tmp_path, shape, name)
        model.do("import", path=str(tmp_path / f"{name}.step"))
    report = json.loads(next(iter(model.do("check up", format="json").files.values())))
    assert report["counts"] == {"overlap": 1, "unit": 1}
    (overlap,) = [f for f in report["findings"] if f["code"] == "overlap"]
    assert overlap["place"] == pytest.approx([17.5, 10, 10])


def ball(count: int = 3) -> TriangleMesh:
    made = trimesh.creation.icosphere(count, 10)
    return TriangleMesh(np.array(made.vertices), np.array(made.faces, np.int32))


def mesh_codes(mesh: TriangleMesh) -> dict[str, int]:
    found: dict[str, int] = {}
    for flaw in mesh_flaws(mesh):
        found[flaw.code] = found.get(flaw.code, 0) + flaw.count
    return found


def test_each_damage_of_a_mesh_is_found_and_mended() -> None:
    good = ball()
    volume = good.volume_and_centroid[0]
    assert mesh_codes(good) == {}
    assert mesh_mended(good).done == {}
    t = good.triangles.copy()
    flipped = t.copy()
    flipped[[5, 80, 200]] = flipped[[5, 80, 200]][:, ::-1]
    around = np.flatnonzero((t == 40).any(axis=1))
    crumb = np.concatenate([good.points, good.points[:3] + 40])
    cases = {
        "hole": (good.points, np.delete(t, around, axis=0), 1),
        "turned triangle": (good.points, flipped, 3),
        "doubled triangle": (good.points, np.concatenate([t, t[7:9]]), 2),
        "inside out": (good.points, t[:, ::-1], 1),
        "crumb": (crumb, np.concatenate([t, [[len(good.points) + k for k in range(3)]]]), 1),
    }
    for code, (points, triangles, count) in cases.items():
        hurt = TriangleMesh(points, np.ascontiguousarray(triangles, np.int32))
        assert mesh_codes(hurt)[code] == count
        result = mesh_mended(hurt)
        assert result.mesh.is_closed
        assert result.mesh.volume_and_centroid[0] == pytest.approx(volume, rel=5e-3)
        assert result.done[code] == count


def test_a_noisy_mesh_is_smoothed_and_a_fine_one_thinned(tmp_path) -> None:
    rng = np.random.default_rng(3)
    fine = ball(5)
    noisy = TriangleMesh(fine.points * (1 + rng.normal(0, 2e-3, (len(fine.points), 1))), fine.triangles)
    made = trimesh.Trimesh(noisy.points, noisy.triangles, process=False)
    (tmp_path / "ball.stl").write_bytes(made.export(file_type="stl"))
    model = Model()
    (body,) = model.do("import", path=str(tmp_path / "ball.stl"), units="mm").added
    node = model.nodes()[0]

    def roughness() -> float:
        return float(np.linalg.norm(model.geometry.get(model.body(body).shape).points, axis=1).std())

    before = roughness()
    model.do("smooth", parts=[node], rounds=20)
    assert roughness() < 0.35 * before
    assert model.measure(body).volume == pytest.approx(4 / 3 * math.pi * 1000, rel=5e-3)
    change = model.do("decimate", parts=[node], share="10 %")
    assert change.fact("triangles") == pytest.approx(2048, abs=8)
    assert change.fact("off") < 0.05
    assert model.geometry.get(model.body(body).shape).is_closed
    exact, _ = model_of(tmp_path, build.box(5, 5, 5))
    with pytest.raises(EditError, match="has exact faces"):
        exact.do("smooth", parts=exact.nodes())


def test_a_part_is_replaced_by_a_newer_one(tmp_path) -> None:
    """The hole grew: its wall is new, all else keeps its ids, and the set tells what it lost."""
    model, body = model_of(tmp_path, drilled_block(), "Block")
    model.do("repeat parts", parts=model.nodes(), along="x", step=100, count=2)
    node = next(n for n in model.nodes() if model.snapshot.nodes[int(n[1:])].body is not None)
    hole = model.faces(body, kind="cylinder").ids
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).ids
    model.do("name set", things=[*hole, *top], called="Load")
    model_of(tmp_path, drilled_block(radius=7), "Newer")
    model.do("import", path=str(tmp_path / "Newer.step"))
    newer = model.nodes("Newer")[0]
    with pytest.raises(EditError, match="replaced by itself"):
        model.do("replace", part=[node], newer=[node])
    before = model.body(body)
    change = model.do("replace", part=[node], newer=[newer])
    after = model.body(body)
    assert model.measure(body).volume == pytest.approx(drilled_volume(40, 30, 20, 7), rel=1e-9)
    assert len(model.snapshot.occurrences(after.id)) == 2
    assert model.nodes("Newer") == []
    assert set(before.faces) - set(after.faces) == {int(hole[0][1:])}
    assert change.fact("kept") == 6
    assert "the set Load lost 1 of 2" in change.warnings
    assert model.snapshot.set_left("Load") == tuple(top)
    model.undo()
    assert model.body(body) == before


def test_a_recipe_checks_many_files(tmp_path) -> None:
    paths = []
    for kind in ("drop a face", "duplicate a face"):
        model_of(tmp_path, DAMAGES[kind](drilled_block(), random.Random(3)).shape, kind)
        paths.append(tmp_path / f"{kind}.step")
    for path in paths:
        row = apply_recipe(
            [{"edit": "check up", "format": "json"}, {"edit": "mend", "parts": "all"}], path, tmp_path, None
        )
        assert row["volume_mm3"] == pytest.approx(VOLUME, rel=1e-6)
    reports = [json.loads((tmp_path / f"{p.stem} check-up.json").read_text()) for p in paths]
    assert [r["counts"] for r in reports] == [{"missing face": 1}, {"duplicate face": 1}]


@settings(max_examples=10, deadline=None)
@given(st.floats(0.02, 0.5), st.floats(2, 5))
def test_a_wall_of_varying_thickness_is_told(rise: float, thickness: float) -> None:
    wedge = build.extrude(
        build.outline([(0, 0, 0), (60, 0, 0), (60, 0, thickness + rise), (0, 0, thickness)]), (0, 40, 0)
    )
    (flaw,) = [f for f in flaws_of(wedge) if f.code == "uneven wall"]
    assert flaw.size == pytest.approx(rise, rel=1e-3)
    assert len(flaw.faces) == 2
    assert not flaws_of(build.box(60, 40, thickness))


def test_a_mesh_is_replaced_as_a_whole(tmp_path) -> None:
    for name, mesh in (("old", ball(3)), ("new", ball(4))):
        made = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
        (tmp_path / f"{name}.stl").write_bytes(made.export(file_type="stl"))
    model = Model()
    (old,) = model.do("import", path=str(tmp_path / "old.stl"), units="mm").added
    model.do("import", path=str(tmp_path / "new.stl"), units="mm")
    at_old, at_new = model.nodes("old")[0], model.nodes("new")[0]
    model.do("move body", parts=[at_old], along="x", distance=30)
    model.do("replace", part=[at_old], newer=[at_new])
    assert model.bodies() == [old]
    assert len(model.geometry.get(model.body(old).shape).triangles) == len(ball(4).triangles)
    assert model.measure(old).centroid[0] == pytest.approx(30, abs=1e-6)


@pytest.mark.parametrize("seed", [1, 2, 5])
def test_what_mending_tells_agrees_with_a_check_up_before_and_after(tmp_path, seed: int) -> None:
    shape, _ = mixed(drilled_block(), random.Random(seed))
    model, body = model_of(tmp_path, shape)
    ids = {int(body[1:])}
    had = flaw_counts(model.snapshot, model.geometry, ids)
    change = model.do("mend", parts=model.nodes())
    has = flaw_counts(model.snapshot, model.geometry, ids)
    told = {f.code: f.value for f in change.facts}
    fixes = {KINDS[code].fix for code in had}
    mends = {c.removeprefix("mended ") for c in told if c.startswith("mended ")}
    assert mends <= {code for code, kind in KINDS.items() if kind.fix in fixes}
    assert {c.removeprefix("left "): n for c, n in told.items() if c.startswith("left ")} == {
        c: n for c, n in has.items() if c in had
    }
    brought = [c for c in has if c not in had]
    assert any(w.startswith("mending brought") for w in change.warnings) == bool(brought)


def test_what_a_person_has_to_decide_is_told_where_nothing_mends_itself(tmp_path) -> None:
    """Two boxes side by side whose walls miss one another by 3 µm."""
    steps = build.unite(build.box(30, 20, 10), build.box(10, 19.997, 5, (30, 0.003, 0)))
    model, _ = model_of(tmp_path, steps)
    with pytest.raises(EditError, match=r"to mend in Part by itself; a person decides about \d+ short edges?"):
        model.do("mend", parts=model.nodes())
