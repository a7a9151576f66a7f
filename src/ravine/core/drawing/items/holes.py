"""What a hole is, in one note: how many, how wide, how deep, with what at its mouth (ISO 15786)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...errors import EditError
from ...features.feature import Feature
from ...features.recogniser import features_of
from ...features.repeats import repeats_of
from ...local.topology import SolidTopology
from ...model.geometry import GeometryStore
from ...model.references import Reference, part_of
from ..lettering import Run
from .base import Setting, Told, draws
from .rounds import leader
from .threads import Thread, draw_thread, thread_called
from .values import plain_text, value_runs


@dataclass(frozen=True)
class PickedHole:
    """feature: of the solid; number: among its features; alike: how many of the same kind lie the same way."""

    feature: Feature
    number: int
    alike: tuple[int, ...]


def hole_of(geometry: GeometryStore, reference: Reference) -> PickedHole:
    """Raises EditError for what belongs to no hole."""
    body, index = reference.owner
    topology = geometry.solid(body.shape).topology
    faces = {index} if reference.kind == "face" else set(topology.index.faces_of_edges[index])
    return hole_with(topology, faces, reference)


def hole_with(topology: SolidTopology, faces: set[int], reference: Reference) -> PickedHole:
    features = features_of(topology)
    for number, feature in enumerate(features):
        if feature.kind == "hole" and faces & set(feature.faces):
            members = next((r.members for r in repeats_of(features) if number in r.members), (number,))
            return PickedHole(feature, number, members)
    raise EditError(f"{reference} belongs to no round hole", [reference])


@draws("hole")
def hole(setting: Setting) -> Told:
    reference = setting.first
    found = hole_of(setting.geometry, reference)
    rows = hole_rows(setting, found)
    shown = setting.shown(reference, setting.item.near[0] if setting.item.near else None)
    middle = setting.paper(setting.frame.flat(np.array(shown.matrix.point(found.feature.place)))[0])
    sizes = found.feature.sizes
    wide = max(v for k, v in sizes.items() if "diameter" in k) if _faces_eye(setting, shown, found) else 0.0
    off = setting.at - middle
    reach = wide / 2 * setting.view.scale
    size = float(np.hypot(*off))
    tip = middle + reach * off / size if size > 1e-9 else middle
    leader(setting.pen, tip, setting.at, rows)
    if setting.word("thread"):
        _threads(setting, reference, found, thread_called(setting.word("thread")))
    return Told(sizes["diameter"], (sizes["diameter"],), "; ".join(plain_text(list(r)) for r in rows))


def hole_rows(setting: Setting, found: PickedHole) -> list[list[Run]]:
    sizes, form = found.feature.sizes, found.feature.form
    count = len(found.alike)
    first = [Run(f"{count}×")] if count > 1 and setting.word("count") != "one" else []
    thread = setting.word("thread")
    deep = "through" not in form
    if thread:
        first.append(Run(thread_called(thread).called))
    else:
        first += value_runs(setting, sizes["diameter"], "⌀")
    if deep:
        first += [Run(sign="depth"), Run(setting.number(sizes["depth"]))]
    rows = [first]
    if "counterbore_diameter" in sizes:
        wide, high = (setting.number(sizes[f"counterbore_{name}"]) for name in ("diameter", "depth"))
        rows.append([Run(sign="counterbore"), Run(f"⌀{wide}"), Run(sign="depth"), Run(high)])
    elif "countersink_diameter" in sizes:
        angle = f"{sizes['countersink_angle']:.1f}".rstrip("0").rstrip(".")
        rows.append([Run(sign="countersink"), Run(f"⌀{setting.number(sizes['countersink_diameter'])} × {angle}°")])
    for k in range(2, 6):
        if f"diameter_{k}" in sizes and "stepped" in form:
            rows.append([Run(f"⌀{setting.number(sizes[f'diameter_{k}'])}"), Run(sign="depth"),
                         Run(setting.number(sizes[f"depth_{k}"]))])  # fmt: skip
    return rows


def _faces_eye(setting: Setting, reference: Reference, found: PickedHole) -> bool:
    way = np.array(reference.matrix.direction(found.feature.way))
    return abs(float(way @ setting.frame.eye)) > 1 - 1e-6


def _threads(setting: Setting, reference: Reference, found: PickedHole, rows: Thread) -> None:
    """On the narrowest wall of every hole that is meant."""
    body, _ = reference.owner
    topology = setting.geometry.solid(body.shape).topology
    features = features_of(topology)
    for number in found.alike:
        walls = [f for f in features[number].faces if topology.surface(f).kind == "cylinder"]
        narrow = min(walls, key=lambda f: float(topology.surface(f).radius))
        draw_thread(setting, part_of(reference, "face", narrow), rows)
