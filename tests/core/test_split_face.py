"""Faces split by lines of every kind: the pieces have the right areas and the solid stays as it is."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.queries import edge_facts, face_facts, vertex_point
from tests.core.test_shaping_edits import sound
from tests.parts import model_of


class Part:
    """A block of 40 × 30 × 20 with a boss Ø 16 × 15 on it."""

    def __init__(self, tmp_path) -> None:
        shape = build.unite(build.box(40, 30, 20), build.cylinder(8, 15, (20, 15, 20)))
        self.model, self.id = model_of(tmp_path, shape)
        self.volume = 24000 + 64 * 15 * math.pi

    @property
    def body(self):
        return self.model.snapshot.body(int(self.id[1:]))

    @property
    def index(self):
        return self.model.geometry.solid(self.body.shape).index

    def face(self, test) -> str:
        return next(f"f{self.body.faces[i]}" for i, f in enumerate(self.index.all("face")) if test(face_facts(f)))

    def edge(self, test) -> str:
        return next(f"e{self.body.edges[i]}" for i, e in enumerate(self.index.all("edge")) if test(edge_facts(e)))

    def corner(self, place) -> str:
        return next(
            f"v{self.body.vertices[i]}"
            for i, v in enumerate(self.index.all("vertex"))
            if math.dist(vertex_point(v), place) < 1e-6
        )

    def areas(self) -> list[float]:
        return sorted(round(face_facts(f).area, 6) for f in self.index.all("face"))


def test_a_face_is_split_in_every_way(tmp_path) -> None:
    part = Part(tmp_path)
    front = part.face(lambda f: f.normal[1] < -0.9)
    wall = part.face(lambda f: f.kind == "cylinder")
    boss = part.face(lambda f: f.normal[2] > 0.9 and f.area < 300)
    whole = part.areas()
    bottom = part.edge(lambda e: abs(e.length - 40) < 1e-6 and e.middle[1] < 1 and e.middle[2] < 1)

    for values, pieces in (
        ({"faces": [front], "way": "corners", "tool": [part.corner((0, 0, 0)), part.corner((40, 0, 20))]}, (400, 400)),
        ({"faces": [front], "way": "square", "tool": [bottom], "share": "1/4"}, (200, 600)),
        ({"faces": [front], "way": "across", "share": "30 %"}, None),
        ({"faces": [wall], "way": "across", "share": "1/3"}, (80 * math.pi, 160 * math.pi)),
        ({"faces": [wall], "way": "along", "share": "1/4"}, None),
    ):  # fmt: skip
        change = part.model.do("split face", **values)
        assert change.fact("faces") == 1 or values["way"] == "along"
        left = part.areas()
        fresh = [a for a in left if a not in whole]
        assert sum(left) == pytest.approx(sum(whole))
        if pieces:
            expected = [p for p in pieces if round(p, 6) not in whole]
            assert sorted(fresh) == pytest.approx(sorted(expected), rel=1e-6)
        sound(part.model, part.id, part.volume)
        part.model.undo()
    # the top, by the outline of another part standing on it, and a plane midway
    part.model.do("sketch", on=[boss])
    sketch = f"s{max(part.model.snapshot.sketches)}"
    with pytest.raises(EditError, match="from border to border"):
        part.model.do("split face", faces=[front], way="plane", tool=[sketch])
    with pytest.raises(EditError, match="still empty"):
        part.model.do("split face", faces=[front], way="plane")
    with pytest.raises(EditError, match="two corners"):
        part.model.do("split face", faces=[front], way="corners", tool=[bottom])
