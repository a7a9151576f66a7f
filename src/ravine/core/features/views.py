"""Features of a body as scripts and pages see them: ids, sizes in the units of the model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..model.query import Scope
from ..model.snapshot import text_id
from .feature import Feature
from .recogniser import features_of
from .repeats import Repeat, repeats_of


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
