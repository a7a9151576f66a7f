"""Loops, runs and chains of a pick, against walking the whole graph."""

from __future__ import annotations

import itertools
import random

import networkx
import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.model.grow_selection import grown_selection
from tests.core.test_mesh_forms import facetted
from tests.parts import boss_block, grid_plate, mesh_model, model_of


@pytest.mark.parametrize("shape", [boss_block, lambda: grid_plate(3, 2)])
def test_a_chain_is_the_shortest_way(tmp_path, shape):
    model, body = model_of(tmp_path, shape())
    edges = {e.id: e for e in model.edges(body)}
    topology = model.geometry.solid(model.body(body).shape).topology
    ids = model.body(body).edges
    graph = networkx.DiGraph()
    for n, ident in enumerate(ids):
        for vertex in topology.ends(n):
            for other in topology.edges_at(vertex):
                if other != n and topology.meeting(other) == topology.meeting(n) == "sharp":
                    graph.add_edge(f"e{ident}", f"e{ids[other]}", far=edges[f"e{ids[other]}"].length)
    chance = random.Random(3)
    told = 0
    for _ in range(25):
        a, b = chance.sample(list(graph), 2)
        if not networkx.has_path(graph, a, b):
            with pytest.raises(EditError, match="no sharp edges"):
                grown_selection(model.snapshot, model.geometry, [a, b], "chain")
            continue
        (way,) = grown_selection(model.snapshot, model.geometry, [a, b], "chain")
        assert way[0] == a
        assert way[-1] == b
        assert all(graph.has_edge(x, y) for x, y in itertools.pairwise(way))
        shortest = networkx.dijkstra_path_length(graph, a, b, "far")
        assert sum(edges[e].length for e in way[1:]) == pytest.approx(shortest)
        told += 1
    assert told > 3


def test_an_edge_lies_in_two_loops_and_faces_run_on_over_rounds(tmp_path):
    block = build.fillet(build.box(40, 30, 20), 3, lambda e: e.kind == "line" and abs(e.direction[2]) > 0.9)
    model, body = model_of(tmp_path, block)
    straight = next(e for e in model.edges(body) if e.kind == "line" and abs(e.length - 34) < 1e-6)
    loops = grown_selection(model.snapshot, model.geometry, [straight.id], "loop")
    assert [len(row) for row in loops] == [2, 8]  # of the side only the sharp edges; all around the end
    assert all(row[0] == straight.id for row in loops)
    (run,) = grown_selection(model.snapshot, model.geometry, [straight.id], "run")
    assert set(run) == set(loops[1])
    side = next(f for f in model.faces(body, kind="plane") if abs(f.normal[2]) < 0.1)
    (faces,) = grown_selection(model.snapshot, model.geometry, [side.id], "run")
    assert len(faces) == 8
    bottom, top = model.faces(body, normal=(0, 0, -1))[0], model.faces(body, normal=(0, 0, 1))[0]
    (strip,) = grown_selection(model.snapshot, model.geometry, [bottom.id, top.id], "chain")
    assert len(strip) == 3


def test_picks_that_have_no_wider_one_say_why(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    faces, edges = model.faces(body).ids, model.edges(body).ids
    for picked, way, words in (
        (faces[:1], "loop", "one edge"), (edges[:2], "loop", "single"), (edges[:1], "chain", "first to a last"),
        ([faces[0], edges[0]], "run", "edges of one part"), (faces[:1], "spiral", "loop, run, chain"),
    ):  # fmt: skip
        with pytest.raises(EditError, match=words):
            grown_selection(model.snapshot, model.geometry, picked, way)
    scan, mesh = mesh_model(tmp_path, facetted(build.box(5, 5, 5)))
    with pytest.raises(EditError, match="is a mesh"):
        grown_selection(scan.snapshot, scan.geometry, [f"f{scan.body(mesh).faces[0]}"], "run")
