"""Printing: the check, ways up and layers of the housing and of a part of 100 000 triangles; against the bare mesh."""

from __future__ import annotations

import time

import numpy as np

from ravine.core.kernel.serial import from_bytes, to_bytes
from ravine.core.kernel.shapes import Shape, parts_of
from ravine.core.kernel.tessellate import face_mesh, mesh_afresh
from ravine.core.printing import findings, layers, machines, orientation, printed
from ravine.demo.logger_housing import logger_housing
from ravine.demo.mast_clamp import mast_clamp

DOWN = np.array([0.0, 0.0, -1.0])


def triangles(shape: Shape, fine: float) -> tuple[printed.Printed, float]:
    copy = from_bytes(to_bytes(shape))
    began = time.perf_counter()
    mesh_afresh(copy, fine, 0.2 if fine > 0.01 else 0.05)
    seconds = time.perf_counter() - began
    rows = [(m := face_mesh(f)).points[m.triangles] for f in parts_of(copy, "face")]
    faces = np.concatenate([np.full(len(r), k) for k, r in enumerate(rows)])
    return printed.laid_down(np.concatenate(rows), faces, DOWN), seconds


def measure_printing() -> None:
    machine = machines.machine_for()
    heads = zip(
        ("triangles", "kernel mesh", "layers", "polygons", "check", "500 ways"), (9, 11, 7, 9, 6, 9), strict=True
    )
    print(f"{'part':<10} " + " ".join(f"{head:>{wide}}" for head, wide in heads))
    for name, shape, fine in (("housing", logger_housing(), 0.05), ("clamp", mast_clamp(), 0.05),
                              ("clamp fine", mast_clamp(), 0.006)):  # fmt: skip
        part, meshed = triangles(shape, fine)
        steps = [meshed]
        cut: layers.Layers | None = None
        began = time.perf_counter()
        cut = part.layers(machine.layer)
        steps.append(time.perf_counter() - began)
        began = time.perf_counter()
        area = sum(cut.shape(k).area for k in range(len(cut.heights)))
        steps.append(time.perf_counter() - began)
        began = time.perf_counter()
        findings.print_findings(part, cut, machine)
        steps.append(time.perf_counter() - began)
        began = time.perf_counter()
        orientation.orientations(part, machine)
        steps.append(time.perf_counter() - began)
        told = " ".join(f"{s:>{w}.2f}" for s, w in zip(steps, (11, 7, 9, 6, 9), strict=True))
        print(f"{name:<10} {len(part.corners):>9} {told}   volume by layers {area * machine.layer / part.volume:.4f}")
