import io
import json
import math
import struct

import numpy as np
import pytest
from PIL import Image

from ravine.core import Model
from ravine.core.bill.masses import part_masses
from ravine.core.kernel import build, serial
from ravine.core.kernel.flat_mesh import FEW, mesh_for_view
from ravine.core.kernel.queries import face_facts, face_kind, plane_normal
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.tessellate import face_mesh, fast_reading_works
from ravine.core.model.geometry import GeometryStore, Solid
from ravine.core.view.describe import describe_pick
from ravine.core.view.packet import pack, pack_fine
from ravine.core.view.picture import picture
from ravine.core.view.scene import scene
from tests.parts import boss_block, drilled_block, grid_plate, model_of


def unpack(data, base=None):
    """The browser's reading of a packet, in Python."""
    assert data[:4] == b"RVP1"
    (length,) = struct.unpack_from("<I", data, 4)
    head, at = json.loads(data[8 : 8 + length]), 8 + length

    def take(kind, count):
        nonlocal at
        found = np.frombuffer(data, kind, count, at)
        at += found.nbytes
        return found

    fresh = [f for f in head["faces"] if not isinstance(f, int)]
    points = [take("<f4", 3 * n).reshape(-1, 3) for n, _ in fresh]
    normals = [take("i1", 4 * n).reshape(-1, 4)[:, :3] for n, _ in fresh]
    triangles = [take("<u4", 3 * m).reshape(-1, 3) for _, m in fresh]
    supply = iter(zip(points, normals, triangles, strict=True))
    faces = [base["faces"][f] if isinstance(f, int) else next(supply) for f in head["faces"]]
    edges = [base["edges"][e] if isinstance(e, int) else take("<f4", 3 * e[0]).reshape(-1, 3) for e in head["edges"]]
    corners = take("<f4", 3 * head["corners"]).reshape(-1, 3)
    assert at == len(data)
    return {"faces": faces, "edges": edges, "corners": corners, "head": head}


def volume(found):
    total = 0.0
    for points, _, triangles in found["faces"]:
        p = points.astype(float)[triangles]
        total += np.einsum("ij,ij->i", p[:, 0], np.cross(p[:, 1], p[:, 2])).sum() / 6
    return total


def test_the_fast_reading_of_triangles_fits_this_kernel():
    assert fast_reading_works()


def test_a_packet_is_a_closed_outward_mesh(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    geometry = model.geometry.get(model.body(body).shape)
    found = unpack(pack(geometry))
    assert volume(found) == pytest.approx(model.measure(body).volume, rel=5e-3)
    for points, normals, triangles in found["faces"]:
        p = points.astype(float)[triangles]
        flat = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
        mean = normals.astype(float)[triangles].mean(axis=1)
        assert (np.einsum("ij,ij->i", flat, mean) > 0).all()
    assert len(found["corners"]) == geometry.index.count("vertex")
    seams = [e for e in found["edges"] if len(e) == 0]
    assert len(seams) == 2


def test_after_a_push_only_changed_faces_travel_and_the_whole_fits(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    old = model.geometry.get(model.body(body).shape)
    first = pack(old)
    end = model.faces(body, normal=(0, 0, 1)).highest().id
    model.do("push", faces=[end], distance=5)
    new = model.geometry.get(model.body(body).shape)
    delta = pack(new, old, "base")
    found = unpack(delta, unpack(first))
    kept = [f for f in found["head"]["faces"] if isinstance(f, int)]
    assert len(kept) >= 4
    assert len(delta) < len(first)
    assert volume(found) == pytest.approx(volume(unpack(pack(new))), rel=1e-9)
    assert volume(found) == pytest.approx(model.measure(body).volume, rel=5e-3)


def test_packets_of_a_row_of_pushes_show_what_a_fresh_packet_shows(tmp_path):
    """Polygons of loops that stay are taken over from state to state, and so must stay true."""
    model, body = model_of(tmp_path, grid_plate(6, 5), "Plate")
    shown = unpack(pack(model.geometry.get(model.body(body).shape)))
    holes = [f.id for f in model.faces(body, kind="cylinder")[::7]]
    top = model.faces(body, normal=(0, 0, 1))[0].id
    for face, distance in [*((h, -0.3) for h in holes), (top, 2.0), (holes[1], 0.5), (top, -1.0)]:
        before = model.body(body).shape
        model.do("push", faces=[face], distance=distance)
        old, new = model.geometry.get(before), model.geometry.get(model.body(body).shape)
        shown = unpack(pack(new, old, before), shown)
        fresh = Solid(serial.from_bytes(serial.to_bytes(new.shape)))
        assert volume(shown) == pytest.approx(volume(unpack(pack(fresh))), rel=1e-9)


def test_drafts_are_forgotten_and_no_name_is_given_twice():
    store = GeometryStore()
    kept = store.put_shape(build.box(1, 1, 1))
    names = []
    for _ in range(3):
        with store.drafts():
            names.append(store.put_shape(build.box(2, 2, 2)))
            assert store.has(names[-1])
        assert not store.has(names[-1])
    assert (len(set(names)), store.has(kept), store.drafting) == (3, True, False)


def test_descriptions_measure_what_is_picked(tmp_path):
    model, body = model_of(tmp_path, drilled_block(40, 30, 20, 5), "Block")
    top = model.faces(body, normal=(0, 0, 1))[0].id
    wall = model.faces(body, kind="cylinder")[0].id
    found = describe_pick(model.snapshot, model.geometry, [top])
    assert (found.subject, found.summary.face_kinds) == ("1 flat face", {"plane"})
    rows = dict(found.rows)
    assert (rows["Area"], rows["To opposite"], rows["Also coplanar"]) == ("1121 mm²", "20 mm", "none")
    assert dict(describe_pick(model.snapshot, model.geometry, [wall]).rows)["Diameter"] == "Ø 10 mm"
    edge = next(e for e in model.edges(body) if e.kind == "line" and e.length == pytest.approx(40))
    assert dict(describe_pick(model.snapshot, model.geometry, [edge.id]).rows)["Length"] == "40 mm"
    a, b = model.vertices(body)[:2]
    assert "Distance" in dict(describe_pick(model.snapshot, model.geometry, [a.id, b.id]).rows)
    part = describe_pick(model.snapshot, model.geometry, model.nodes())
    assert dict(part.rows)["Size"] == "40 × 30 × 20 mm"
    assert "Mass" not in dict(part.rows)
    model.do("set material", parts=model.nodes(), material="brass")
    assert "Mass" in dict(describe_pick(model.snapshot, model.geometry, model.nodes()).rows)


def test_masses_add_up_over_groups_and_copies(station_file):
    model = Model()
    model.do("import", path=str(station_file))
    model.do("set material", parts=model.nodes("Clamp")[:1], material="brass")
    masses = part_masses(model.snapshot, model.geometry)
    pair = int(model.nodes("Pair")[0][1:])
    assert masses[pair] == pytest.approx(2 * 3000e-9 * 8500)
    assert masses[int(model.nodes("Station")[0][1:])] is None  # the pin has no material yet


def test_scene_places_every_occurrence(station_file):
    model = Model()
    model.do("import", path=str(station_file))
    found = scene(model.snapshot)
    assert [(n["name"], n["matrix"][3], n["matrix"][11]) for n in found["nodes"]] == [
        ("Clamp", 0, 5), ("Clamp", 50, 5), ("Bolzen Ø10", 0, 0),
    ]  # fmt: skip
    assert len(found["bodies"]) == 2


def test_a_picture_shows_the_part_in_its_colour(tmp_path):
    model, _ = model_of(tmp_path, build.box(30, 30, 30))
    model.do("set finish colour", parts=model.nodes(), colour="#c04020")
    image = np.array(Image.open(io.BytesIO(picture(model.snapshot, model.geometry))))
    assert image.shape == (300, 480, 4)
    filled = image[image[:, :, 3] == 255]
    assert 0.15 < len(filled) / (300 * 480) < 0.6
    red, green, blue = filled[:, :3].mean(axis=0)
    assert red > 2 * green > blue
    assert image[2, 2, 3] == 0
    assert Image.open(io.BytesIO(picture(Model().snapshot, model.geometry))).getextrema()[3] == (0, 0)


def test_a_plane_face_with_many_holes_is_clipped_to_ears_and_stays_exact():
    """The triangles cover the face to its polygons, look outwards, and use the points of the walls beside it."""
    shape = grid_plate(6, 5)
    index = ShapeIndex(shape)
    mesh_for_view(index, 0.05)
    top = next(i for i in range(index.count("face")) if len(index.edges_of_faces[i]) > FEW)
    found = face_mesh(index.get("face", top))
    corners = found.points[found.triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]) / 2
    outward = np.array(plane_normal(index.get("face", top)))
    assert (normals @ outward > -1e-12).all()
    area = float((normals @ outward).sum())
    exact = face_facts(index.get("face", top)).area
    assert area == pytest.approx(exact, rel=0.01)
    assert area > exact  # holes are drawn as polygons inside their circles
    beside = {f for e in index.edges_of_faces[top] for f in index.faces_of_edges[e]}
    wall = next(f for f in beside if face_kind(index.get("face", f)) == "cylinder")
    shared = {tuple(np.round(p, 9)) for p in face_mesh(index.get("face", wall)).points}
    assert len(shared & {tuple(np.round(p, 9)) for p in found.points}) >= 8


def test_from_near_a_shape_is_drawn_finer_and_numbered_alike(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    solid = model.geometry.solid(model.body(body).shape)
    plain, fine = unpack(pack(solid)), unpack(pack_fine(solid))
    exact = 60 * 40 * 10 + math.pi * (100 * 12 - 16 * 22)
    assert abs(volume(fine) - exact) < abs(volume(plain) - exact) / 4
    assert [len(row) for row in (fine["faces"], fine["edges"])] == [
        len(row) for row in (plain["faces"], plain["edges"])
    ]
    for (points, _, _), (near, _, _) in zip(plain["faces"], fine["faces"], strict=True):
        assert np.allclose(points.min(axis=0), near.min(axis=0), atol=0.3)
        assert np.allclose(points.max(axis=0), near.max(axis=0), atol=0.3)
    assert len(max((f[0] for f in fine["faces"]), key=len)) > 2 * len(max((f[0] for f in plain["faces"]), key=len))
    again = unpack(pack(solid))
    assert [len(f[0]) for f in again["faces"]] == [len(f[0]) for f in plain["faces"]], (
        "its own triangles stay as they were"
    )
