"""Features that were set aside: what is needed to put them back on the faces as they are then."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..rigid import Vec


@dataclass(frozen=True)
class Support:
    """A flat face that a feature met, by its id: a place on it and its outward normal then, in the body's own
    coordinates (mm)."""

    face: int
    point: Vec
    normal: Vec


@dataclass(frozen=True)
class SharpEdge:
    """An edge that a round or chamfer left: the ids of its two faces, and a place on it."""

    faces: tuple[int, int]
    point: Vec


@dataclass(frozen=True)
class Part:
    """One feature.  shape: address of what it adds or takes away, empty for a round or chamfer; matter: whether it
    adds; supports: the first is the one that it stood on; edges: of a round or chamfer; size: radius or width, and
    the second width of a chamfer that has another."""

    shape: str = ""
    matter: bool = False
    supports: tuple[Support, ...] = ()
    edges: tuple[SharpEdge, ...] = ()
    size: tuple[float, ...] = ()


@dataclass(frozen=True)
class SetAside:
    """name: what it is called until it is put back; title: in words of the trade; kind: of features.feature.KINDS;
    body: whose it is."""

    id: int
    name: str
    title: str
    kind: str
    body: int
    parts: tuple[Part, ...]

    def to_json(self) -> dict[str, Any]:
        parts = [
            {
                "shape": p.shape,
                "matter": p.matter,
                "supports": [s.__dict__ for s in p.supports],
                "edges": [e.__dict__ for e in p.edges],
                "size": p.size,
            }
            for p in self.parts
        ]
        return {**self.__dict__, "parts": parts}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> SetAside:
        parts = tuple(
            Part(
                p["shape"],
                p["matter"],
                tuple(Support(s["face"], tuple(s["point"]), tuple(s["normal"])) for s in p["supports"]),
                tuple(SharpEdge((e["faces"][0], e["faces"][1]), tuple(e["point"])) for e in p["edges"]),
                tuple(p["size"]),
            )
            for p in data["parts"]
        )
        return cls(**{**data, "parts": parts})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies

    def blobs(self) -> Iterable[str]:
        return [p.shape for p in self.parts if p.shape]
