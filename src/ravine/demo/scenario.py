"""The demo scenario: which models there are, from which files, of which materials, and what is drawn from nothing."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from ravine.core.lazy import later

if TYPE_CHECKING:
    from .gland_nut import Do

gland_nut, intake_duct = later("ravine.demo.gland_nut"), later("ravine.demo.intake_duct")  # the starter draws nothing


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
DRAWN: dict[str, Callable[[Do], None]] = {
    "Cable gland nut": lambda do: gland_nut.draw_gland_nut(do),
    "Intake duct": lambda do: intake_duct.draw_duct(do),
}


@dataclass(frozen=True)
class BroughtIn:
    """What of the scenario a data folder has had, whatever became of it since."""

    data: Path

    @property
    def _notes(self) -> Path:
        return self.data / "demo-brought-in.json"

    def done(self) -> list[str]:
        return json.loads(self._notes.read_text()) if self._notes.exists() else []

    def note(self, name: str) -> None:
        self._notes.write_text(json.dumps([*self.done(), name]))

    def missing(self) -> tuple[list[DemoModel], list[str]]:
        """Models from files, and names of drawn ones."""
        done = self.done()
        return [m for m in (*ROUGH, *MODELS) if m.file not in done], [name for name in DRAWN if name not in done]
