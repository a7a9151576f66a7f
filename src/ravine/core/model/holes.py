"""Standard holes for screws, mm.

Metric: clearance holes by ISO 273 (fine, medium, coarse series); tapping drills by ISO 2306 for the coarse pitches of
ISO 261; counterbores for cheese-head screws with hexagon socket (ISO 4762) by DIN 974-1, row 1; countersinks of 90° by
ISO 15065.  Inch: coarse threads of ASME B1.1 with the customary drills for tapping and for a close or free fit;
counterbores and 82° countersinks for the screws of ASME B18.3.
"""

from __future__ import annotations

from dataclasses import dataclass

INCH = 25.4


@dataclass(frozen=True)
class Screw:
    """clearance: close, medium and free fit; counterbore: (diameter, depth); countersink: (diameter, degrees)."""

    name: str
    diameter: float
    pitch: float
    clearance: tuple[float, float, float]
    tap_drill: float
    counterbore: tuple[float, float] | None
    countersink: tuple[float, float] | None


# name: diameter, pitch, ISO 273 fine, medium, coarse, tapping drill, counterbore diameter, countersink diameter
_METRIC = {
    "M1.6": (1.6, 0.35, 1.7, 1.8, 2.0, 1.25, None, 3.6),
    "M2": (2.0, 0.4, 2.2, 2.4, 2.6, 1.6, None, 4.4),
    "M2.5": (2.5, 0.45, 2.7, 2.9, 3.1, 2.05, None, 5.5),
    "M3": (3.0, 0.5, 3.2, 3.4, 3.6, 2.5, 6.5, 6.3),
    "M4": (4.0, 0.7, 4.3, 4.5, 4.8, 3.3, 8.0, 9.4),
    "M5": (5.0, 0.8, 5.3, 5.5, 5.8, 4.2, 10.0, 10.4),
    "M6": (6.0, 1.0, 6.4, 6.6, 7.0, 5.0, 11.0, 12.6),
    "M8": (8.0, 1.25, 8.4, 9.0, 10.0, 6.8, 15.0, 17.3),
    "M10": (10.0, 1.5, 10.5, 11.0, 12.0, 8.5, 18.0, 20.0),
    "M12": (12.0, 1.75, 13.0, 13.5, 14.5, 10.2, 20.0, None),
    "M16": (16.0, 2.0, 17.0, 17.5, 18.5, 14.0, 26.0, None),
    "M20": (20.0, 2.5, 21.0, 22.0, 24.0, 17.5, 33.0, None),
    "M24": (24.0, 3.0, 25.0, 26.0, 28.0, 21.0, 40.0, None),
}
# name: diameter, threads an inch, close, free, tapping drill, counterbore, countersink; inches
_INCH = {
    "#4-40": (0.112, 40, 0.116, 0.1285, 0.089, 7 / 32, 0.255),
    "#6-32": (0.138, 32, 0.144, 0.1495, 0.1065, 9 / 32, 0.307),
    "#8-32": (0.164, 32, 0.1695, 0.177, 0.136, 5 / 16, 0.359),
    "#10-24": (0.190, 24, 0.196, 0.201, 0.1495, 3 / 8, 0.411),
    "1/4-20": (0.25, 20, 0.257, 0.266, 0.201, 7 / 16, 0.531),
    "5/16-18": (0.3125, 18, 0.323, 0.332, 0.257, 17 / 32, 0.656),
    "3/8-16": (0.375, 16, 0.386, 0.397, 0.3125, 5 / 8, 0.781),
    "1/2-13": (0.5, 13, 33 / 64, 17 / 32, 27 / 64, 13 / 16, 0.938),
    "5/8-11": (0.625, 11, 41 / 64, 21 / 32, 17 / 32, 1.0, 1.188),
    "3/4-10": (0.75, 10, 49 / 64, 25 / 32, 21 / 32, 1.1875, 1.438),
}


def _sink_allowance(diameter: float) -> float:
    """What DIN 974-1 adds to the height of the head, which is that of the thread."""
    return 0.4 if diameter <= 6 else 0.6 if diameter <= 20 else 0.8


def _metric(name: str) -> Screw:
    diameter, pitch, fine, medium, coarse, drill, bore, sink = _METRIC[name]
    assert diameter is not None
    return Screw(
        name, diameter, pitch or 0.0, (fine or 0.0, medium or 0.0, coarse or 0.0), drill or 0.0,
        (bore, diameter + _sink_allowance(diameter)) if bore else None, (sink, 90.0) if sink else None,
    )  # fmt: skip


def _inch(name: str) -> Screw:
    diameter, threads, close, free, drill, bore, sink = (float(v) for v in _INCH[name])
    return Screw(
        name, diameter * INCH, INCH / threads, (close * INCH, free * INCH, free * INCH), drill * INCH,
        (bore * INCH, diameter * INCH), (sink * INCH, 82.0),
    )  # fmt: skip


SCREWS: dict[str, Screw] = {**{n: _metric(n) for n in _METRIC}, **{n: _inch(n) for n in _INCH}}
