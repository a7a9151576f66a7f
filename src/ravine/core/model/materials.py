"""Materials and their densities, for mass.  Room-temperature values for the common grade of each family."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Material:
    """density: kg/m³; grade: which one is meant; source: where the value is from."""

    density: float
    grade: str
    source: str


MATERIALS: dict[str, Material] = {
    "cast aluminium": Material(2650.0, "EN AC-43000, AlSi10Mg", "EN 1706, annex with typical values"),
    "wrought aluminium": Material(2700.0, "EN AW-6082", "EN 573-3; EN 1999-1-1, 3.2.5"),
    "structural steel": Material(7850.0, "S235 to S355", "EN 1993-1-1, 3.2.6; EN 1991-1-1, annex A"),
    "stainless steel": Material(7900.0, "1.4301", "EN 10088-1, annex E"),
    "tin bronze": Material(8700.0, "CC480K, CuSn10", "EN 1982, typical value"),
    "brass": Material(8500.0, "CW614N, CuZn39Pb3", "EN 12164, typical value"),
    "ABS": Material(1050.0, "moulding grade", "ISO 1183 value as published for the grade"),
    "polyamide 12": Material(1010.0, "PA 12", "ISO 1183 value as published for the grade"),
    "polycarbonate": Material(1200.0, "moulding grade", "ISO 1183 value as published for the grade"),
    "PETG": Material(1270.0, "filament and sheet", "ISO 1183 value as published for the grade"),
    "acetal": Material(1410.0, "POM copolymer", "ISO 1183 value as published for the grade"),
    "silicone rubber": Material(1150.0, "50 Shore A", "ISO 1183 value as published for the grade"),
}


def mass_kg(volume_mm3: float, material: str | None) -> float | None:
    """Mass of a volume; None while no material is set."""
    return None if material is None else volume_mm3 * 1e-9 * MATERIALS[material].density
