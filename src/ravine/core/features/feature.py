"""One feature, as read from a solid."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..rigid import Vec


@dataclass(frozen=True)
class Drive:
    """What moves when a size grows by 1 mm: offsets of faces along their outward normals (mm), and then slides of faces
    (3,) in mm."""

    offsets: dict[int, float] = field(default_factory=dict)
    slides: dict[int, Vec] = field(default_factory=dict)


KINDS = ("hole", "slot", "pocket", "step", "groove", "boss", "rib", "fillet", "chamfer", "cluster")


@dataclass(frozen=True)
class Feature:
    """kind: of KINDS; form: what it is among its kind, in words of the trade; faces: numbers in the solid; sizes: by
    name, mm and degrees; place and way: a point (mm) and a unit direction, of its axis or of where it opens or rises;
    stands_on: faces it starts from; other: what it may be taken for as well;
    drives: by the names of sizes that can be set."""

    kind: str
    form: str
    faces: tuple[int, ...]
    sizes: dict[str, float]
    place: Vec
    way: Vec
    stands_on: tuple[int, ...] = ()
    other: str = ""
    notes: tuple[str, ...] = ()
    drives: dict[str, Drive] = field(default_factory=dict)

    def alike(self) -> tuple[str, str, tuple[tuple[str, float], ...]]:
        """What repeats of it share."""
        return self.kind, self.form, tuple((n, round(v, 5)) for n, v in sorted(self.sizes.items()))
