"""The demo scenario: which models there are, from which files, of which materials, and what is drawn from nothing."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from .gland_nut import Do, draw_gland_nut
from .intake_duct import draw_duct


@dataclass(frozen=True)
class DemoModel:
    """A model of the demo: its name, its STEP file, and the material of each part by name.  Edits in a file of the same
    name with the ending .edits.json are done after it was brought in."""

    name: str
    file: str
    materials: dict[str, str]
    units: str | None = None  # for formats that carry none


MODELS = [
    DemoModel("Propeller rotor", "propeller-rotor.step", {"Propeller rotor": "acetal"}),
    DemoModel("Logger housing", "logger-housing.step", {"Logger housing": "ABS", "Logger lid": "ABS"}),
    DemoModel("Mast clamp", "mast-clamp.step", {"Mast clamp": "cast aluminium"}),
    DemoModel("Battery tray", "battery-tray.step", {"Battery tray": "stainless steel"}),
    DemoModel("Rain hood", "rain-hood.step", {"Rain hood": "stainless steel"}),
    DemoModel(
        "Float gauge",
        "float-gauge.step",
        {"Arm bracket": "cast aluminium", "Pivot pin": "stainless steel", "Float arm": "acetal", "Float": "PETG"},
    ),
    DemoModel(
        "Gauging station",
        "gauging-station.step",
        {
            "Mast clamp": "cast aluminium",
            "Logger housing": "ABS",
            "Logger lid": "ABS",
            "Propeller rotor": "acetal",
            "Mast tube": "stainless steel",
            "Lid gasket": "silicone rubber",
            "Gauge clamp": "cast aluminium",
            "Gauge angle": "stainless steel",
            "Arm bracket": "cast aluminium",
            "Pivot pin": "stainless steel",
            "Float arm": "acetal",
            "Float": "PETG",
        },
    ),
]

# as they came from elsewhere: damaged, scanned, or from the electronics people
ROUGH = [
    DemoModel("Old bracket", "old-bracket.igs", {}),
    DemoModel("Bent cover", "bent-cover.step", {}),
    DemoModel("Logger board", "logger-board.emn", {}),
    DemoModel("Paddle handle", "paddle-handle.stl", {}, "mm"),
]

# models drawn from nothing with edits, by name
DRAWN: dict[str, Callable[[Do], None]] = {"Cable gland nut": draw_gland_nut, "Intake duct": draw_duct}
