"""Files of every format, and damage done to them, by seed: for tests and for `./ravine bench faults`."""

from __future__ import annotations

import io
import random
import re
from collections.abc import Iterator

import ezdxf
import numpy as np

from ravine.core.formats import brep, iges, triangles
from ravine.core.formats.reading import TriangleWrite
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import IDENTITY

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="10mm" height="10mm">'
CUBE = np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 1)])
FACES = ((0, 2, 1), (0, 1, 3), (0, 3, 2), (1, 2, 3))
ABSURD = [b"1E308", b"-1E-300", b"nan", b"99999999999999999999.", b"-1", b"", b"x"]


def nested_uses(depth: int, each: int = 10) -> str:
    """An SVG that unfolds to each ** depth elements."""
    groups = "".join(f'<g id="a{i}">' + f'<use xlink:href="#a{i - 1}"/>' * each + "</g>" for i in range(1, depth + 1))
    return f'{HEAD}<defs><g id="a0"><rect width="1" height="1"/></g>{groups}</defs><use xlink:href="#a{depth}"/></svg>'


def nested_blocks(depth: int, each: int = 10) -> str:
    """A DXF that unfolds to each ** depth lines."""
    document = ezdxf.new()
    document.blocks.new("B0").add_line((0, 0), (1, 1))
    for level in range(1, depth + 1):
        block = document.blocks.new(f"B{level}")
        for k in range(each):
            block.add_blockref(f"B{level - 1}", (k, 0))
    document.modelspace().add_blockref(f"B{depth}", (0, 0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def light_samples() -> Iterator[tuple[str, bytes]]:
    """File names and bytes of the formats that no kernel reads."""
    part = TriangleWrite("Part", 0, CUBE * 5.0, np.array(FACES, np.int32), tuple(IDENTITY), "#336699")
    for kind in ("obj", "ply", "3mf", "glb"):
        yield f"a.{kind}", triangles.write(kind, [part], "mm")
    yield "a.svg", nested_uses(1).encode()
    yield "a.dxf", nested_blocks(1).encode()
    facet = b"facet normal 0 0 1\nouter loop\n" + b"vertex 0 0 1\n" * 3 + b"endloop\nendfacet\n"
    yield "a.stl", b"solid a\n" + facet + b"endsolid"


def exact_samples(shape: Shape, step: bytes) -> Iterator[tuple[str, bytes]]:
    """Of the formats that the kernel reads."""
    yield "a.step", step
    yield "a.igs", iges.write([WriteNode("Part", IDENTITY, 0, [])], [WritePart("Part", shape, None, {})], "Part")
    yield "a.brep", brep.write([shape])


def damaged(data: bytes, draw: random.Random) -> bytes:
    """Bytes flipped, a piece cut out or doubled, references crossed, a number made absurd."""
    row, kind = bytearray(data), draw.randrange(5)
    if kind == 0:
        for _ in range(draw.randrange(1, 40)):
            row[draw.randrange(len(row))] = draw.randrange(256)
    elif kind in (1, 2):
        start = draw.randrange(len(row))
        piece = row[start : start + draw.randrange(2000)]
        row[start : start + (len(piece) if kind == 1 else 0)] = b"" if kind == 1 else piece
    elif kind == 3:
        numbers = [f"#{draw.randrange(20, 200)}".encode() for _ in range(2)]
        row = bytearray(bytes(row).replace(*numbers))
    else:
        found = draw.choice(list(re.finditer(rb"\d+(\.\d+)?", bytes(row))) or [None])
        if found is not None:
            row[found.start() : found.end()] = draw.choice(ABSURD)
    return bytes(row)
