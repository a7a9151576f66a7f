"""A printed layer as paths for the eye, mm, y down."""

from __future__ import annotations

from typing import Any

from shapely.geometry.base import BaseGeometry

from ..printing.estimate import LayerView


def layer_drawing(view: LayerView) -> dict[str, Any]:
    return {
        "outline": path(view.outline), "walls": "".join(path(w) for w in view.walls), "fill": path(view.fill),
        "support": path(view.support), "area": float(view.outline.area),
    }  # fmt: skip


def path(shape: BaseGeometry) -> str:
    if shape.is_empty:
        return ""
    if hasattr(shape, "geoms"):
        return "".join(path(g) for g in shape.geoms)
    if shape.geom_type == "Polygon":
        return "".join(_run(r.coords) + "Z" for r in (shape.exterior, *shape.interiors))
    return _run(shape.coords) if shape.geom_type in ("LineString", "LinearRing") else ""


def _run(places: Any) -> str:
    return "M" + "L".join(f"{x:.5g} {-y:.5g}" for x, y, *_ in places)
