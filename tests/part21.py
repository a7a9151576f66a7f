"""A reader of STEP files that shares nothing with the geometry kernel: it parses Part 21 text (ISO 10303-21) itself.

Enough to check what was written: names, colours, counts, unit, and the volume of bodies with plane faces and straight
edges by the divergence theorem over their polygons.
"""

from __future__ import annotations

import re
from itertools import pairwise

_ENTITY = re.compile(r"#(\d+)\s*=\s*(.*?);\s*(?=#\d+\s*=|ENDSEC)", re.DOTALL)


def _split(text: str) -> list[str]:
    """Top-level arguments."""
    found, depth, start, quoted = [], 0, 0, False
    for i, c in enumerate(text):
        if c == "'":
            quoted = not quoted
        elif quoted:
            continue
        elif c == "(":
            depth += 1
        elif c == ")":
            depth -= 1
        elif c == "," and depth == 0:
            found.append(text[start:i].strip())
            start = i + 1
    return [*found, text[start:].strip()]


def _unescape(text: str) -> str:
    return re.sub(
        r"\\X2\\([0-9A-F]+)\\X0\\",
        lambda m: bytes.fromhex(m.group(1)).decode("utf-16-be"),
        text,
    )


class Part21:
    def __init__(self, data: bytes) -> None:
        text = re.sub(r"/\*.*?\*/", "", data.decode("utf-8"), flags=re.DOTALL)
        head, body = text.split("DATA;", 1)
        self.header = {
            name: _split(" ".join(arguments.split()))
            for name, arguments in re.findall(r"([A-Z_]+)\s*\((.*?)\);", head.split("HEADER;", 1)[1], re.DOTALL)
        }
        self.entities: dict[int, tuple[str, list[str]]] = {}
        for number, right in _ENTITY.findall(body):
            match = re.match(r"([A-Z0-9_]+)\s*\((.*)\)$", right.strip(), re.DOTALL)
            name, arguments = (match.group(1), match.group(2)) if match else ("COMPLEX", right)
            self.entities[int(number)] = (name, _split(" ".join(arguments.split())))

    def words(self, text: str) -> str:
        """A string of the file as it is read."""
        return _unescape(text.strip("()' ").replace("''", "'"))

    def all(self, name: str) -> list[list[str]]:
        return [arguments for kind, arguments in self.entities.values() if kind == name]

    def get(self, reference: str) -> tuple[str, list[str]]:
        return self.entities[int(reference.strip()[1:])]

    def references(self, text: str) -> list[str]:
        return re.findall(r"#\d+", text)

    @property
    def products(self) -> list[str]:
        return [_unescape(a[0].strip("'")) for a in self.all("PRODUCT")]

    @property
    def colours(self) -> set[tuple[int, int, int]]:
        return {tuple(round(255 * float(v)) for v in a[1:4]) for a in self.all("COLOUR_RGB")}  # type: ignore[misc]

    @property
    def is_millimetres(self) -> bool:
        return any("SI_UNIT(.MILLI.,.METRE.)" in " ".join(a).replace(" ", "") for a in self.all("COMPLEX"))

    def _point(self, reference: str) -> tuple[float, ...]:
        kind, arguments = self.get(reference)
        if kind == "VERTEX_POINT":
            return self._point(arguments[1])
        return tuple(float(v) for v in arguments[1].strip("()").split(","))

    def polyhedron_volume(self, brep: list[str]) -> float:
        """Of one MANIFOLD_SOLID_BREP with plane faces and straight edges, in file units."""
        volume = 0.0
        shell = self.get(brep[1])[1]
        for face in self.references(shell[1]):
            _, (_, bounds, _surface, _same) = self.get(face)
            for bound in self.references(bounds):
                _, (_, loop, forward) = self.get(bound)
                corners = []
                for oriented in self.references(self.get(loop)[1][1]):
                    _, (_, _, _, edge, along) = self.get(oriented)
                    _, (_, start, end, _, _) = self.get(edge)
                    corners.append(self._point(start if along == ".T." else end))
                if forward == ".F.":
                    corners.reverse()
                a = corners[0]
                for b, c in pairwise(corners[1:]):
                    volume += (
                        a[0] * (b[1] * c[2] - b[2] * c[1])
                        + a[1] * (b[2] * c[0] - b[0] * c[2])
                        + a[2] * (b[0] * c[1] - b[1] * c[0])
                    ) / 6
        return volume
