"""The gauging station put together: gasket and board, standoffs and screws of the logger, bolts of the clamps, glands,
and the float gauge on a clamp of its own."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import IDENTITY, Rigid

from . import float_arm
from .logger_housing import HEIGHT, POSTS, WALL, block, logger_housing, logger_lid
from .mast_clamp import mast_clamp
from .rotor import rotor

Edits = list[tuple[str, dict[str, Any]]]
Way = tuple[float, float, float]

GASKET = (0.9, 2.9, 1.2)  # inset of its two sides, and how high it is pressed, mm
STANDOFF = 16  # mm
BOARD = (80.0, 48.0, 1.6)
BOARD_AT = (10.0, 0.0)  # its middle in the housing, mm: the standoffs stand between the floor's ribs
GAUGE_FEET = [(x, y) for x in (-25.0, 25.0) for y in (-15.0, 15.0)]
LEDGE = 64.0  # mm that the float gauge's angle reaches out


def gasket() -> Shape:
    outer, inner, high = GASKET
    ring = build.subtract(block(outer, HEIGHT, HEIGHT + high), block(inner, HEIGHT - 1, HEIGHT + high + 1))
    return build.subtract(ring, *(build.cylinder(6.2, 9, (x, y, HEIGHT - 3)) for x, y in POSTS))


def _tapped(housing: Shape) -> Shape:
    """Its posts brought up to the lid and drilled for M4."""
    housing = build.unite(housing, *(build.cylinder(6, 8, (x, y, HEIGHT - 8)) for x, y in POSTS))
    return build.subtract(housing, *(build.cylinder(1.65, 23, (x, y, HEIGHT - 22)) for x, y in POSTS))


def gauge_clamp() -> Shape:
    """A mast clamp with tapped holes (M5) in its foot."""
    return build.subtract(mast_clamp(), *(build.cylinder(2.1, 40, (x, y, -1)) for x, y in GAUGE_FEET))


def gauge_angle() -> Shape:
    """Stands on the clamp's foot (its own XY plane), and carries the bracket on a ledge towards -Z."""
    leg, wide, thick = 60.0, 76.0, 6.0
    plate = build.box(wide, leg, thick, (-wide / 2, -leg / 2, -thick))
    ledge = build.box(wide, thick, LEDGE, (-wide / 2, leg / 2 - thick, -LEDGE))
    holes = [build.cylinder(2.75, 9, (x, y, -8)) for x, y in GAUGE_FEET]
    seats = [build.cylinder(2.1, 9, (x, leg / 2 - 8, -LEDGE / 2 - 6 + y), (0, 1, 0)) for x, y in GAUGE_FEET]
    return build.subtract(build.unite(plate, ledge), *holes, *seats)


def tree() -> tuple[list[WriteNode], list[WritePart]]:
    """As the parts arrive, with nothing bought in them and nothing joined."""
    mast = build.subtract(build.cylinder(24.9, 380), build.cylinder(21.5, 382, (0, 0, -1)))
    parts = [
        WritePart("Mast clamp", mast_clamp(), "#9aa29f", {}),
        WritePart("Logger housing", _tapped(logger_housing()), "#c7c3b4", {}),
        WritePart("Logger lid", build.subtract(logger_lid(), gasket()), "#6f8a8c", {}),
        WritePart("Propeller rotor", rotor(), "#c9a45c", {}),
        WritePart("Mast tube", mast, "#b9bdb9", {}),
        WritePart("Lid gasket", gasket(), "#3d4649", {}),
        WritePart("Gauge clamp", gauge_clamp(), "#9aa29f", {}),
        WritePart("Gauge angle", gauge_angle(), "#b9bdb9", {}),
    ]
    first = len(parts)
    parts += float_arm.gauge_parts()

    def leaf(number: int, place: Rigid = IDENTITY) -> WriteNode:
        return WriteNode(parts[number].name, place, number, [])

    upright = Rigid.about((0, 0, 0), (1, 0, 0), math.pi / 2)
    other_side = Rigid.about((0, -62, 0), (0, 0, 1), math.pi) @ upright
    on_the_feet = Rigid.about((0, 0, 0), (1, 0, 0), -math.pi / 2)
    nodes = [
        leaf(0, Rigid.slide((0, 0, 90)) @ upright),
        leaf(0, Rigid.slide((0, 0, -90)) @ upright),
        WriteNode("Data logger", on_the_feet, None, [leaf(1), leaf(5), leaf(2)]),
        leaf(4, Rigid.slide((0, -62, -200))),
        leaf(3, Rigid.slide((0, -62, -204)) @ Rigid.about((0, 0, 0), (0, 1, 0), math.pi)),
        leaf(6, other_side),
        leaf(7, other_side),
        WriteNode("Float gauge", Rigid.slide((0, -162, 30)), None, float_arm.gauge_nodes(parts[first:], first)),
    ]
    return [WriteNode("Gauging station", IDENTITY, None, nodes)], parts


def edits(path: Path) -> Edits:
    """What is done after it came in: the board, what is bought, and the joints; found by what the faces are."""
    model, done = Model(), []
    model.do("import", path=str(path))

    def do(name: str, **values: Any) -> None:
        model.do(name, **values)
        done.append((name, values))

    def bore(name: str, radius: float) -> str:
        return model.faces(_body(model, name), kind="cylinder", radius=radius)[0].id

    def rim(name: str, radius: float, way: Way) -> str:
        """The one of a radius that lies farthest along a direction."""
        rows = model.edges(_body(model, name), kind="circle")
        return max((e for e in rows if abs((e.radius or 0) - radius) < 1e-6), key=lambda e: _along(e.middle, way)).id

    do("import", path=str(path.with_name("logger-board.emn")))
    board = model.nodes("LOGGER_BOARD")
    do("move body", parts=board, along="x", angle="-90°")
    corner = _corner(model, "Board")
    goal = (BOARD_AT[0] - BOARD[0] / 2, WALL + STANDOFF, BOARD[1] / 2 - BOARD_AT[1])
    for way, here, there in zip("xyz", corner, goal, strict=True):
        do("move body", parts=board, along=way, distance=f"{there - here} mm")
    do("into group", parts=board, group=model.nodes("Data logger"))

    def take(item: str, on: str, **values: Any) -> None:
        do("take from the shelf", item=item, on=[on], **values)

    corners = [(x, 0.0, z) for x in (-1.0, 1.0) for z in (-1.0, 1.0)]
    for x, _, z in corners:
        take(f"standoff-m3x{STANDOFF}", rim("Board", 1.6, (x, -9, z)))
    for x, _, z in corners:
        take("iso4762-m3", rim("Board", 1.6, (x, 9, z)))
    take("iso4762-m4", bore("Logger lid", 2.1), holes="alike")
    take("gland-m16", bore("Logger housing", 8), holes="alike")
    bolted = ("Mast clamp", model.nodes("Mast clamp")), ("Gauge clamp", model.nodes("Gauge clamp"))
    for name, nodes in bolted:
        for node in nodes:
            for z in (-1, 1):
                take("iso4017-m10", f"{rim(name, 5.5, (-9, 0, z))}@{node}", extras="nut and washers")
    for edit, values in [*_gauge_stands(model), *float_arm.joints_in(model)]:
        do(edit, **values)
    for x, y, _ in [(x, y, 0) for x in (-1, 1) for y in (-1, 1)]:
        take("iso4762-m5", rim("Arm bracket", 2.75, (x, y, 9)))
    return done


def _gauge_stands(model: Model) -> Edits:
    """The clamp stands on the mast, the angle is fixed to the clamp, the bracket to the angle, all where they stand."""
    rows = [
        ("Gauge clamp", "Mast tube", "mast"),
        ("Gauge angle", "Gauge clamp", "foot"),
        ("Arm bracket", "Gauge angle", "ledge"),
    ]
    ground = ("join", {"of": model.nodes("Mast tube"), "called": "ground"})
    return [
        ground,
        *(("join", {"of": model.nodes(a), "to": model.nodes(b), "kind": "fixed", "called": n}) for a, b, n in rows),
    ]


def _corner(model: Model, name: str) -> Way:
    """Where the origin of a part's own coordinates stands."""
    number = int(model.nodes(name)[0][1:])
    matrix = next(m for node, m, _ in model.snapshot.walk() if node.id == number)
    return matrix[3], matrix[7], matrix[11]


def _body(model: Model, name: str) -> str:
    return next(b for b in model.bodies() if model.body(b).name == name)


def _along(point: Way, way: Way) -> float:
    return sum(a * b for a, b in zip(point, way, strict=True))
