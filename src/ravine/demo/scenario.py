"""Writes the scenario's parts and their assembly as STEP files, for import like any file from elsewhere."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from ravine.core.formats import iges, step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY, multiply, shift, turn

from .gland_nut import Do, draw_gland_nut
from .logger_board import board_text
from .logger_housing import logger_housing, logger_lid
from .mast_clamp import mast_clamp
from .old_bracket import old_bracket
from .paddle_handle import paddle_handle
from .rotor import rotor


@dataclass(frozen=True)
class DemoModel:
    """A model of the demo: its name, its STEP file, and the material of each part by name."""

    name: str
    file: str
    materials: dict[str, str]
    units: str | None = None  # for formats that carry none


MODELS = [
    DemoModel("Propeller rotor", "propeller-rotor.step", {"Propeller rotor": "acetal"}),
    DemoModel("Logger housing", "logger-housing.step", {"Logger housing": "ABS", "Logger lid": "ABS"}),
    DemoModel("Mast clamp", "mast-clamp.step", {"Mast clamp": "cast aluminium"}),
    DemoModel(
        "Gauging station",
        "gauging-station.step",
        {
            "Mast clamp": "cast aluminium",
            "Logger housing": "ABS",
            "Logger lid": "ABS",
            "Propeller rotor": "acetal",
            "Mast tube": "stainless steel",
        },
    ),
]

# as they came from elsewhere: damaged, scanned, or from the electronics people
ROUGH = [
    DemoModel("Old bracket", "old-bracket.igs", {}),
    DemoModel("Logger board", "logger-board.emn", {}),
    DemoModel("Paddle handle", "paddle-handle.stl", {}, "mm"),
]

# models drawn from nothing with edits, by name
DRAWN: dict[str, Callable[[Do], None]] = {"Cable gland nut": draw_gland_nut}


def write_files(folder: Path) -> list[Path]:
    """Build everything and write the files; returns the paths of the sound ones in the order of MODELS."""
    folder.mkdir(parents=True, exist_ok=True)
    clamp = WritePart("Mast clamp", mast_clamp(), "#9aa29f", {})
    housing = WritePart("Logger housing", logger_housing(), "#c7c3b4", {})
    lid = WritePart("Logger lid", logger_lid(), "#6f8a8c", {})
    wheel = WritePart("Propeller rotor", rotor(), "#c9a45c", {})

    tube = build.subtract(build.cylinder(24.9, 380), build.cylinder(21.5, 382, (0, 0, -1)))
    mast = WritePart("Mast tube", tube, "#b9bdb9", {})

    def leaf(part: WritePart, number: int, matrix: tuple[float, ...] = IDENTITY) -> WriteNode:
        return WriteNode(part.name, matrix, number, [])

    logger = WriteNode("Data logger", IDENTITY, None, [leaf(housing, 1), leaf(lid, 2)])
    on_the_feet = turn((1, 0, 0), -math.pi / 2, (0, 0, 0))
    upright = turn((1, 0, 0), math.pi / 2, (0, 0, 0))
    station = WriteNode(
        "Gauging station",
        IDENTITY,
        None,
        [
            leaf(clamp, 0, multiply(shift(0, 0, 90), upright)),
            leaf(clamp, 0, multiply(shift(0, 0, -90), upright)),
            WriteNode("Data logger", on_the_feet, None, logger.children),
            leaf(mast, 4, shift(0, -62, -200)),
            leaf(wheel, 3, multiply(shift(0, -62, -204), turn((0, 1, 0), math.pi, (0, 0, 0)))),
        ],
    )
    alone = {
        "propeller-rotor.step": ([leaf(wheel, 0)], [wheel]),
        "logger-housing.step": (
            [WriteNode("Data logger", IDENTITY, None, [leaf(housing, 0), leaf(lid, 1)])],
            [housing, lid],
        ),
        "mast-clamp.step": ([leaf(clamp, 0)], [clamp]),
        "gauging-station.step": ([station], [clamp, housing, lid, wheel, mast]),
    }
    bracket = WritePart("Old bracket", old_bracket(), "#8d8f86", {})
    rough = {
        "old-bracket.igs": iges.write([leaf(bracket, 0)], [bracket], "Old bracket"),
        "logger-board.emn": board_text().encode(),
        "paddle-handle.stl": paddle_handle(),
    }
    for name, data in rough.items():
        (folder / name).write_bytes(data)
    paths = []
    for model in MODELS:
        roots, parts = alone[model.file]
        path = folder / model.file
        path.write_bytes(step.write(roots, parts, model.name))
        paths.append(path)
    return paths
