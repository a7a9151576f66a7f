"""Trees of parts drawn at random go out as files and come in again: every place of every part where it was, read back
by us and, as triangles, by another reader."""

from __future__ import annotations

import io

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Model
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.volumes import volume_properties
from ravine.core.rigid import Rigid

PARTS = [WritePart(name, shape, None, {}) for name, shape in (
    ("Block", build.box(8, 6, 4)), ("Pin", build.cylinder(2, 9)), ("Wedge", build.extrude(
        build.outline([(0, 0, 0), (7, 0, 0), (0, 5, 0)]), (0, 0, 3))))]  # fmt: skip
VOLUMES = {"Block": 192.0, "Pin": 4 * np.pi * 9, "Wedge": 52.5}

motions = st.tuples(*[st.floats(-60, 60)] * 3, st.floats(-3, 3), st.sampled_from([(1, 0, 0), (0, 1, 0), (0, 0, 1),
                                                                                 (0.6, 0, 0.8)]))  # fmt: skip


def rigid(row):
    return Rigid.slide(row[:3]) @ Rigid.about((0, 0, 0), row[4], row[3])


leaves = st.tuples(motions, st.integers(0, len(PARTS) - 1))
trees = st.recursive(leaves, lambda inner: st.tuples(motions, st.lists(inner, min_size=1, max_size=3)), max_leaves=7)


def nodes_of(tree, name="G"):
    motion, what = tree
    if isinstance(what, int):
        return WriteNode(PARTS[what].name, rigid(motion), what, [])
    return WriteNode(name, rigid(motion), None, [nodes_of(t, f"{name}{k}") for k, t in enumerate(what)])


def stands(tree, above=None):
    """Name and place of every part, worked out along its path."""
    motion, what = tree
    here = rigid(motion) if above is None else above @ rigid(motion)
    if isinstance(what, int):
        return [(PARTS[what].name, here)]
    return [row for inner in what for row in stands(inner, here)]


def brought_in(tree, tmp_path_factory):
    roots = nodes_of(tree)
    roots = roots if roots.part is None else WriteNode("G", Rigid.slide((0, 0, 0)), None, [roots])
    path = tmp_path_factory.mktemp("tree") / "tree.step"
    path.write_bytes(step.write([roots], PARTS, "Tree"))
    model = Model()
    model.do("import", path=str(path))
    return model


def middles(model):
    """By part, sorted: where the middle of each copy lies."""
    rows = ((o.body.name, o.matrix, model.geometry.solid(o.body.shape).shape) for o in model.snapshot.occurrences())
    return sorted((name, *np.round(there.point(volume_properties(shape).centroid), 5)) for name, there, shape in rows)


def wanted(tree):
    own = {p.name: volume_properties(p.shape).centroid for p in PARTS}
    return sorted((name, *np.round(here.point(own[name]), 5)) for name, here in stands(tree))


def same(found, asked):
    assert [row[0] for row in found] == [row[0] for row in asked]
    left = [np.array(row[1:]) for row in asked]
    for name, *at in found:
        k = min((i for i, row in enumerate(asked) if row[0] == name and left[i] is not None),
                key=lambda i: np.linalg.norm(left[i] - at))  # fmt: skip
        assert np.linalg.norm(left[k] - at) < 1e-4, name
        left[k] = None


@given(trees)
@settings(max_examples=12, deadline=None)
def test_every_copy_comes_in_where_its_path_puts_it(tmp_path_factory, tree):
    model = brought_in(tree, tmp_path_factory)
    same(middles(model), wanted(tree))
    names = {name for name, _ in stands(tree)}
    assert {model.body(b).name for b in model.bodies()} == names, "copies share their part"
    for body in model.bodies():
        assert model.measure(body).volume == pytest.approx(VOLUMES[model.body(body).name], rel=1e-9)


@given(trees)
@settings(max_examples=8, deadline=None)
def test_out_and_in_again_changes_no_place(tmp_path_factory, tree):
    model = brought_in(tree, tmp_path_factory)
    path = tmp_path_factory.mktemp("again") / "again.step"
    model.save(path)
    again = Model()
    again.do("import", path=str(path))
    same(middles(again), middles(model))
    called = [sorted(n.name for n in m.snapshot.nodes.values() if n.body is not None) for m in (model, again)]
    assert called[0] == called[1]


@given(trees, st.sampled_from(["glb", "3mf", "obj", "stl", "ply"]))
@settings(max_examples=12, deadline=None)
def test_triangles_fill_the_room_that_the_parts_fill(tmp_path_factory, tree, kind):
    """By another reader: the bounds of the scene, and the volume of all copies."""
    model = brought_in(tree, tmp_path_factory)
    (data,) = model.do("export", format=kind).files.values()
    read = trimesh.load(io.BytesIO(data), file_type=kind)
    mesh = read.to_geometry() if isinstance(read, trimesh.Scene) else read
    scale = 1000.0 if kind == "glb" else 1.0
    volume = sum(VOLUMES[name] for name, _ in stands(tree))
    assert abs(mesh.volume) * scale**3 == pytest.approx(volume, rel=0.02)
    size = np.sort(mesh.extents * scale)
    ours = np.concatenate([o.matrix.points(np.array(model.geometry.get(o.body.shape).box.corners))
                           for o in model.snapshot.occurrences()])  # fmt: skip
    assert (size <= np.sort(np.ptp(ours, axis=0)) + 0.5).all()
