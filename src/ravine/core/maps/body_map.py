"""A map of a part, ready for the view: its patches where the part stands, a figure for each, and what they mean."""

from __future__ import annotations

import json
import struct
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.geometry import Geometry, GeometryStore
from ..model.snapshot import Snapshot, split_id
from ..units import LENGTHS
from .figures import Deviation, Thickness, Told, curvature, draft
from .patches import Patches, corner_normals, fine_patches, view_triangles
from .plane_cells import fan, triangle_areas
from .refined import refined
from .spread import legend_ends

MAGIC = b"RVM1"
AXES = {"x": 0, "y": 1, "z": 2}
KINDS = ("walls", "draft", "curvature", "deviation", "stripes")


@dataclass(frozen=True)
class BodyMap:
    """kind: of KINDS; unit: of the figures, in the model's; corners: (n, 3, 3) mm in the model, of triangles; values:
    (n,), nan where there is none; worst: the number of the triangle to look at first; normals: (n, 3, 3) at the
    corners, for stripes, whose course over the surface tells more than a figure."""

    kind: str
    unit: str
    corners: Floats
    values: Floats
    worst: int
    normals: Floats | None = None

    def packed(self) -> bytes:
        """RVM1, uint32 length of a JSON header padded to four, float32 corners (n × 9), float32 values (n), and where
        the header says so float32 normals (n × 9)."""
        known = self.values[np.isfinite(self.values)]
        low, high = (float(known.min()), float(known.max())) if len(known) else (0.0, 0.0)
        head: dict[str, Any] = {
            "kind": self.kind, "unit": self.unit, "count": len(self.values), "low": low, "high": high,
            "worst": self.worst, "normals": self.normals is not None,
            "ends": legend_ends(self.kind, self.values, triangle_areas(self.corners)),
        }  # fmt: skip
        text = json.dumps(head).encode()
        text += b" " * (-len(text) % 4)
        corners = self.corners.astype("<f4").tobytes()
        rest = b"" if self.normals is None else self.normals.astype("<f4").tobytes()
        return MAGIC + struct.pack("<I", len(text)) + text + corners + self.values.astype("<f4").tobytes() + rest


def map_of(
    snapshot: Snapshot,
    geometry: GeometryStore,
    kind: str,
    nodes: Sequence[str],
    pull: str = "z",
    progress: Callable[[float, str], None] = lambda fraction, words: None,
) -> BodyMap:
    """nodes: the part, and for a deviation the part that it is held against.  Raises EditError."""
    if kind not in KINDS:
        raise EditError(f"there is no map of “{kind[:20]}”; there is {', '.join(KINDS)}")
    if pull not in AXES:
        raise EditError(f"a part is pulled along x, y or z, not “{pull[:20]}”", field="pull", nearest="z")
    wanted = 2 if kind == "deviation" else 1
    if len(nodes) != wanted:
        what = "pick two parts: the one to colour, then the one it is held against" if wanted == 2 else "pick one part"
        raise EditError(f"{what}; {len(nodes)} are picked", nodes)
    rows, body = _placed(snapshot, geometry, nodes[0])
    progress(0.1, "cutting the surface into patches")
    patches = fine_patches(body)
    unit = LENGTHS[snapshot.units]
    words = {"walls": "measuring through the matter", "deviation": "measuring across"}.get(kind, "measuring")

    def told(share: float) -> None:
        progress(0.3 + 0.65 * share, words)

    told(0.0)
    if kind == "stripes":
        corners, of = _triangles(patches, rows)
        normals = fan(corner_normals(body, patches) @ rows[:, :3].T)[of]
        return BodyMap(kind, "", corners, np.zeros(len(corners)), 0, normals)
    makers: Mapping[str, Callable[[], Callable[[Patches, Told], Floats]]] = {
        "walls": lambda: Thickness(body),
        "draft": lambda: lambda some, _: draft(some, np.linalg.inv(rows[:, :3]) @ np.eye(3)[AXES[pull]]),
        "curvature": lambda: lambda some, _: curvature(body, some),
        "deviation": lambda: Deviation(_across(snapshot, geometry, nodes[1], rows)),
    }
    figure = makers[kind]()
    scale = {"walls": 1 / unit, "deviation": 1 / unit, "curvature": unit, "draft": 1.0}[kind]

    def measure(some: Patches, told: Told = lambda share: None) -> Floats:
        found = np.asarray(figure(some, told), float) * scale
        return np.where(np.isfinite(found), found, np.nan)

    patches, values = refined(body, patches, measure(patches, told), measure)
    corners, of = _triangles(patches, rows)
    values = values[of[0]]
    if np.isnan(values).all():
        raise EditError("nothing could be measured on this part; an open surface has no thickness", nodes[:1])
    worst = int(np.nanargmin(values) if kind in ("walls", "draft") else np.nanargmax(np.abs(values)))
    units = {"walls": snapshot.units, "draft": "°", "curvature": f"1/{snapshot.units}", "deviation": snapshot.units}
    return BodyMap(kind, units[kind], corners, values, worst)


def _triangles(patches: Patches, rows: Floats) -> tuple[Floats, tuple[NDArray[np.int64], ...]]:
    """Of all patches (n, 3, 3) where the part stands; of which patch each is, and which of its fan."""
    triangles = fan(patches.corners)
    area = triangle_areas(triangles)
    of = np.nonzero(area > 1e-9 * area.max(axis=1, keepdims=True))
    return triangles[of] @ rows[:, :3].T + rows[:, 3], of


def _placed(snapshot: Snapshot, geometry: GeometryStore, node: str) -> tuple[Floats, Geometry]:
    """Placement (3, 4) and geometry of the one body at a place."""
    number = split_id(node)[1]
    if split_id(node)[0] != "node" or number not in snapshot.nodes:
        raise snapshot.gone("node", number)
    leaves = snapshot.leaves_below(number)
    if len(leaves) != 1:
        raise EditError(f"{snapshot.nodes[number].name} holds {len(leaves)} parts; pick one of them", [node])
    found = next(o for o in snapshot.occurrences() if o.node.id == next(iter(leaves)))
    return found.matrix.matrix, geometry.get(found.body.shape)


def _across(snapshot: Snapshot, geometry: GeometryStore, node: str, here: Floats) -> Floats:
    """Triangles of another part in the coordinates of the first."""
    rows, other = _placed(snapshot, geometry, node)
    corners = view_triangles(other)[0] @ rows[:, :3].T + rows[:, 3]
    return (corners - here[:, 3]) @ np.linalg.inv(here[:, :3]).T
