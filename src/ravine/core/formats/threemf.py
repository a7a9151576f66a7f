"""3MF as printers read it: welded triangles in mm, colours, each part once and placed as often as it stands."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from xml.sax.saxutils import quoteattr

import numpy as np
from numpy.typing import NDArray

from ..rigid import Rigid
from .reading import TriangleWrite

CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
MATERIAL = "http://schemas.microsoft.com/3dmanufacturing/material/2015/02"
WELD = 1e-5  # mm, within which corners are one
PLAIN = "#9FA5A2"
STAMP = (1980, 1, 1, 0, 0, 0)  # the same parts give the same bytes
_TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
_LINKS = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    '<Relationship Target="/3D/3dmodel.model" Id="rel0" '
    'Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
)


def write(parts: Sequence[TriangleWrite]) -> bytes:
    """Core specification 1.3 with the colours of the materials extension."""
    rows = [
        f'<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en" xmlns="{CORE}" '
        f'xmlns:m="{MATERIAL}"><metadata name="Application">Ravine</metadata><resources>'
    ]
    colours = {c: k for k, c in enumerate(dict.fromkeys((p.colour or PLAIN).upper() for p in parts))}
    rows.append('<m:colorgroup id="1">' + "".join(f'<m:color color="{c}FF"/>' for c in colours) + "</m:colorgroup>")
    objects: dict[int, int] = {}
    build = []
    for part in parts:
        if part.body not in objects:
            objects[part.body] = len(objects) + 2
            rows += _object(part, objects[part.body], colours[(part.colour or PLAIN).upper()])
        matrix = np.array(Rigid(part.matrix)).reshape(3, 4).T.reshape(-1)
        numbers = " ".join(f"{v:.9g}" for v in matrix.tolist())
        build.append(f'<item objectid="{objects[part.body]}" transform="{numbers}"/>')
    rows.append("</resources><build>" + "".join(build) + "</build></model>")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as whole:
        for name, text in (
            ("[Content_Types].xml", _TYPES),
            ("_rels/.rels", _LINKS),
            ("3D/3dmodel.model", "".join(rows)),
        ):
            whole.writestr(zipfile.ZipInfo(name, STAMP), text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _object(part: TriangleWrite, number: int, colour: int) -> list[str]:
    points, triangles = welded(part.points, part.triangles)
    head = f'<object id="{number}" type="model" name={quoteattr(part.name)} pid="1" pindex="{colour}"><mesh><vertices>'
    return [
        head, "".join(map('<vertex x="%.6g" y="%.6g" z="%.6g"/>'.__mod__, map(tuple, points.tolist()))),
        "</vertices><triangles>",
        "".join(map('<triangle v1="%d" v2="%d" v3="%d"/>'.__mod__, map(tuple, triangles.tolist()))),
        "</triangles></mesh></object>",
    ]  # fmt: skip


def welded(points: NDArray[np.float64], triangles: NDArray[np.int32]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Corners that are one become one; triangles that lose a side go."""
    keys = np.round(points / WELD).astype(np.int64)
    _, first, number = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    found = number.reshape(-1)[triangles].astype(np.int64)
    whole = (found[:, 0] != found[:, 1]) & (found[:, 1] != found[:, 2]) & (found[:, 2] != found[:, 0])
    return points[first], found[whole]
