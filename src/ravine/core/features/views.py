"""Features of a body as scripts and pages see them: ids, sizes in the units of the model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..model.query import Scope
from ..model.snapshot import text_id
from .feature import Feature
from .recogniser import features_of
from .repeats import Repeat, repeats_of
from .symmetry import symmetries_of


@dataclass(frozen=True)
class FeatureView:
    """number: in the list of its body; faces: ids; sizes: by name, in units of the model, degrees for angles; members:
    numbers of the features that it repeats, itself among them; way: unit direction."""

    number: int
    kind: str
    form: str
    faces: tuple[str, ...]
    sizes: dict[str, float]
    members: tuple[int, ...]
    place: tuple[float, float, float]
    way: tuple[float, float, float]
    stands_on: tuple[str, ...]
    other: str
    notes: tuple[str, ...]


@dataclass(frozen=True)
class RepeatView:
    """layout: row, grid, around, mirrored or alike; members: numbers of features; sizes: in units of the model."""

    layout: str
    members: tuple[int, ...]
    sizes: dict[str, float]


@dataclass(frozen=True)
class SymmetryView:
    """point: of the plane, in units of the model; normal: unit direction; around: every plane through an axis along
    `normal` is one."""

    point: tuple[float, float, float]
    normal: tuple[float, float, float]
    around: bool


def view_symmetries(scope: Scope) -> list[SymmetryView]:
    rows = symmetries_of(scope.solid.topology)
    return [SymmetryView(scope.point(s.point), scope.direction(s.normal), s.around) for s in rows]


def told_symmetries(rows: Sequence[SymmetryView], units: str) -> str:
    """Such as “symmetric across X at 20 mm and 4 slanting planes”; empty where there is none."""
    turned = [_axis(s.normal) or "an axis" for s in rows if s.around]
    planes = [s for s in rows if not s.around]
    square = [f"{axis} at {_at(s, axis):.6g} {units}" for s in planes if (axis := _axis(s.normal))]
    leaning = len(planes) - len(square)
    said = square + ([f"{leaning} slanting plane{'s' if leaning > 1 else ''}"] if leaning else [])
    words = [f"turned about {turned[0]}"] if turned else []
    if said:
        words.append("symmetric across " + (", ".join(said[:-1]) + " and " if said[1:] else "") + said[-1])
    return ", ".join(words)


def _axis(normal: tuple[float, float, float]) -> str:
    """The letter of the axis that it runs along; empty for none."""
    return next((letter for letter, v in zip("XYZ", normal, strict=True) if abs(v) > 1 - 1e-9), "")


def _at(symmetry: SymmetryView, axis: str) -> float:
    return round(symmetry.point["XYZ".index(axis)], 6) + 0.0


def view_features(scope: Scope) -> list[FeatureView]:
    found = features_of(scope.solid.topology)
    members = {m: r.members for r in repeats_of(found) for m in r.members}
    return [_view(scope, number, item, members.get(number, (number,))) for number, item in enumerate(found)]


def view_repeats(scope: Scope) -> list[RepeatView]:
    rows: Sequence[Repeat] = repeats_of(features_of(scope.solid.topology))
    return [RepeatView(r.layout, r.members, _in_units(r.sizes, scope.unit)) for r in rows]


def _view(scope: Scope, number: int, item: Feature, members: tuple[int, ...]) -> FeatureView:
    def ids(faces: Sequence[int]) -> tuple[str, ...]:
        return tuple(text_id("face", scope.body.faces[f]) for f in faces)

    return FeatureView(
        number, item.kind, item.form, ids(item.faces), _in_units(item.sizes, scope.unit), members,
        scope.point(item.place), scope.direction(item.way), ids(item.stands_on), item.other, item.notes,
    )  # fmt: skip


def _in_units(sizes: dict[str, float], unit: float) -> dict[str, float]:
    return {name: value if name.endswith("angle") else value / unit for name, value in sizes.items()}
