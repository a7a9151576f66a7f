"""The local face engine: success over every face and several offsets, times, removal against the kernel's own,
and what ten times the faces cost."""

from __future__ import annotations

import statistics
import time
from collections import Counter

from OCP.BRepBuilderAPI import BRepBuilderAPI_NurbsConvert

from ravine.core.errors import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.defeature import defeature
from ravine.core.kernel.shapes import Shape, ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.closing import close_up
from ravine.core.local.conversion import converted
from ravine.core.local.engine import reshape
from ravine.core.local.failure import LocalFailure
from ravine.core.local.features import feature_of
from ravine.core.local.fillets import chain
from ravine.core.local.plan import Offset
from ravine.core.local.topology import SolidTopology
from ravine.core.session import Model
from ravine.demo.logger_housing import logger_housing
from ravine.demo.mast_clamp import mast_clamp

from .parts import plate_375
from .pushing import Told, brought_in, spread

SMALL, MEDIUM, LARGE = 0.1, 1.0, 4.0


def parts() -> dict[str, Shape]:
    """The 375-face part, a cast part with rounds, and the housing written as splines and laid on its real form."""
    spline = BRepBuilderAPI_NurbsConvert(logger_housing(), True).Shape()
    began = time.perf_counter()
    topology, count = converted(SolidTopology(ShapeIndex(spline)))
    print(f"spline housing: {count} of {topology.index.count('face')} faces laid on their real form, "
          f"{time.perf_counter() - began:.1f} s")  # fmt: skip
    return {"plate of 375 faces": plate_375(), "cast clamp": mast_clamp(), "spline housing": topology.index.shape}


def measure_offsets(name: str, shape: Shape) -> None:
    """Engine alone: solved, checked locally; a tenth of the results is checked by the kernel as a whole."""
    topology = SolidTopology(ShapeIndex(shape))
    volume = volume_properties(shape).amount
    for size in (SMALL, MEDIUM, LARGE):
        times, wrong, why, tried = [], 0, Counter[str](), 0
        for face in range(topology.index.count("face")):
            for distance in (size, -size):
                tried += 1
                began = time.perf_counter()
                try:
                    result = reshape(topology, {face: Offset(distance)})
                except LocalFailure as failure:
                    why[failure.reason] += 1
                    continue
                times.append(time.perf_counter() - began)
                if tried % 10 == 0:
                    change = volume_properties(result.shape).amount - volume
                    off = abs(change - result.volume_change) > 1e-6 * volume
                    wrong += bool(fault(result.shape) is not None or off)
        print(f"  {name}, ±{size:g} mm: {len(times)} of {tried} solved in place, {wrong} wrong; {spread(times)}")
        for reason, count in why.most_common(4):
            print(f"      {count} × {reason}")


def measure_edits(name: str, shape: Shape, every: int) -> None:
    """The whole push edit with its ladder, on every n-th face, ±1 mm: valid or refused with a reason."""
    model, told = Model(), Told()
    for face in brought_in(model, shape)[::every]:
        for distance in (MEDIUM, -MEDIUM):
            told.push(model, face, distance)
    told.show(f"{name}, push edit ±1 mm", 4)


def measure_remove(name: str, shape: Shape, most: int = 30) -> None:
    """Closing up against the kernel's defeaturing of the same faces, in turn.  The edit asks the kernel where our own
    way ends, so what it does is what either does."""
    topology = SolidTopology(ShapeIndex(shape))
    seen: set[int] = set()
    ours, kernels, done, kernel_done, either, tried = [], [], 0, 0, 0, 0
    for face in range(topology.index.count("face")):
        faces = set(chain(topology, face)) or feature_of(topology, [face])
        if not faces or faces & seen or tried >= most:
            continue
        seen |= faces
        tried += 1
        began = time.perf_counter()
        by_us = by_kernel = False
        try:
            close_up(topology, faces)
            by_us = True
            ours.append(time.perf_counter() - began)
        except LocalFailure:
            pass
        began = time.perf_counter()
        try:
            result, _ = defeature(shape, [topology.index.get("face", f) for f in faces])
            by_kernel = fault(result) is None
            kernels.append(time.perf_counter() - began)
        except EditError:
            pass
        done, kernel_done, either = done + by_us, kernel_done + by_kernel, either + (by_us or by_kernel)
    ratio = statistics.median(ours) / statistics.median(kernels) if ours and kernels else float("nan")
    print(f"  {name}, remove: ours {done} of {tried}, {spread(ours)}; kernel {kernel_done}, {spread(kernels)}; "
          f"the edit {either}; ratio {ratio:.2f} (budget 0.20)")  # fmt: skip


def measure_growth() -> None:
    """The same push on a plate with ten times the faces."""
    medians = []
    for rows in (3, 30):
        tools = [build.cylinder(2, 12, (6 + 12 * i, 6 + 12 * j, -1)) for i in range(10) for j in range(rows)]
        posts = [build.box(4, 4, 5, (10 + 12 * i, 10 + 12 * j, 10)) for i in range(3) for j in range(rows)]
        body = build.unite(build.subtract(build.box(124, 12 * rows + 4, 10), *tools), *posts)
        topology = SolidTopology(ShapeIndex(body))
        tops = [f for f in range(topology.index.count("face")) if topology.boxes[f][2] > 14.9]
        faces = tops[:9]  # as many in both, each pushed before: what is read once of a face is no growth
        for face in faces:
            reshape(topology, {face: Offset(0.5)})
        row = []
        for face in (faces * 5)[:40]:
            began = time.perf_counter()
            reshape(topology, {face: Offset(0.5)})
            row.append(time.perf_counter() - began)
        medians.append(statistics.median(row))
        print(f"  {topology.index.count('face')} faces: {medians[-1] * 1e3:.1f} ms")
    print(f"  growth for ten times the faces: {medians[1] / medians[0]:.2f} (budget 2)")


def measure_local() -> None:
    for name, shape in parts().items():
        measure_offsets(name, shape)
        measure_edits(name, shape, 6 if name.startswith("plate") else 1)
        measure_remove(name, shape)
    measure_growth()
