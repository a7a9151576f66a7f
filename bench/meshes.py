"""A large mesh: how long it takes to open, to show and to cut, and how much memory that needs; fitting of sections."""

from __future__ import annotations

import resource
import time
from pathlib import Path

import numpy as np

from ravine.core import Model
from ravine.core.formats import stl
from ravine.core.mending.sections import mesh_chains
from ravine.core.sketch.entities import Plane
from ravine.core.sketch.fitting import Wanted, fit
from ravine.core.view.packet import pack


def bumpy_ball(count: int) -> np.ndarray:
    """About `count` loose triangles (n, 3, 3), mm."""
    rows = int((count / 4) ** 0.5)
    v, u = np.meshgrid(np.linspace(0.001, np.pi - 0.001, rows + 1), np.linspace(0, 2 * np.pi, 2 * rows + 1))
    radius = 50 + np.cos(7 * u) * np.sin(v) ** 3 + 0.5 * np.sin(9 * v)
    places = np.stack([radius * np.sin(v) * np.cos(u), radius * np.sin(v) * np.sin(u), radius * np.cos(v)], axis=2)
    places[-1] = places[0]
    a, b, c, d = places[:-1, :-1], places[1:, :-1], places[:-1, 1:], places[1:, 1:]
    return np.concatenate([np.stack([a, c, d], 2).reshape(-1, 3, 3), np.stack([a, d, b], 2).reshape(-1, 3, 3)])


def measure_meshes(folder: str) -> None:
    """`folder`: where files may be written."""
    path = Path(folder) / "large.stl"
    path.write_bytes(stl.write(bumpy_ball(1_000_000)))
    model = Model()
    began = time.perf_counter()
    (body,) = model.do("import", path=str(path), units="mm").added
    opened = time.perf_counter() - began
    mesh = model.geometry.get(model.body(body).shape)
    began = time.perf_counter()
    packet = pack(mesh)
    shown = time.perf_counter() - began
    began = time.perf_counter()
    chains = mesh_chains(mesh, Plane((0.0, 0.0, 3.0)))
    cut = time.perf_counter() - began
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20
    print(f"mesh of {len(mesh.triangles):,} triangles: opened in {opened:.1f} s, packed for the view in {shown:.1f} s "
          f"({len(packet) / 2**20:.0f} MB), cut in {cut:.2f} s; peak {peak:.2f} GB (budget 2)")  # fmt: skip
    ring = max(chains, key=len)[:2001]
    for deviation in (0.1, 0.02, 0.005):
        began = time.perf_counter()
        found = fit([ring], Wanted(deviation))
        spent = time.perf_counter() - began
        print(f"fitting {len(ring) - 1} segments within {deviation} mm: {len(found.strokes)} curves, off "
              f"{found.off:.4f} mm, {spent * 1e3:.0f} ms (budget 200)")  # fmt: skip
