"""A sketch: points and curves with ids of the model's one counter.

Coordinates are mm in the sketch's plane.  Curves that share a point meet there for good; so most coincidence needs no
rule.  A point is named `p7` outside, a curve `c8`, a rule `r9`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from ..errors import EditError

Point2 = tuple[float, float]
Vec = tuple[float, float, float]

FONTS = ("sans", "bold", "serif", "mono")


@dataclass(frozen=True)
class Plane:
    """Of a sketch: origin and two unit directions square to each other, model coordinates, mm."""

    origin: Vec = (0.0, 0.0, 0.0)
    x: Vec = (1.0, 0.0, 0.0)
    y: Vec = (0.0, 1.0, 0.0)

    @property
    def normal(self) -> Vec:
        (a, b, c), (d, e, f) = self.x, self.y
        return (b * f - c * e, c * d - a * f, a * e - b * d)

    def place(self, flat: Point2) -> Vec:
        """In the model."""
        o, x, y = self.origin, self.x, self.y
        return (
            o[0] + flat[0] * x[0] + flat[1] * y[0],
            o[1] + flat[0] * x[1] + flat[1] * y[1],
            o[2] + flat[0] * x[2] + flat[1] * y[2],
        )

    def flat(self, place: Iterable[float]) -> Point2:
        """The foot of a place in the model."""
        gap = [a - b for a, b in zip(place, self.origin, strict=True)]
        return (
            sum(g * v for g, v in zip(gap, self.x, strict=True)),
            sum(g * v for g, v in zip(gap, self.y, strict=True)),
        )


@dataclass(frozen=True)
class Curve:
    """kind and the ids of its points:
    line     start, end
    circle   centre; size is its radius
    arc      centre, start, end, counterclockwise from start to end
    ellipse  centre, end of one half axis; size is the other half axis
    spline   the points it runs through
    dot      a point of its own, for holes to be placed at
    text     where its base line begins, and a point that gives the line's direction; size is the height of its
             capitals, negative for mirrored ones, words what it says, font one of FONTS

    construction: only guides others, bounds no area
    span: the part of an ellipse (rad) or spline (numbers of its points) that is left after it was cut back
    """

    id: int
    kind: str
    points: tuple[int, ...]
    size: float = 0.0
    construction: bool = False
    span: Point2 | None = None
    words: str = ""
    font: str = ""


@dataclass(frozen=True)
class Constraint:
    """kind as in `constraints.RULES`; on: ids of points and curves; value: mm or rad for a dimension; text: as it
    was typed, where that is a formula; name: what formulas call it."""

    id: int
    kind: str
    on: tuple[int, ...]
    value: float | None = None
    text: str = ""
    name: str = ""


@dataclass(frozen=True)
class Picture:
    """Behind a sketch, to draw over.  address: of its PNG; pixels: across and up; corner: the lower left one, and
    wide, mm in the plane; strength: 1 shows it as it is."""

    address: str
    pixels: tuple[int, int]
    corner: Point2 = (0.0, 0.0)
    wide: float = 100.0
    strength: float = 0.5

    @property
    def tall(self) -> float:
        return self.wide * self.pixels[1] / self.pixels[0]


@dataclass(frozen=True)
class Sketch:
    id: int
    name: str
    plane: Plane = field(default_factory=Plane)
    points: Mapping[int, Point2] = field(default_factory=dict)
    curves: Mapping[int, Curve] = field(default_factory=dict)
    constraints: Mapping[int, Constraint] = field(default_factory=dict)
    picture: Picture | None = None

    def curve(self, number: int) -> Curve:
        if number not in self.curves:
            raise EditError(f"there is no curve c{number} in {self.name}", [f"c{number}"])
        return self.curves[number]

    def places(self, curve: Curve) -> list[Point2]:
        return [self.points[p] for p in curve.points]

    def users(self, point: int) -> list[Curve]:
        return [c for c in self.curves.values() if point in c.points]

    def owner_kind(self, number: int) -> str:
        """point or the kind of the curve; raises EditError for an id that is neither."""
        if number in self.points:
            return "point"
        return self.curve(number).kind

    def with_points(self, points: Mapping[int, Point2]) -> Sketch:
        return replace(self, points={**self.points, **points})

    def with_curves(self, *curves: Curve) -> Sketch:
        return replace(self, curves={**self.curves, **{c.id: c for c in curves}})

    def with_constraints(self, *constraints: Constraint) -> Sketch:
        return replace(self, constraints={**self.constraints, **{r.id: r for r in constraints}})

    def without(self, doomed: Iterable[int]) -> Sketch:
        """Without these curves and constraints, the constraints on them, and points that then belong to nothing."""
        gone = set(doomed)
        curves = {c.id: c for c in self.curves.values() if c.id not in gone}
        used = {p for c in curves.values() for p in c.points}
        points = {p: at for p, at in self.points.items() if p in used}
        known = used | set(curves)
        constraints = {r.id: r for r in self.constraints.values() if r.id not in gone and all(n in known for n in r.on)}
        return replace(self, points=points, curves=curves, constraints=constraints)

    # --- storing ---------------------------------------------------------------------------------------------------

    def to_json(self) -> dict[str, Any]:
        return {
            "id": self.id,
            "name": self.name,
            "plane": asdict(self.plane),
            "points": [[n, *at] for n, at in self.points.items()],
            "curves": [
                [c.id, c.kind, c.points, c.size, c.construction, c.span, c.words, c.font] for c in self.curves.values()
            ],
            "rules": [[r.id, r.kind, r.on, r.value, r.text, r.name] for r in self.constraints.values()],
            "picture": self.picture and asdict(self.picture),
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Sketch:
        picture = data["picture"]
        if picture:
            picture = Picture(**{**picture, "pixels": tuple(picture["pixels"]), "corner": tuple(picture["corner"])})
        return cls(
            data["id"],
            data["name"],
            Plane(**{k: tuple(v) for k, v in data["plane"].items()}),
            {n: (x, y) for n, x, y in data["points"]},
            {
                n: Curve(n, kind, tuple(points), size, construction, span and tuple(span), words, font)
                for n, kind, points, size, construction, span, words, font in data["curves"]
            },
            {r[0]: Constraint(r[0], r[1], tuple(r[2]), r[3], r[4], r[5]) for r in data["rules"]},
            picture,
        )
