"""The float arm of the gauging station: a bracket, an arm on its pivot pin, and a float; joined by the edits a person
would make."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.queries import EdgeFacts
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import IDENTITY, Rigid

CHEEK, GAP, PIVOT = 6.0, 16.0, 30.0  # thickness, room between the cheeks, height of the pin
PIN, STEM, REACH = 4.0, 3.0, 118.0  # radii; from the pin to the float
Edits = list[tuple[str, dict[str, Any]]]


def bracket() -> Shape:
    plate = build.fillet(
        build.box(64, 44, 6, (-32, -22, 0)), 6, lambda e: e.kind == "line" and abs(e.length - 6) < 1e-6
    )
    for side in (-1, 1):
        low = GAP / 2 if side > 0 else -GAP / 2 - CHEEK
        cheek = build.box(28, CHEEK, PIVOT - 5, (-14, low, 5))
        plate = build.unite(plate, cheek, build.cylinder(14, CHEEK, (0, low, PIVOT), (0, 1, 0)))
    bore = build.cylinder(PIN, 60, (0, -30, PIVOT), (0, 1, 0))
    feet = [build.cylinder(2.75, 10, (x, y, -1)) for x in (-25, 25) for y in (-15, 15)]
    return build.subtract(plate, bore, *feet)


def pin() -> Shape:
    shank = build.unite(build.cylinder(PIN, GAP + 2 * CHEEK + 4), build.cylinder(6.5, 3, (0, 0, -3)))
    return build.chamfer(shank, 0.6, lambda e: _ring(e, PIN, GAP + 2 * CHEEK + 4))


def _ring(edge: EdgeFacts, radius: float, height: float) -> bool:
    return edge.radius is not None and abs(edge.radius - radius) < 1e-6 and abs(edge.middle[2] - height) < 1e-6


def arm() -> Shape:
    """Its eye at the origin, along X; the float hangs in the upright bore at its end."""
    bar = build.box(REACH + 12, 10, 12, (0, -5, -6))
    eye = build.cylinder(11, GAP - 1, (0, -(GAP - 1) / 2, 0), (0, 1, 0))
    whole = build.unite(bar, eye, build.cylinder(8, 12, (REACH, 0, -6)))
    return build.subtract(
        whole, build.cylinder(PIN, 20, (0, -10, 0), (0, 1, 0)), build.cylinder(STEM, 14, (REACH, 0, -7))
    )


def floating() -> Shape:
    """A closed float with a stem on top, which stands on a shoulder."""
    hull = build.fillet(build.cylinder(24, 52), 10, lambda e: e.radius is not None)
    return build.unite(hull, build.cylinder(5, 10, (0, 0, 50)), build.cylinder(STEM, 26, (0, 0, 58)))


def tree() -> tuple[list[WriteNode], list[WritePart]]:
    """As the parts arrive: beside one another, and nothing joined."""
    parts = gauge_parts()
    return [WriteNode("Float gauge", IDENTITY, None, gauge_nodes(parts, 0))], parts


def gauge_parts() -> list[WritePart]:
    return [
        WritePart("Arm bracket", bracket(), "#9aa29f", {}),
        WritePart("Pivot pin", pin(), "#b9bdb9", {}),
        WritePart("Float arm", arm(), "#6f8a8c", {}),
        WritePart("Float", floating(), "#c9a45c", {}),
    ]


def gauge_nodes(parts: list[WritePart], first: int) -> list[WriteNode]:
    """first: number of the bracket among all parts."""
    places = [IDENTITY, Rigid.slide((-20, -60, 20)), Rigid.slide((0, 0, 80)), Rigid.slide((180, 60, 0))]
    return [WriteNode(p.name, place, first + k, []) for k, (p, place) in enumerate(zip(parts, places, strict=True))]


def joints(path: Path) -> Edits:
    """What joins them in the file."""
    model = Model()
    model.do("import", path=str(path))
    return [("join", {"of": model.nodes("Arm bracket"), "called": "ground"}), *joints_in(model)]


def joints_in(model: Model) -> Edits:
    """What joins pin, arm and float to the bracket, found by what the faces are."""
    body = {model.body(b).name: b for b in model.bodies()}

    def bore(name: str, radius: float, which: int = 0) -> list[str]:
        found = sorted(model.faces(body[name], kind="cylinder", radius=radius), key=lambda f: f.centroid)
        return [found[which].id]

    def flat(name: str, way: tuple[float, float, float], which: int = 0) -> list[str]:
        """The farthest along a direction, or one of those before it."""
        found = sorted(model.faces(body[name], kind="plane", normal=way),
                       key=lambda f: -sum(a * b for a, b in zip(f.centroid, way, strict=True)))  # fmt: skip
        return [found[which].id]

    cheeks = [*flat("Arm bracket", (0, 1, 0), 2), *flat("Arm bracket", (0, -1, 0), 2)]
    eyes = [*flat("Float arm", (0, 1, 0)), *flat("Float arm", (0, -1, 0))]
    return [
        ("join", {"of": bore("Pivot pin", PIN), "to": bore("Arm bracket", PIN), "called": "pin"}),
        ("join", {"of": flat("Pivot pin", (0, 0, 1), 1), "to": flat("Arm bracket", (0, -1, 0), 1), "called": "head"}),
        ("join", {"of": bore("Float arm", PIN), "to": bore("Pivot pin", PIN), "called": "pivot"}),
        ("join", {"of": eyes, "to": cheeks, "kind": "centred", "called": "middle"}),
        ("join", {"of": flat("Float arm", (0, 0, 1)), "to": flat("Arm bracket", (0, 0, 1), 0), "kind": "angle",
                  "least_angle": "0°", "most_angle": "38°", "called": "swing"}),
        ("join", {"of": bore("Float", STEM), "to": bore("Float arm", STEM), "called": "stem"}),
        ("join", {"of": flat("Float", (0, 0, 1), 1), "to": flat("Float arm", (0, 0, -1)), "called": "shoulder"}),
    ]  # fmt: skip
