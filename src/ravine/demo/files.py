"""Writes the scenario's parts and their assembly as files, for import like any file from elsewhere.

`python -m ravine.demo.files FOLDER`: in a process of its own, since it loads the geometry library.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from ravine.core.formats import iges, step
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY

from . import clamp_study, float_arm, sheet_parts, station
from .logger_board import board_text
from .logger_housing import logger_housing, logger_lid
from .mast_clamp import mast_clamp
from .old_bracket import old_bracket
from .paddle_handle import paddle_handle
from .rotor import rotor
from .scenario import MODELS


def write_files(folder: Path) -> list[Path]:
    """Build everything and write the files; returns the paths of the sound ones in the order of MODELS."""
    folder.mkdir(parents=True, exist_ok=True)
    clamp = WritePart("Mast clamp", mast_clamp(), "#9aa29f", {})
    housing = WritePart("Logger housing", logger_housing(), "#c7c3b4", {})
    lid = WritePart("Logger lid", logger_lid(), "#6f8a8c", {})
    wheel = WritePart("Propeller rotor", rotor(), "#c9a45c", {})

    def leaf(part: WritePart, number: int) -> WriteNode:
        return WriteNode(part.name, IDENTITY, number, [])

    alone = {
        "propeller-rotor.step": ([leaf(wheel, 0)], [wheel]),
        "logger-housing.step": (
            [WriteNode("Data logger", IDENTITY, None, [leaf(housing, 0), leaf(lid, 1)])],
            [housing, lid],
        ),
        "mast-clamp.step": ([leaf(clamp, 0)], [clamp]),
    }
    bracket = WritePart("Old bracket", old_bracket(), "#8d8f86", {})
    rough = {
        "old-bracket.igs": iges.write([leaf(bracket, 0)], [bracket], "Old bracket"),
        "logger-board.emn": board_text().encode(),
        "paddle-handle.stl": paddle_handle(),
    }
    rough["bent-cover.step"] = step.write(*sheet_parts.tree("Bent cover", sheet_parts.cover(), "#9aa29f"), "Bent cover")
    for name, data in rough.items():
        (folder / name).write_bytes(data)
    paths = []
    alone["gauging-station.step"] = station.tree()
    alone["float-gauge.step"] = float_arm.tree()
    alone["battery-tray.step"] = sheet_parts.tree("Battery tray", sheet_parts.tray_plate(), "#b9bdb9")
    alone["rain-hood.step"] = sheet_parts.tree("Rain hood", sheet_parts.hood_plate(), "#8fa3a8")
    for model in MODELS:
        roots, parts = alone[model.file]
        path = folder / model.file
        path.write_bytes(step.write(roots, parts, model.name))
        paths.append(path)
    _write_edits(folder)
    return paths


def _write_edits(folder: Path) -> None:
    """What is done to some of them after they came in."""
    further = {
        "float-gauge": float_arm.joints,
        "battery-tray": sheet_parts.tray_edits,
        "rain-hood": sheet_parts.hood_edits,
        "gauging-station": station.edits,
        "mast-clamp": clamp_study.edits,
    }
    for name, edits in further.items():
        path = folder / f"{name}.step"
        path.with_suffix(".edits.json").write_text(json.dumps(edits(path)))


if __name__ == "__main__":
    write_files(Path(sys.argv[1]))
