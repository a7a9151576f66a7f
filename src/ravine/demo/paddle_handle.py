"""The paddle handle as a scanner saw it: a turned form as triangles, with noise and two holes."""

from __future__ import annotations

import numpy as np

from ravine.core.formats import stl

AROUND, ALONG, LENGTH = 96, 150, 180.0  # triangles around and along, mm


def paddle_handle() -> bytes:
    """Binary STL in mm."""
    z = np.linspace(0, LENGTH, ALONG)
    radius = 13 + 3.5 * np.sin(z / LENGTH * np.pi) + 4 * np.exp(-(((z - LENGTH + 14) / 9) ** 2))
    turn = np.linspace(0, 2 * np.pi, AROUND, endpoint=False)
    noise = np.random.default_rng(7).normal(0, 0.06, (ALONG, AROUND))
    wide = radius[:, None] + noise
    rings = np.stack([wide * np.cos(turn), 0.8 * wide * np.sin(turn), np.repeat(z[:, None], AROUND, 1)], axis=2)
    a, b = rings[:-1], np.roll(rings[:-1], -1, axis=1)
    c, d = rings[1:], np.roll(rings[1:], -1, axis=1)
    walls = np.concatenate([np.stack([a, b, d], axis=2), np.stack([a, d, c], axis=2)]).reshape(-1, 3, 3)
    caps = []
    for ring, inwards in ((rings[0], True), (rings[-1], False)):
        middle = np.repeat(ring.mean(axis=0)[None], AROUND, 0)
        pair = (np.roll(ring, -1, axis=0), ring) if inwards else (ring, np.roll(ring, -1, axis=0))
        caps.append(np.stack([middle, *pair], axis=1))
    soup = np.concatenate([walls, *caps])
    places = soup.mean(axis=1)
    unseen = [np.linalg.norm(places - spot, axis=1) < 5 for spot in ((14, 4, 60), (-12, 6, 130))]
    return stl.write(soup[~np.logical_or(*unseen)])
