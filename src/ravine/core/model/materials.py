"""Materials and their densities, for mass.  Room-temperature values for the common grade of each family."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Strength:
    """modulus: MPa; poisson; limit: MPa, 0.2 % proof stress or yield; expansion: 1/K; conductivity: W/(m K)."""

    modulus: float
    poisson: float
    limit: float
    expansion: float
    conductivity: float
    source: str


@dataclass(frozen=True)
class Material:
    """density: kg/m³; grade: which one is meant; source: where the value is from."""

    density: float
    grade: str
    source: str
    strength: Strength


MATERIALS: dict[str, Material] = {
    "cast aluminium": Material(
        2650.0,
        "EN AC-43000, AlSi10Mg",
        "EN 1706, annex with typical values",
        Strength(71000, 0.33, 90, 2.1e-05, 150, "EN 1706, annex A, permanent mould, as cast"),
    ),
    "wrought aluminium": Material(
        2700.0,
        "EN AW-6082",
        "EN 573-3; EN 1999-1-1, 3.2.5",
        Strength(70000, 0.33, 250, 2.31e-05, 172, "EN 1999-1-1, 3.2.2 and 3.2.5; T6"),
    ),
    "structural steel": Material(
        7850.0,
        "S235 to S355",
        "EN 1993-1-1, 3.2.6; EN 1991-1-1, annex A",
        Strength(210000, 0.3, 235, 1.2e-05, 53, "EN 1993-1-1, 3.2; EN 1993-1-2, 3.4"),
    ),
    "stainless steel": Material(
        7900.0,
        "1.4301",
        "EN 10088-1, annex E",
        Strength(200000, 0.3, 210, 1.6e-05, 15, "EN 10088-1, annex E; EN 1993-1-4"),
    ),
    "tin bronze": Material(
        8700.0,
        "CC480K, CuSn10",
        "EN 1982, typical value",
        Strength(95000, 0.34, 130, 1.85e-05, 59, "EN 1982, typical values"),
    ),
    "brass": Material(
        8500.0,
        "CW614N, CuZn39Pb3",
        "EN 12164, typical value",
        Strength(97000, 0.35, 160, 2.09e-05, 113, "EN 12164, typical values"),
    ),
    "ABS": Material(
        1050.0,
        "moulding grade",
        "ISO 1183 value as published for the grade",
        Strength(2300, 0.37, 42, 8.5e-05, 0.17, "ISO 527, ISO 11359 values as published for the grade"),
    ),
    "polyamide 12": Material(
        1010.0,
        "PA 12",
        "ISO 1183 value as published for the grade",
        Strength(1450, 0.4, 42, 0.00011, 0.23, "ISO 527, ISO 11359 values as published for the grade"),
    ),
    "polycarbonate": Material(
        1200.0,
        "moulding grade",
        "ISO 1183 value as published for the grade",
        Strength(2350, 0.38, 62, 6.5e-05, 0.2, "ISO 527, ISO 11359 values as published for the grade"),
    ),
    "PETG": Material(
        1270.0,
        "filament and sheet",
        "ISO 1183 value as published for the grade",
        Strength(2100, 0.38, 50, 6.8e-05, 0.2, "ISO 527, ISO 11359 values as published for the grade"),
    ),
    "acetal": Material(
        1410.0,
        "POM copolymer",
        "ISO 1183 value as published for the grade",
        Strength(2700, 0.37, 64, 0.00011, 0.31, "ISO 527, ISO 11359 values as published for the grade"),
    ),
    "silicone rubber": Material(
        1150.0,
        "50 Shore A",
        "ISO 1183 value as published for the grade",
        Strength(2.2, 0.49, 7, 0.0003, 0.2, "secant at small strain; strength at break"),
    ),
}


def mass_kg(volume_mm3: float, material: str | None) -> float | None:
    """Mass of a volume; None while no material is set."""
    return None if material is None else volume_mm3 * 1e-9 * MATERIALS[material].density
