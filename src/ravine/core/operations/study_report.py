"""A solved study as a page or two of PDF: what was assumed, what came of it, what it is worth."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..formats.running import RunningPages
from ..model.materials import MATERIALS
from ..model.simulation import LOADS, SUPPORTS, Simulation
from ..model.snapshot import Snapshot
from ..units import format_length

ASSUMED = (
    "Small displacements and linear material; contacts neither open nor close and have no friction.",
    "Stress at sharp inner corners and at the rims of supports grows without end as the mesh gets finer.",
    "Second-order tetrahedra; meshing alone scatters figures by about 1 %.",
)


def report_pdf(snapshot: Snapshot, study: Simulation, head: Mapping[str, Any], model: str) -> bytes:
    """head: as simulate/packed.answer_head has it; model: its name and revision."""
    units = snapshot.units
    page = RunningPages(f"{study.name} of {model}")
    page.row(f"{study.name}", weight="bold", size=6.0)
    page.row(f"Study of strength, {model}")
    page.head("Parts")
    bodies = {o.node.id: o.body for o in snapshot.occurrences()}
    for node in study.nodes:
        body = bodies[node]
        found = MATERIALS[body.material or ""]
        s = found.strength
        page.row(snapshot.nodes[node].name, f"{body.material}, {found.grade}", at=(0.0, 60.0))
        page.row(
            "",
            f"E {s.modulus:g} MPa, ν {s.poisson:g}, yields at {s.limit:g} MPa ({s.source})",
            at=(0.0, 60.0),
            size=2.8,
        )
    page.head("Held and loaded")
    for row in study.conditions:
        numbers = ", ".join(f"{k} {v:g}" for k, v in row.numbers.items() if v)
        words = SUPPORTS.get(row.kind) or LOADS[row.kind]
        page.row(
            row.name, f"{words} {numbers}".strip(), f"{len(row.on)} faces" if row.on else "", at=(0.0, 60.0, 140.0)
        )
    page.row("Numbers are in N, MPa, N mm, mm, rad/s, °C and W.", size=2.6)
    page.head("Result")
    figures = {"displacement": ("Moves at most", units), "von_mises": ("Stress at most, von Mises", "MPa"),
               "margin": ("Least margin against yield", "×")}  # fmt: skip
    for key, (title, unit) in figures.items():
        place = ", ".join(format_length(v, units) for v in head[key]["at"])
        page.row(title, f"{head[key]['value']:.4g} {unit}", f"at {place}", at=(0.0, 60.0, 95.0))
    for name, force in head["reactions"].items():
        told = ", ".join(f"{f:.5g} N {a}" for f, a in zip(force, "XYZ", strict=True))
        page.row(f"{name} pushes back", told, at=(0.0, 60.0))
    page.row("Loads and reactions balance to", f"{head['balance']:.1e}", at=(0.0, 60.0))
    page.head("What it is worth")
    page.row("Mesh", f"{head['elements']} elements, {head['unknowns']} unknowns, least quality {head['quality']:.2f}",
             at=(0.0, 60.0))  # fmt: skip
    for unknowns, moved, stress, error in head["rounds"]:
        page.row("Round", f"{unknowns} unknowns: {moved:.4g} {units}, {stress:.4g} MPa, {100 * error:.0f} % in doubt",
                 at=(0.0, 60.0))  # fmt: skip
    for _, words in head["warnings"]:
        page.words(words, "!", 5.0)
    for words in ASSUMED:
        page.row(words, size=2.8)
    return page.document.written()
