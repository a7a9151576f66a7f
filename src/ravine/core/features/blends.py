"""Rounds and chamfers, each with all that it runs on in."""

from __future__ import annotations

import math

import numpy as np

from ..local.chamfers import chamfer_run
from ..local.fillets import chain
from ..rigid import vec_of
from .feature import Feature
from .links import Links


def find_blends(links: Links) -> list[Feature]:
    found, seen = [], set[int]()
    for face, item in links.fillets.items():
        if face in seen:
            continue
        faces = [f for f in chain(links.topology, face) if f in links.fillets and f not in seen] or [face]
        seen.update(faces)
        found.append(_feature(links, "fillet", faces, {"radius": item.radius}))
    for face, cut in links.chamfers.items():
        if face in seen:
            continue
        faces = [c.face for c in chamfer_run(links.topology, cut) if c.face in links.chamfers and c.face not in seen]
        seen.update(faces)
        legs = sorted(cut.legs, reverse=True)
        sizes = {"width": legs[0]} if legs else {}
        if len(legs) > 1 and abs(legs[0] - legs[1]) > 1e-6:
            sizes["width_2"] = legs[1]
            sizes["angle"] = math.degrees(math.atan2(legs[1], legs[0]))
        found.append(_feature(links, "chamfer", faces, sizes))
    return found


def _feature(links: Links, kind: str, faces: list[int], sizes: dict[str, float]) -> Feature:
    topology = links.topology
    points = np.concatenate([links.border(f) for f in faces])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    first = faces[0]
    way = topology.outward(first, topology.samples(topology.edges_of(first)[0])[1:2])[0]
    return Feature(kind, "", tuple(sorted(faces)), sizes, vec_of(middle), vec_of(way))
