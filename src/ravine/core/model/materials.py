"""Densities for mass, kg/m³.  Room-temperature values for the common grade of each family.

Sources: EN 1706 AC-43000 data for cast aluminium; EN 10025 and EN 10088-1 for the steels; EN 1982 for bronze;
ISO 1183 data as published for the moulding grades of the polymers.
"""

from __future__ import annotations

DENSITIES: dict[str, float] = {
    "cast aluminium": 2650.0,
    "wrought aluminium": 2700.0,
    "structural steel": 7850.0,
    "stainless steel": 7900.0,
    "tin bronze": 8700.0,
    "brass": 8500.0,
    "ABS": 1050.0,
    "polyamide 12": 1010.0,
    "polycarbonate": 1200.0,
    "PETG": 1270.0,
    "acetal": 1410.0,
    "silicone rubber": 1150.0,
}


def mass_kg(volume_mm3: float, material: str | None) -> float | None:
    """Mass of a volume; None while no material is set."""
    return None if material is None else volume_mm3 * 1e-9 * DENSITIES[material]
