"""Give features a size: one or all that are alike, by what moves when it grows (see features.feature.Drive)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..features.feature import Drive, Feature
from ..features.recogniser import features_of
from ..features.repeats import repeats_of
from ..local.plan import Offset
from ..model.references import Reference, part_of
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid
from ..units import editable_length, format_length
from . import resize
from .facts import change_facts
from .followers import Followed
from .ladder import NothingWorked, first_that_works
from .move_faces import moved_feature
from .reshaping import refusal
from .work import Operation, Outcome, Work

SAME = 1e-9  # mm
BLENDS = {"radius": "radius", "width": "width"}  # of rounds and chamfers, which go by their whole run


@dataclass(frozen=True, kw_only=True)
class FeatureSize(Operation):
    """faces: any of the feature; size: its name; value: mm; members: alone, or alike for its whole repeat."""

    faces: tuple[Reference, ...]
    value: float
    size: str = "diameter"
    members: str = "alone"

    def do(self, work: Work) -> Outcome:
        snapshot, followed, bodies = work.snapshot, Followed(), set[int]()
        for body, chosen in self._chosen(work).items():
            features = [f for f in chosen if abs(f.sizes[self.size] - self.value) > SAME]
            if not features:
                continue
            blends = [f for f in features if f.kind in ("fillet", "chamfer")]
            if blends:
                return self._blends(work, body, blends)
            snapshot, came = self._driven(work, snapshot, work.snapshot.body(body), features)
            followed += came
            bodies.add(body)
        if snapshot is work.snapshot:
            told = format_length(self.value, snapshot.units)
            raise EditError(f"the {in_words(self.size)} is {told} already", self.faces, field="value")
        return Outcome(snapshot, (*change_facts(work, snapshot, bodies), *followed.facts))

    def _chosen(self, work: Work) -> dict[int, list[Feature]]:
        """By body; each feature once."""
        found: dict[int, list[Feature]] = {}
        for reference in self.faces:
            body, index = reference.owner
            rows = features_of(work.geometry.solid(body.shape).topology)
            number = feature_at(rows, index, self.size)
            if number is None:
                own = feature_at(rows, index)
                what = "it belongs to no feature" if own is None else f"a {rows[own].kind} has no such size to set"
                known = own is not None and ", ".join(settable(rows[own]))
                raise EditError(
                    f"{reference} has no {in_words(self.size)}: {what}" + (f"; there is {known}" if known else ""),
                    [reference], field="size",
                )  # fmt: skip
            members = alike(rows, number) if self.members == "alike" else (number,)
            into = found.setdefault(body.id, [])
            into += [rows[m] for m in members if rows[m] not in into]
        return found

    def _blends(self, work: Work, body: int, blends: Sequence[Feature]) -> Outcome:
        one = next(r for r in self.faces if r.owner[0].id == body)
        faces = tuple(part_of(one, "face", f) for item in blends for f in item.faces)
        return resize.Resize(faces=faces, size=self.value, measure=BLENDS[self.size]).do(work)

    def _driven(
        self, work: Work, snapshot: Snapshot, body: Body, features: Sequence[Feature]
    ) -> tuple[Snapshot, Followed]:
        """All at once: first what goes parallel to itself, then what slides."""
        changes = [(f.drives[self.size], self.value - f.sizes[self.size]) for f in features]
        distances = {body.faces[f]: share * by for drive, by in changes for f, share in drive.offsets.items()}
        followed = Followed()
        if distances:
            ways = [
                resize.in_place(work, snapshot, body, {f: Offset(d) for f, d in distances.items()}),
                resize.by_cells(work, snapshot, body, distances),
            ]
            try:
                snapshot, followed = first_that_works(work, "feature size", ways)
            except NothingWorked as nothing:
                raise refusal(work, body, nothing.first, "value") from None
        for ids, motion in _slides(body, changes):
            now = snapshot.body(body.id)
            places = {now.faces.index(f) for f in ids if f in now.faces}
            if len(places) < len(ids):
                raise EditError("its end went while the sides moved", self.faces, field="value")
            snapshot, came = moved_feature(work, snapshot, now, places, motion)
            followed += came
        return snapshot, followed


def _slides(body: Body, changes: Sequence[tuple[Drive, float]]) -> list[tuple[list[int], Rigid]]:
    """Faces (ids) that go together, each with its motion."""
    found: dict[Rigid, list[int]] = {}
    for drive, by in changes:
        for face, way in drive.slides.items():
            found.setdefault(Rigid.slide([by * v for v in way]), []).append(body.faces[face])
    return [(faces, motion) for motion, faces in found.items()]


def feature_at(rows: Sequence[Feature], face: int, size: str | None = None) -> int | None:
    """The smallest feature with a face (and a size that can be set)."""
    fits = [k for k, f in enumerate(rows) if face in f.faces and (size is None or size in settable(f))]
    return min(fits, key=lambda k: len(rows[k].faces), default=None)


def settable(feature: Feature) -> Mapping[str, float]:
    """The sizes that can be set, by name."""
    blend = feature.kind in ("fillet", "chamfer")
    return {n: v for n, v in feature.sizes.items() if n in feature.drives or (blend and n in BLENDS)}


def alike(rows: Sequence[Feature], number: int) -> tuple[int, ...]:
    """The members of its repeat, itself among them; rounds and chamfers of its size are alike as well."""
    if rows[number].kind in ("fillet", "chamfer"):
        return tuple(k for k, f in enumerate(rows) if f.alike() == rows[number].alike())
    return next((r.members for r in repeats_of(rows) if number in r.members), (number,))


def in_words(size: str) -> str:
    return size.replace("_", " ")


def suggested(work: Work, face: Reference) -> dict[str, str]:
    """The first size of the feature at a face, and what it is."""
    body, index = face.owner
    rows = features_of(work.geometry.solid(body.shape).topology)
    number = feature_at(rows, index)
    sizes = settable(rows[number]) if number is not None else {}
    return next(({"size": n, "value": editable_length(v, work.snapshot.units)} for n, v in sizes.items()), {})
