"""Simulation: how long meshing and solving take as meshes grow, memory, and how near the formulas the figures lie."""

from __future__ import annotations

import math
import os
import resource
import tempfile
import time
from pathlib import Path

from tests.parts import model_of

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.serial import to_text
from ravine.core.kernel.shapes import parts_of
from ravine.core.simulate import assemble, loads, meshing, static, supports
from ravine.core.simulate.material import Elastic
from ravine.demo.mast_clamp import mast_clamp

CAST = Elastic(71e3, 0.33, 2.65e-9, 90, 21e-6, 150)
SIZES = (12.0, 5.0, 3.5)


def measure_simulate() -> None:
    os.environ.setdefault("OMP_NUM_THREADS", "1")
    growth()
    formulas()


def growth() -> None:
    shape = mast_clamp()
    faces = len(parts_of(shape, "face"))
    print(f"{'unknowns':>9} {'mesh s':>7} {'matrix s':>9} {'whole s':>8} {'steps':>6} {'peak MB':>8}")
    rows = []
    for size in SIZES:
        began = time.perf_counter()
        mesh = meshing.mesh_parts([meshing.MeshPart("clamp", to_text(shape), faces, size)])
        meshed = time.perf_counter() - began
        began = time.perf_counter()
        assemble.stiffness(mesh, [CAST])
        matrix = time.perf_counter() - began
        low = [f for f in range(faces) if abs(mesh.points[mesh.of_faces([f])[:, :3]][..., 2]).max() < 1e-6]
        top = max(range(faces), key=lambda f: mesh.points[mesh.of_faces([f])[:, :3]][..., 2].min())
        held = supports.Held()
        held.fix(mesh.nodes_of(low))
        problem = static.Problem(mesh, [CAST], held, loads.force(mesh, mesh.of_faces([top]), (1000, 0, 0)))
        began = time.perf_counter()
        found = static.solve_static(problem, ["clamp"])
        whole = time.perf_counter() - began
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        rows.append((mesh.unknowns, whole))
        told = f"{mesh.unknowns:>9} {meshed:>7.1f} {matrix:>9.1f} {whole:>8.1f} {found.steps:>6} {peak:>8.0f}"
        print(told, flush=True)
    (a, s), (b, t) = rows[0], rows[-1]
    print(f"time grows with unknowns to the power of {math.log(t / s) / math.log(b / a):.2f}")


def formulas() -> None:
    """As the tests have them, with their figures."""
    with tempfile.TemporaryDirectory() as name:
        bar, body = model_of(Path(name), build.box(100, 10, 10), "Bar")
        study = _study(bar)
        study.fix([_flat(bar, body, (-1, 0, 0))]).force([_flat(bar, body, (1, 0, 0))], (0, 0, -100))
        inertia, shear = 10**4 / 12, 5 / 6 * 210e3 / 2.6 * 100
        whole = 100 * 100**3 / (3 * 210e3 * inertia) + 100 * 100 / shear
        for size in (10, 5, 2.5):
            found = study.solve(size=size)
            off = -found.displacement((100, 5, 5))[2] / whole - 1
            print(f"cantilever, elements of {size:g} mm: {100 * off:+.2f} % of Timoshenko, {found.unknowns} unknowns")


def _study(model: Model):  # type: ignore[no-untyped-def]
    model.do("set material", parts=model.nodes(), material="structural steel")
    return model.study()


def _flat(model: Model, body: str, way: tuple[float, float, float]) -> str:
    return model.faces(body, kind="plane", normal=way).highest(way).id
