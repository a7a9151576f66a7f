"""OBJ, PLY, 3MF and glTF: triangle meshes, some with names, places, colours and a unit.  Through trimesh."""

from __future__ import annotations

import io
import json
import os
import re
import zipfile
import zlib
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import trimesh

from ..errors import FormatError
from ..kernel.exchange import ReadNode
from ..model.trimesh_body import TriangleMesh
from ..rigid import IDENTITY, Rigid
from ..units import LENGTHS
from . import threemf
from .reading import Imported, Progress, ReadOptions, TriangleWrite, check_numbers

MOST_TRIANGLES = 20_000_000
LARGEST_INSIDE = 512 << 20  # bytes of an archive, unpacked
MOST_ENTRIES = 5000
OWN_UNITS = {"3mf": "mm", "glb": "m", "gltf": "m"}  # 3MF may say another
UNIT_WORDS = {"micron": 1e-3, "millimeter": 1.0, "centimeter": 10.0, "meter": 1000.0, "meters": 1000.0, "inch": 25.4,
              "inches": 25.4, "foot": 304.8, "feet": 304.8}  # fmt: skip


def reader(kind: str) -> Callable[[str, ReadOptions, Progress], Imported]:
    """The reader of one of these formats."""

    def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
        return _read(kind, path, options, progress)

    return read


def _read(kind: str, path: str, options: ReadOptions, progress: Progress) -> Imported:
    """Raises FormatError."""
    words = kind.upper()
    if kind not in OWN_UNITS and options.units is None:
        raise FormatError(f"{_an(words)} file does not say its unit; choose mm, cm, m, in or ft", field="units",
                          nearest="mm")  # fmt: skip
    progress(0.1, "reading triangles")
    more: dict[str, Any] = {"skip_materials": True} if kind == "obj" else {}
    {"3mf": _check_archive, "gltf": _check_gltf, "glb": _check_glb, "ply": _check_ply}.get(kind, _no_check)(path)
    scene = trimesh.load_scene(_in_ascii(path, kind), file_type=kind, process=False, **more)
    meshes = {n: g for n, g in scene.geometry.items() if isinstance(g, trimesh.Trimesh) and len(g.faces)}
    if not meshes:
        raise FormatError(f"the {words} file holds no triangles")
    count = sum(len(m.faces) for m in meshes.values())
    if count > MOST_TRIANGLES:
        raise FormatError(f"the {words} file has {count:,} triangles; up to {MOST_TRIANGLES:,} are read")
    scale = LENGTHS[options.units] if options.units else UNIT_WORDS.get(scene.units or "", LENGTHS[OWN_UNITS[kind]])
    progress(0.5, "joining equal corners")
    stem = os.path.splitext(os.path.basename(path))[0]
    return _imported(scene, meshes, scale, stem, words)


def _in_ascii(path: str, kind: str) -> io.BytesIO:
    """Of text formats what is not UTF-8 (names, comments in an older code) as the letters of Latin-1 would be, since a
    reader that meets other bytes guesses at their code."""
    with open(path, "rb") as file:
        data = file.read()
    head = data[:65536].split(b"end_header")[0]
    if kind == "obj" or (kind == "ply" and b"format ascii" in head):
        try:
            data.decode("utf-8")
        except UnicodeDecodeError:
            data = data.decode("latin-1").encode("utf-8")
    elif kind == "ply":  # only its header is text
        clean = bytes(b if b < 128 else ord("?") for b in head)
        data = clean + data[len(head) :]
    return io.BytesIO(data)


def _imported(
    scene: trimesh.Scene, meshes: dict[str, trimesh.Trimesh], scale: float, stem: str, words: str
) -> Imported:
    parts: list[tuple[str, TriangleMesh]] = []
    colours: dict[int, str] = {}
    known: dict[tuple, int] = {}
    leaves: list[ReadNode] = []
    at: dict[str, ReadNode] = {}
    open_ = 0
    for node in scene.graph.nodes_geometry:
        matrix, name = scene.graph[node]
        if name not in meshes:
            continue
        turn, rest = _rigid(np.array(matrix, float))
        key = (name, rest.tobytes())
        if key not in known:
            mesh = meshes[name]
            points = np.asarray(mesh.vertices, float) @ rest.T * scale
            check_numbers(points, words)
            triangles = np.asarray(mesh.faces)
            if triangles.min() < 0 or triangles.max() >= len(points):
                raise FormatError(f"the {words} file has triangles on points that it does not have; it is damaged")
            if np.linalg.det(rest) < 0:
                triangles = triangles[:, ::-1]
            label = stem if len(meshes) == 1 else str(name)
            known[key] = len(parts)
            body = TriangleMesh.from_soup(points[triangles])
            open_ += not body.is_closed
            colour = _colour(mesh)
            if colour:
                colours[len(parts)] = colour
            parts.append((label, body))
        at[node] = ReadNode(_label(node, name, stem, len(meshes)), _placement(turn, matrix, scale), known[key])
        leaves.append(at[node])
    if not leaves:
        raise FormatError(f"the {words} file holds triangles, but its scene shows none of them")
    root = leaves[0] if len(leaves) == 1 else ReadNode(stem, IDENTITY, None, _nested(scene, at))
    warnings = []
    if open_:
        which = "the mesh has" if len(parts) == 1 else f"{open_} of {len(parts)} meshes have"
        warnings.append(f"{which} open or doubled edges, so the volume is not certain")
    return Imported([root], list(parts), warnings, colours=colours)


def _nested(scene: trimesh.Scene, at: dict[str, ReadNode]) -> list[ReadNode]:
    """The leaves below the groups that the file has them in, groups of one left out.  Groups stand at the origin:
    their placements are in the leaves'."""
    parents = scene.graph.transforms.parents
    tops: list[ReadNode] = []
    groups: dict[str, ReadNode] = {}
    for node, leaf in at.items():
        here, found = leaf, parents.get(node)
        passed = {node}
        while found is not None and found != scene.graph.base_frame and found not in passed:
            passed.add(found)
            known = groups.get(found)
            group = known or groups.setdefault(found, ReadNode(str(found), IDENTITY, None, []))
            group.children.append(here)
            if known:
                break
            here, found = group, parents.get(found)
        else:
            tops.append(here)
    return [_shallow(t) for t in tops]


def _shallow(node: ReadNode) -> ReadNode:
    """Without groups of one thing."""
    while node.part is None and len(node.children) == 1:
        node = node.children[0]
    node.children[:] = [_shallow(c) for c in node.children]
    return node


def _rigid(matrix: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """A placement's turn, and what is left of it (scale, shear, mirroring) to be laid into the mesh."""
    linear = matrix[:3, :3]
    if np.allclose(linear @ linear.T, np.eye(3), atol=1e-6) and np.linalg.det(linear) > 0:
        return linear, np.eye(3)
    return np.eye(3), linear


def _placement(turn: np.ndarray, matrix: np.ndarray, scale: float) -> Rigid:
    rows = np.column_stack([turn, np.asarray(matrix, float)[:3, 3] * scale])
    if not np.isfinite(rows).all():
        raise FormatError("the file places a part at coordinates that are not numbers")
    return Rigid(rows.reshape(-1).tolist())


def _label(node: object, name: object, stem: str, count: int) -> str:
    return stem if count == 1 and str(node) in ("world", str(name)) else str(name)


def _colour(mesh: trimesh.Trimesh) -> str | None:
    visual: Any = mesh.visual
    if visual is None or not visual.defined:
        return None
    try:
        red, green, blue = (int(v) for v in visual.main_color[:3])
    except (AttributeError, TypeError, ValueError):
        return None
    return f"#{red:02x}{green:02x}{blue:02x}"


def _an(words: str) -> str:
    return ("an " if words[0] in "AO" else "a ") + words


# --- files that mean harm, or are cut short ----------------------------------------------------------------------


def _no_check(path: str) -> None:
    return None


def _check_archive(path: str) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > LARGEST_INSIDE:
                raise FormatError("the 3MF file unpacks to more than 512 MB or thousands of entries; it is not read")
            models = [e for e in entries if e.filename.lower().endswith(".model")]
            if not models:
                raise FormatError("the zip archive holds no 3D model part, so it is no 3MF file")
            for entry in (e for e in entries if e.filename.lower().endswith((".model", ".rels", ".xml"))):
                with archive.open(entry) as file:
                    head = file.read(65536)
                if b"<!DOCTYPE" in head or b"<!ENTITY" in head:
                    raise FormatError("the 3MF file declares XML entities, which no honest one needs; it is not read")
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError) as error:
        raise FormatError("the 3MF file is no whole archive; it was cut short or is damaged") from error


def _check_gltf(path: str) -> None:
    with open(path, "rb") as file:
        raw = file.read()
    try:
        data = json.loads(raw)
    except (ValueError, RecursionError) as error:
        raise FormatError("the glTF file is no whole JSON; it was cut short or is damaged") from error
    _check_scene(data)


def _check_glb(path: str) -> None:
    size = os.path.getsize(path)
    with open(path, "rb") as file:
        head = file.read(20)
        if len(head) < 20 or int.from_bytes(head[8:12], "little") != size:
            raise FormatError(f"the GLB file announces another length than its {size:,} bytes; it was cut short")
        length = int.from_bytes(head[12:16], "little")
        if length > size:
            raise FormatError("the GLB file announces a header longer than itself; it is damaged")
        try:
            data = json.loads(file.read(length))
        except (ValueError, RecursionError) as error:
            raise FormatError("the header of the GLB file is no whole JSON; it is damaged") from error
    _check_scene(data)


def _check_scene(data: object) -> None:
    """Only what lies in the file itself is read, and no more is asked for than there is."""
    if not isinstance(data, dict):
        raise FormatError("the glTF file is no scene")
    for row in (*data.get("buffers", []), *data.get("images", [])):
        uri = row.get("uri", "data:") if isinstance(row, dict) else "data:"
        if not str(uri).startswith("data:"):
            raise FormatError(f"the glTF file keeps its data in another file ({str(uri)[:60]}); save it as one GLB")
    held = sum(int(b.get("byteLength", 0)) for b in data.get("buffers", []) if isinstance(b, dict))
    for accessor in data.get("accessors", []):
        count = accessor.get("count", 0) if isinstance(accessor, dict) else 0
        if not isinstance(count, int) or count < 0 or (count > held and "sparse" not in accessor):
            raise FormatError("the glTF file announces more values than it holds; it is damaged")
    if data.get("extensionsRequired"):
        raise FormatError(f"the glTF file needs {', '.join(map(str, data['extensionsRequired']))[:80]}, which is not "
                          f"read; save it without compression")  # fmt: skip


def _check_ply(path: str) -> None:
    size = os.path.getsize(path)
    with open(path, "rb") as file:
        head = file.read(65536)
    if b"end_header" not in head:
        raise FormatError("the header of the PLY file has no end; it was cut short")
    for name, count in re.findall(rb"element\s+(\w+)\s+(\d{1,18})", head.split(b"end_header")[0]):
        if int(count) > size:
            raise FormatError(f"the PLY file announces {int(count):,} of {name.decode('latin-1')}, more than it holds")


# --- writing -------------------------------------------------------------------------------------------------------


def write(kind: str, parts: Sequence[TriangleWrite], unit: str) -> bytes:
    """`unit`: for formats that carry none; 3MF is written in mm, glTF in metres."""
    if kind == "3mf":
        return threemf.write(parts)
    scale = {"glb": 1e-3}.get(kind, 1.0 / LENGTHS[unit])
    if kind == "ply":
        merged: Any = trimesh.util.concatenate([_as_trimesh(p, scale, True) for p in parts])
        return bytes(merged.export(file_type="ply"))
    scene = trimesh.Scene()
    if kind in OWN_UNITS:
        scene.units = "meters"
    names: dict[int, str] = {}
    for part in parts:
        matrix = np.eye(4)
        matrix[:3] = Rigid(part.matrix).matrix
        matrix[:3, 3] *= scale
        if part.body in names and kind != "obj":
            scene.graph.update(
                frame_to=f"{part.name} {len(scene.graph.nodes)}", matrix=matrix, geometry=names[part.body]
            )
            continue
        mesh = _as_trimesh(part, scale, kind == "obj")
        name = _fresh_name(part.name, scene)
        scene.add_geometry(mesh, node_name=name, geom_name=name, transform=None if kind == "obj" else matrix)
        names[part.body] = name
    data = scene.export(file_type=kind)
    return data if isinstance(data, bytes) else data.encode()


def _fresh_name(name: str, scene: trimesh.Scene) -> str:
    return next(n for k in range(1, 10**6) if (n := name if k == 1 else f"{name} {k}") not in scene.geometry)


def _as_trimesh(part: TriangleWrite, scale: float, here: bool) -> trimesh.Trimesh:
    points = part.points
    if here:
        points = Rigid(part.matrix).points(points)
    mesh = trimesh.Trimesh(points * scale, part.triangles, process=False)
    if part.colour:
        rgb = [int(part.colour[k : k + 2], 16) for k in (1, 3, 5)]
        mesh.visual = trimesh.visual.ColorVisuals(mesh, face_colors=[*rgb, 255])
    return mesh
