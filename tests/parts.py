"""Parts with known volumes, and other ready input for tests."""

from __future__ import annotations

import math
from pathlib import Path

from ravine.core import Model
from ravine.core.formats import step, stl
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.model.trimesh_body import TriangleMesh
from ravine.core.rigid import IDENTITY


def step_file(path: Path, shape: Shape, name: str = "Part", colour: str | None = None) -> Path:
    path.write_bytes(step.write([WriteNode(name, IDENTITY, 0, [])], [WritePart(name, shape, colour, {})], name))
    return path


def model_of(folder: Path, shape: Shape, name: str = "Part", units: str = "mm") -> tuple[Model, str]:
    """A model with one body brought in through a STEP file, as parts arrive in life; and the body's id."""
    model = Model(units=units)
    change = model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    return model, change.added[0]


def mesh_model(folder: Path, mesh: TriangleMesh, name: str = "Part") -> tuple[Model, str]:
    """A model with one mesh brought in through a file, and the body's id."""
    path = folder / f"{name}.stl"
    path.write_bytes(stl.write(mesh.corners))
    model = Model()
    return model, model.do("import", path=str(path), units="mm").added[0]


def drilled_block(x: float = 40, y: float = 30, z: float = 20, radius: float = 5) -> Shape:
    return build.subtract(build.box(x, y, z), build.cylinder(radius, z + 2, (x / 2, y / 2, -1)))


def drilled_volume(x: float, y: float, z: float, radius: float) -> float:
    return (x * y - math.pi * radius**2) * z


def boss_block() -> Shape:
    """A 60 × 40 × 10 plate with a boss Ø 20 × 12 and a hole Ø 8 through both."""
    plate = build.unite(build.box(60, 40, 10), build.cylinder(10, 12, (30, 20, 10)))
    return build.subtract(plate, build.cylinder(4, 30, (30, 20, -1)))


def grid_plate(columns: int = 15, rows: int = 12) -> Shape:
    """A plate with a field of counterbored holes: 6 + 2 faces a hole and a step, so 15 × 12 has 546 faces."""
    plate = build.box(columns * 12, rows * 12, 10)
    tools = []
    for i in range(columns):
        for j in range(rows):
            x, y = 12 * i + 6, 12 * j + 6
            tools += [build.cylinder(2, 12, (x, y, -1)), build.cylinder(4, 4, (x, y, 7))]
    return build.subtract(plate, *tools)
