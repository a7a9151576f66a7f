"""Clusters: what is sunk into a face, or stands up from it, and is no simple form by itself, lettering above all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..local.features import feature_of
from ..rigid import vec_of
from .feature import Feature
from .links import Links

LEVEL = 1e-4  # mm, within which two clusters are as high, or as deep
RECESSES = ("slot", "pocket", "step")
PLAIN = ("pad", "", "closed", "closed, round ends", "closed, square ends")  # forms a letter may have; none is a rib's
SIMPLE = 0.6  # of the walls of what is sunk in that a pocket or slot accounts for
APART = 0.75  # of the larger one's extent that two of one face are apart at most and still belong together


def find_recessed(links: Links, holes: set[int], known: Sequence[Feature]) -> list[Feature]:
    """What opens in a face within its border and is for the most part no hole, pocket or slot.  holes: faces of holes
    and grooves; known: recesses, and what stands up."""
    found, seen = [], set[int]()
    recesses = [row for row in known if row.kind in RECESSES]
    closed = {f for row in recesses if "closed" in row.form for f in row.faces}
    open_ = {f for row in recesses for f in row.faces}
    stands = {f for row in known if row.kind not in RECESSES for f in row.faces}
    blends = links.fillets.keys() | links.chamfers.keys()
    for base in range(links.count):
        for link in links.of(base):
            if not link.inner[0] or link.bend <= 0 or link.beside in seen | holes or base in stands:
                continue
            whole = feature_of(links.topology, [link.beside])
            if whole is None or base in whole:
                continue
            seen |= whole
            own = whole - holes - stands - blends
            simple = open_ if whole & holes else closed  # a keyway is open towards its bore
            alone = any(own <= set(row.faces) for row in recesses)
            if not alone and len(own & simple) < SIMPLE * len(own):
                found.append(_sunk(links, base, whole - holes))
    return found


def apart_from(clusters: Sequence[Feature], rows: Sequence[Feature]) -> list[Feature]:
    """What is no part of a cluster."""
    within = {f for cluster in clusters for f in cluster.faces}
    return [row for row in rows if not set(row.faces) <= within]


def _sunk(links: Links, base: int, faces: set[int]) -> Feature:
    points = np.concatenate([links.border(f) for f in sorted(faces)])
    way = links.normal(base)
    depth = float(links.border(base)[0] @ way - (points @ way).min())
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    own = tuple(sorted(faces))
    return Feature("cluster", "recessed", own, {"depth": depth}, vec_of(middle), vec_of(way), (base,))


def together(links: Links, rows: Sequence[Feature], simple: Sequence[Feature] = ()) -> list[Feature]:
    """Clusters of one face that are as high, or as deep, and near one another are one, as the letters of a word are;
    with the pads, pockets and slots among them, as an I is one.  simple: those that there are."""
    plain = [row for row in simple if row.form in PLAIN]
    every = [*rows, *plain]
    boxes = [links.topology.boxes[list(row.faces)] for row in every]
    low = np.array([b[:, :3].min(axis=0) for b in boxes]).reshape(-1, 3)
    high = np.array([b[:, 3:].max(axis=0) for b in boxes]).reshape(-1, 3)
    left, found = list(range(len(every))), []
    while left and left[0] < len(rows):  # each begins with a cluster
        group = [left.pop(0)]
        for member in group:  # grows while it is walked
            for other in [n for n in left if _belong(every[member], every[n])]:
                gap = np.maximum(np.maximum(low[member], low[other]) - np.minimum(high[member], high[other]), 0)
                reach = max(float(np.max(high[n] - low[n])) for n in (group[0], member, other))
                if float(np.linalg.norm(gap)) <= APART * reach:
                    left.remove(other)
                    group.append(other)
        found.append(_one(links, [every[n] for n in sorted(group)]))
    return found


def _belong(a: Feature, b: Feature) -> bool:
    tall = [row.sizes["height"] if "height" in row.sizes else -row.sizes["depth"] for row in (a, b)]
    return bool(set(a.stands_on) & set(b.stands_on)) and abs(tall[0] - tall[1]) < LEVEL


def _one(links: Links, rows: Sequence[Feature]) -> Feature:
    """rows: a cluster first."""
    if len(rows) == 1:
        return rows[0]
    whole = [feature_of(links.topology, row.faces) or row.faces for row in rows]  # with the chamfers of simple ones
    faces = tuple(sorted({f for own in whole for f in own}))
    places = np.array([row.place for row in rows])
    middle = (places.min(axis=0) + places.max(axis=0)) / 2
    return replace(rows[0], form=f"{rows[0].form}, {len(rows)} pieces", faces=faces, place=vec_of(middle))
