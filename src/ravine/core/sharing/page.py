"""One HTML file that opens from disk in any browser, with the model inside: turned, cut, measured, drawn apart."""

from __future__ import annotations

import base64
import html
import itertools
import json
import struct
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from importlib.resources import files
from typing import Any

import numpy as np

from ..bill.masses import part_masses
from ..errors import EditError
from ..model.finishes import PLAIN_COLOUR, colour_of
from ..model.geometry import GeometryStore
from ..model.records import EXPLOSIONS
from ..model.snapshot import Occurrence, Snapshot
from ..units import LENGTHS
from .inside import hidden_faces
from .shapes import shared_shape


@dataclass(frozen=True)
class Sharing:
    """What goes along.  nodes: places in the tree, all when empty; inside, names, materials: whether faces that
    nobody sees, names of parts, materials and masses do; title, said: at the head; views: kept ones as name and eye;
    notes: words, with a picture each (data URI) or without; tints: colour by body and number of the face, over that of
    the part."""

    nodes: tuple[int, ...] = ()
    inside: bool = True
    names: bool = True
    materials: bool = True
    title: str = ""
    said: str = ""
    views: tuple[Mapping[str, Any], ...] = ()
    notes: tuple[tuple[str, str], ...] = ()
    tints: Mapping[int, Mapping[int, str]] = field(default_factory=dict)


@dataclass(frozen=True)
class SharedPage:
    """data: the file; left_out: how many faces stayed at home."""

    data: bytes
    left_out: int


def shared_page(snapshot: Snapshot, geometry: GeometryStore, sharing: Sharing) -> SharedPage:
    """Raises EditError where nothing is left to share."""
    wanted = set(sharing.nodes)
    shown = [o for o in snapshot.occurrences() if not wanted or wanted & {o.node.id, *o.path}]
    if not shown:
        raise EditError("there is nothing to share; bring a part in first", field="parts")
    gone = {} if sharing.inside else hidden_faces(geometry, shown)
    if all(_is_empty(geometry, o, gone) for o in shown):
        raise EditError("nothing of these parts is seen from outside", field="inside")
    head, blocks = _model(snapshot, geometry, sharing, shown, gone)
    text = json.dumps(head, separators=(",", ":"), ensure_ascii=False).encode()
    text += b" " * (-len(text) % 4)
    packer = zlib.compressobj(9, zlib.DEFLATED, -15)
    packed = packer.compress(struct.pack("<I", len(text)) + text + b"".join(blocks)) + packer.flush()
    return SharedPage(_written(sharing, head, base64.b64encode(packed).decode()), sum(map(len, gone.values())))


def _is_empty(geometry: GeometryStore, place: Occurrence, gone: Mapping[int, set[int]]) -> bool:
    left_out = gone.get(place.body.id, set())
    return bool(left_out) and len(left_out) >= len(place.body.faces)


def _model(
    snapshot: Snapshot, geometry: GeometryStore, sharing: Sharing, shown: Sequence[Occurrence],
    gone: Mapping[int, set[int]],
) -> tuple[dict[str, Any], list[bytes]]:  # fmt: skip
    shapes: dict[int, int] = {}
    heads: list[dict[str, Any]] = []
    blocks: list[bytes] = []
    rows: dict[int, dict[str, Any]] = {}
    places: list[dict[str, Any]] = []
    masses = part_masses(snapshot, geometry) if sharing.materials else {}
    apart = _apart(snapshot)
    for place in shown:
        body = place.body
        if _is_empty(geometry, place, gone):
            continue
        if body.id not in shapes:
            found = shared_shape(geometry.get(body.shape), gone.get(body.id, set()))
            shapes[body.id] = len(heads)
            heads.append(found.head)
            blocks.append(found.data)
            name = place.node.name if sharing.names else f"Part {len(heads)}"
            mass = masses.get(place.node.id)
            more = "" if mass is None else f"{mass:.3g} kg"
            rows[body.id] = {"name": name, "count": 0, "more": more, "material": body.material or ""}
            if not sharing.materials:
                rows[body.id]["material"] = ""
        rows[body.id]["count"] += 1
        number = shapes[body.id]
        entry: dict[str, Any] = {
            "shape": number, "row": number, "name": rows[body.id]["name"], "stand": list(place.matrix),
            "colour": colour_of(body.finish) or PLAIN_COLOUR,
        }  # fmt: skip
        if place.body.id in sharing.tints:
            entry["tints"] = _tinted(heads[number]["counts"], gone.get(body.id, set()), sharing.tints[body.id])
        if apart:
            entry["apart"] = [float(v) for v in apart.get(place.node.id, np.zeros(3))]
        places.append(entry)
    unit = LENGTHS[snapshot.units]
    head = {"units": snapshot.units, "unit": unit, "shapes": heads, "places": places, "rows": list(rows.values()),
            "views": list(sharing.views), "notes": list(sharing.notes)}  # fmt: skip
    return head, blocks


def _tinted(counts: Sequence[int], left_out: set[int], colours: Mapping[int, str]) -> list[list[Any]]:
    """First triangle, how many, and the colour of each face that has one."""
    rows: list[list[Any]] = []
    start, kept = 0, (f for f in itertools.count() if f not in left_out)
    for count, face in zip(counts, kept, strict=False):
        if face in colours:
            rows.append([start, count, colours[face]])
        start += count
    return rows


def _apart(snapshot: Snapshot) -> dict[int, np.ndarray]:
    """How far the first kept way of drawing apart takes each place; nothing where none is kept."""
    kept = snapshot.kept(EXPLOSIONS)
    if not kept:
        return {}
    explosion = next(iter(kept.values()))
    below = {n: snapshot.leaves_below(n) for step in explosion.steps for n in step.nodes if n in snapshot.nodes}
    found: dict[int, np.ndarray] = {}
    for step in explosion.shifts(below):
        for node, shift in step.items():
            found[node] = found.get(node, np.zeros(3)) + np.array(shift)
    return found


def _written(sharing: Sharing, head: Mapping[str, Any], data: str) -> bytes:
    folder = files("ravine.core.sharing").joinpath("viewer")
    css, frame, script = (folder.joinpath(name).read_text() for name in ("viewer.css", "frame.html", "viewer.js"))
    count = len(head["places"])
    inside = "geometry and pictures" if any(picture for _, picture in sharing.notes) else "geometry"
    foot = f"{count} part{'' if count == 1 else 's'}, {max(1, len(data) // 1024)} kB of {inside}"
    title, said = html.escape(sharing.title or "Model"), html.escape(sharing.said)
    words = {"title": title, "said": said, "foot": foot, "css": css, "data": data, "script": script}
    pieces = frame
    for name, text in words.items():
        pieces = pieces.replace("{" + name + "}", text, 2 if name == "title" else 1)
    return pieces.encode()
