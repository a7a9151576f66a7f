"""The check-up of a model, and its report as text and as data."""

from __future__ import annotations

import json
from collections.abc import Iterator
from weakref import WeakKeyDictionary

import numpy as np

from ..clearance.pairs import common_of
from ..errors import RavineError
from ..kernel.properties import rough_box
from ..kernel.shapes import placed
from ..kernel.volumes import volume_properties
from ..model.geometry import Geometry, GeometryStore, Solid
from ..model.measure import volume_mm3
from ..model.snapshot import Body, Occurrence, Snapshot, text_id
from ..rigid import IDENTITY
from ..units import format_length
from .checkup import Flaw, flaws_of
from .findings import KINDS, Finding, counts
from .mesh_checkup import mesh_flaws

MOST_PAIRS = 60  # of parts that are tried for overlaps
MOST_FACES = 1500  # of a pair
OVERLAPS = 1e-3  # mm³
_LOOKED_AT: WeakKeyDictionary[Geometry, list[Flaw]] = WeakKeyDictionary()  # shapes never change
OUT_OF_PROPORTION = 10.0  # times all the others together


def check_up(snapshot: Snapshot, geometry: GeometryStore, bodies: set[int] | None = None) -> list[Finding]:
    """Of all bodies, or of some (ids); overlaps and doubtful sizes are looked for among all that are shown."""
    chosen = [b for b in snapshot.bodies.values() if bodies is None or b.id in bodies]
    found = [finding for body in chosen for finding in _of_body(snapshot, geometry, body)]
    return found + [f for f in _between(snapshot, geometry) if bodies is None or int(f.body[1:]) in bodies]


def flaw_counts(snapshot: Snapshot, geometry: GeometryStore, bodies: set[int]) -> dict[str, int]:
    """How many flaws of each kind some bodies have; what is only worth knowing left out."""
    found = [f for b in sorted(bodies) for f in _of_body(snapshot, geometry, snapshot.bodies[b])]
    return {code: n for code, n in counts(found).items() if not KINDS[code].note}


def _of_body(snapshot: Snapshot, geometry: GeometryStore, body: Body) -> Iterator[Finding]:
    known = geometry.get(body.shape)
    flaws = _LOOKED_AT.get(known)
    if flaws is None:
        flaws = flaws_of(known.shape, known.index) if isinstance(known, Solid) else mesh_flaws(known)
        _LOOKED_AT[known] = flaws
    places = snapshot.occurrences(body.id)
    here = places[0].matrix if places else IDENTITY
    for flaw in flaws:
        x, y, z = here.point(flaw.place)
        yield Finding(flaw.code, text_id("body", body.id), _ids(body, flaw), (x, y, z), flaw.count, flaw.size)


def _ids(body: Body, flaw: Flaw) -> tuple[str, ...]:
    return (
        *(text_id("face", body.faces[f]) for f in flaw.faces),
        *(text_id("edge", body.edges[e]) for e in flaw.edges),
    )


def _box(geometry: GeometryStore, place: Occurrence) -> np.ndarray:
    """(2, 3) in the model."""
    known = geometry.get(place.body.shape)
    if isinstance(known, Solid):
        return np.array(rough_box(placed(known.shape, place.matrix)))
    points = place.matrix.points(known.points)
    return np.array([points.min(axis=0), points.max(axis=0)])


def _between(snapshot: Snapshot, geometry: GeometryStore) -> Iterator[Finding]:
    places = list(snapshot.occurrences())
    if len(places) < 2:
        return
    boxes = np.array([_box(geometry, p) for p in places])
    sizes = (boxes[:, 1] - boxes[:, 0]).max(axis=1)
    for k, place in enumerate(places):
        others = np.delete(boxes, k, axis=0)
        all_others = float((others[:, 1].max(axis=0) - others[:, 0].min(axis=0)).max())
        if sizes[k] > OUT_OF_PROPORTION * all_others:
            x, y, z = boxes[k].mean(axis=0).tolist()
            yield Finding("unit", text_id("body", place.body.id), (text_id("node", place.node.id),), (x, y, z),
                          size=float(sizes[k]))  # fmt: skip
    solids = [k for k, p in enumerate(places) if p.body.kind == "solid"]
    pairs = [
        (a, b)
        for n, a in enumerate(solids)
        for b in solids[n + 1 :]
        if (boxes[a][0] < boxes[b][1] - 1e-6).all() and (boxes[b][0] < boxes[a][1] - 1e-6).all()
    ]
    for a, b in pairs[:MOST_PAIRS]:
        if len(places[a].body.faces) + len(places[b].body.faces) > MOST_FACES:
            continue
        shapes = [placed(geometry.solid(places[k].body.shape).shape, places[k].matrix) for k in (a, b)]
        try:
            shared = volume_properties(common_of(*shapes))
        except RavineError:
            continue  # the kernel cannot tell; the faults of the bodies themselves are found above
        if shared.amount > OVERLAPS:
            ids = tuple(text_id("node", places[k].node.id) for k in (a, b))
            yield Finding("overlap", text_id("body", places[a].body.id), ids, shared.centroid,
                          size=float(shared.amount ** (1 / 3)))  # fmt: skip


def as_json(snapshot: Snapshot, geometry: GeometryStore, findings: list[Finding], title: str) -> bytes:
    """Counts, figures of every body, and each finding with its place and what mends it."""
    bodies = [
        {
            "id": text_id("body", b.id), "name": b.name, "kind": b.kind, "faces": len(b.faces),
            "volume_mm3": volume_mm3(geometry.get(b.shape), b.kind),
            "findings": sum(f.count for f in findings if f.body == text_id("body", b.id)),
        }
        for b in snapshot.bodies.values()
    ]  # fmt: skip
    data = {"model": title, "units": "mm", "counts": counts(findings), "bodies": bodies,
            "findings": [f.to_json() for f in findings]}  # fmt: skip
    return json.dumps(data, indent=1, ensure_ascii=False).encode()


def as_text(snapshot: Snapshot, findings: list[Finding], title: str) -> bytes:
    """For people: by part, then by kind, with places in the model's unit."""
    lines = [f"Check-up of {title}", ""]
    total = counts(findings)
    if not total:
        lines.append(f"Nothing found in {len(snapshot.bodies)} bodies.")
    for code, number in total.items():
        lines.append(f"{number:>6}  {KINDS[code].one if number == 1 else KINDS[code].many}: {KINDS[code].means}")
    for body in snapshot.bodies.values():
        own = [f for f in findings if f.body == text_id("body", body.id)]
        if not own:
            continue
        lines += ["", f"{body.name} ({body.kind}, {len(body.faces)} faces)"]
        for f in own:
            at = ", ".join(format_length(v, snapshot.units) for v in f.place)
            ids = " ".join(f.where[:6]) + (" …" if len(f.where) > 6 else "")
            lines.append(f"  {f.message(body.name, snapshot.units)}; at {at}; {ids}")
    return ("\n".join(lines) + "\n").encode()
