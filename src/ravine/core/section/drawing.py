"""A section as a drawing file: outlines and hatching, a group or layer for each part."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any
from xml.sax.saxutils import escape, quoteattr

import ezdxf

from ..formats.dxf import add_curve, bytes_of
from ..formats.svg import head_of, loop_path, path_of
from ..sketch.loops import polygon
from .exact import Figure

ANGLES = (45, 135, 30, 120, 60, 150, 15, 105)  # of the hatching, degrees; neighbours in the list of parts differ
STEP = 2.0  # mm between hatch lines, on paper


def svg_of(figures: Sequence[Figure], hatched: bool = True) -> bytes:
    """In mm.  Splines exactly, as cubic Bézier curves."""
    rows = [head_of([c for f in figures for c in f.curves()])]
    if hatched:
        rows.append("<defs>")
        for k in range(len(figures)):
            turn = f'patternTransform="rotate({-ANGLES[k % len(ANGLES)]})"'
            size = f'width="{STEP}" height="{STEP}" patternUnits="userSpaceOnUse"'
            rows.append(f'<pattern id="hatch-{k}" {size} {turn}><path d="M0 0H{STEP}" stroke-width="0.1"/></pattern>')
        rows.append("</defs>")
    for k, figure in enumerate(figures):
        rows.append(f"<g id={quoteattr(f'part-{k + 1}')}><title>{escape(figure.name)}</title>")
        fill = f' fill="url(#hatch-{k})" fill-rule="evenodd"' if hatched else ""
        for region in figure.regions:
            path = "".join(loop_path(loop) for loop in region.loops)
            rows.append(f'<path d="{path}"{fill}/>')
        rows += [f'<path d="{path_of(c)}"/>' for c in figure.lines]
        rows.append("</g>")
    return "\n".join([*rows, "</svg>", ""]).encode()


def dxf_of(figures: Sequence[Figure], hatched: bool = True) -> bytes:
    """In mm, outlines on a layer named after the part, hatching on one beside it."""
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    known: set[str] = set()
    for k, figure in enumerate(figures):
        layer = _layer(figure.name, known)
        document.layers.add(layer)
        for curve in figure.curves():
            add_curve(space, curve, layer)
        if not hatched:
            continue
        document.layers.add(f"{layer} hatching")
        for region in figure.regions:
            hatch: Any = space.add_hatch(dxfattribs={"layer": f"{layer} hatching"})
            hatch.set_pattern_fill("ANSI31", scale=STEP / 3.175, angle=ANGLES[k % len(ANGLES)] - 45)
            for number, loop in enumerate(region.loops):
                flags = 1 | (16 if not number else 0)  # external, outermost
                hatch.paths.add_polyline_path(polygon(loop).tolist(), is_closed=True, flags=flags)
    return bytes_of(document)


def _layer(name: str, known: set[str]) -> str:
    """A name that the format allows and no other part has."""
    plain = re.sub(r'[<>/\\":;?*|=`,]', "_", name).strip()[:200] or "part"
    found, count = plain, 1
    while found.lower() in known:
        count += 1
        found = f"{plain} {count}"
    known.add(found.lower())
    return found
