"""Sections: outlines from triangles, exact figures, widths, and drawing files read back by others."""

from __future__ import annotations

import io
import math

import ezdxf
import numpy as np
import pytest
import svgelements
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.section.cut import cut_of, section_plane
from ravine.core.section.exact import figures_of
from ravine.core.section.rings import filled, inside, owners
from ravine.core.section.width import width_at
from tests.parts import boss_block, model_of, step_file


def exact(model, *plane):
    return figures_of(model.snapshot, model.geometry, section_plane(plane))


def rough(model, *plane):
    return cut_of(model.snapshot, model.geometry, section_plane(plane)).parts


@pytest.fixture(scope="module")
def boss(tmp_path_factory):
    return model_of(tmp_path_factory.mktemp("boss"), boss_block(), "Boss")[0]


def test_areas_and_outlines_of_a_boss_by_formula(boss):
    (ring,) = exact(boss, 0, 0, 15, 0, 0, 1)
    assert ring.area == pytest.approx(math.pi * (10**2 - 4**2), rel=1e-12)
    assert ring.perimeter == pytest.approx(2 * math.pi * 14, rel=1e-12)
    assert [len(r.loops) for r in ring.regions] == [2]
    (upright,) = exact(boss, 30, 20, 0, 0, -1, 0)  # through the hole: two halves, each a plate end and half a boss
    assert upright.area == pytest.approx(2 * (26 * 10 + 6 * 12), rel=1e-12)
    assert len(upright.regions) == 2


def test_a_plane_along_a_face_shows_the_matter_behind_it_in_one_piece(boss):
    (figure,) = exact(boss, 0, 0, 10, 0, 0, 1)
    assert figure.area == pytest.approx(60 * 40 - math.pi * 4**2, rel=1e-9)
    assert len(figure.regions) == 1
    (part,) = rough(boss, 0, 0, 10, 0, 0, 1)
    assert sum(r.area for r in part.rings) == pytest.approx(figure.area, rel=1e-3)


@settings(max_examples=25, deadline=None)
@given(
    st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)).filter(lambda v: math.hypot(*v) > 0.2),
    st.tuples(st.floats(5, 55), st.floats(5, 35), st.floats(1, 9)),
)
def test_triangles_and_kernel_agree_for_any_plane(boss, normal, point):
    parts, figures = rough(boss, *point, *normal), exact(boss, *point, *normal)
    assert [p.node for p in parts] == [f.node for f in figures]
    for part, figure in zip(parts, figures, strict=True):
        assert all(r.closed for r in part.rings)
        area = sum(r.area for r in part.rings)
        assert area == pytest.approx(figure.area, rel=2e-2, abs=0.05)
        places = np.concatenate([r.places for r in part.rings])
        a, b, c = (places[filled(part.rings)[:, k]] for k in range(3))
        filled_area = np.abs((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]).sum() / 2
        assert filled_area == pytest.approx(area, rel=1e-6, abs=1e-6)


def test_each_stretch_knows_its_face(boss):
    (part,) = rough(boss, 0, 0, 15, 0, 0, 1)
    outer, hole = sorted(part.rings, key=lambda r: -r.area)
    snapshot = boss.snapshot
    (body,) = snapshot.bodies.values()
    solid = boss.geometry.solid(body.shape)
    radii = {solid.topology.surface(int(f)).numbers[0] for r in (outer, hole) for f in r.faces}
    assert radii == {10.0, 4.0}
    assert owners([outer, hole]) == [-1, 0]
    assert inside(np.array([30.0, 29.0]), outer.places)
    assert not inside(np.array([30.0, 31.0]), outer.places)


def test_placed_parts_are_cut_where_they_stand_and_hidden_ones_are_not(tmp_path):
    model, _ = model_of(tmp_path, build.box(10, 10, 10), "Low")
    model.do("import", path=str(step_file(tmp_path / "high.step", build.box(10, 10, 10), "High")))
    high = next(o for o in model.snapshot.occurrences() if o.node.name == "High")
    model.do("move body", parts=[f"n{high.node.id}"], distance="4 mm", along="z")
    heights = lambda *plane: {f.name: round(f.area, 9) for f in exact(model, *plane)}  # noqa: E731
    assert heights(0, 0, 2, 0, 0, 1) == {"Low": 100.0}
    assert heights(0, 0, 12, 0, 0, 1) == {"High": 100.0}
    plane = section_plane((0, 0, 7, 0, 0, 1))
    assert len(cut_of(model.snapshot, model.geometry, plane).parts) == 2
    assert [p.name for p in cut_of(model.snapshot, model.geometry, plane, {f"n{high.node.id}"}).parts] == ["Low"]


@settings(max_examples=20, deadline=None)
@given(st.floats(0.01, 2.5), st.floats(0.5, 6))
def test_a_pin_in_a_bore_shows_its_gap_and_walls(tmp_path_factory, gap, wall):
    bore, outer = 5 + gap, 5 + gap + wall
    bush = build.subtract(build.cylinder(outer, 20), build.cylinder(bore, 22, (0, 0, -1)))
    folder = tmp_path_factory.mktemp("fit")
    model, _ = model_of(folder, build.cylinder(5, 20), "Pin")
    model.do("import", path=str(step_file(folder / "Bush.step", bush, "Bush")))
    figures = exact(model, 0, 0, 10, 0, 0, 1)
    there = np.array([math.cos(0.7), math.sin(0.7)])
    found = width_at(figures, there * (5 + 0.4 * gap))
    assert (found.kind, set(found.parts)) == ("gap", {"Pin", "Bush"})
    assert found.value == pytest.approx(gap, abs=1e-9)
    found = width_at(figures, there * (bore + 0.4 * wall))
    assert (found.kind, found.parts) == ("wall", ("Bush",))
    assert found.value == pytest.approx(wall, abs=1e-9)
    assert width_at(figures, there * 40) is None or width_at(figures, there * 40).kind != "wall"


def test_parts_that_lie_in_one_another_are_told(tmp_path):
    model, _ = model_of(tmp_path, build.box(10, 10, 10), "One")
    model.do("import", path=str(step_file(tmp_path / "b.step", build.box(10, 10, 10, (8, 0, 0)), "Other")))
    found = width_at(exact(model, 0, 0, 5, 0, 0, 1), (8.9, 5))
    assert (found.kind, set(found.parts)) == ("overlap", {"One", "Other"})
    assert found.value == pytest.approx(2, abs=1e-9)


def test_saved_drawings_hold_the_exact_section(boss, tmp_path):
    dxf = boss.do("save section", at="z 15", format="dxf").files["section.dxf"]
    space = ezdxf.read(io.StringIO(dxf.decode())).modelspace()
    circles = sorted(c.dxf.radius for c in space.query("CIRCLE"))
    assert circles == pytest.approx([4, 10])
    assert {e.dxf.layer for e in space} == {"Boss", "Boss hatching"}
    assert len(space.query("HATCH")) == 1
    svg = boss.do("save section", at="30,20,5 along 0.2,-1,0.3", hatching="plain").files["section.svg"]
    document = svgelements.SVG.parse(io.BytesIO(svg), ppi=25.4, transform=None)
    length = sum(p.length(error=1e-9) for p in document.elements() if isinstance(p, svgelements.Path))
    (figure,) = exact(boss, 30, 20, 5, 0.2, -1, 0.3)
    assert length == pytest.approx(figure.perimeter, rel=1e-5)  # its inch is rounded


def test_planes_are_written_and_refused_in_words(boss):
    assert boss.do("save section", at="-x 1 in").sentence == "Saved the section at -x 25.4 mm as SVG"
    for bad in ("", "w 3", "x 3 kg", "0,0,0 along 0,0,0", "1,2 along 0,0,1"):
        with pytest.raises(EditError):
            boss.do("save section", at=bad)
    with pytest.raises(EditError, match="meets no part"):
        boss.do("save section", at="z 400")
    with pytest.raises(EditError):
        section_plane((0, 0, 0, 0, 0, 0))


def test_a_round_face_gives_the_plane_through_its_axis(boss):
    from ravine.core.model.references import references
    from ravine.core.operations.planes import plane_through
    from ravine.core.operations.work import Work

    work = Work(boss.snapshot, boss.geometry)
    (body,) = boss.snapshot.bodies
    hole = next(f for f in boss.faces(f"b{body}", kind="cylinder") if abs(f.radius - 4) < 1e-9)
    plane = plane_through(work, references(boss.snapshot, [hole.id]))
    assert abs(np.dot(plane.normal, (0, 0, 1))) < 1e-12
    assert np.dot(np.subtract((30, 20, 0), plane.origin), plane.normal) == pytest.approx(0, abs=1e-9)
