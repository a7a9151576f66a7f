"""How picked things are called in sentences: `top of Housing`, `2 flat faces of Lid`."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from . import query
from .snapshot import Snapshot, split_id

if TYPE_CHECKING:
    from .geometry import GeometryStore

KIND_WORDS = {
    "plane": "flat face",
    "cylinder": "round face",
    "cone": "conical face",
    "sphere": "ball face",
    "torus": "ring face",
    "spline": "freeform face",
    "mesh": "mesh face",
}
_SIDES = {
    (0, 0, 1): "top",
    (0, 0, -1): "bottom",
    (0, -1, 0): "front",
    (0, 1, 0): "back",
    (-1, 0, 0): "left side",
    (1, 0, 0): "right side",
}


NAME = 120  # letters of a name


def plain_text(text: str, limit: int | None = None) -> str:
    """On one line, without what controls how letters run or are shown; cut after `limit` letters with an ellipsis."""
    found = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    return found if limit is None or len(found) <= limit else f"{found[: limit - 1]}…"


def plural(count: int, word: str) -> str:
    if count == 1:
        return f"1 {word}"
    if word.endswith("y") and word[-2] not in "aeou":
        return f"{count} {word[:-1]}ies"
    return f"{count} {word}{'es' if word.endswith('ch') else 's'}"


def _side(face: query.Face) -> str | None:
    """`top` and the like, when the face is plane, looks that way and closes the body there."""
    if face.kind != "plane":
        return None
    for direction, word in _SIDES.items():
        if sum(a * b for a, b in zip(face.normal, direction, strict=True)) > 1 - 1e-9:
            reach = sum(a * b for a, b in zip(face.centroid, direction, strict=True))
            low, high = face.scope.solid.box
            corners = [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
            far = max(sum(a * b for a, b in zip(face.scope.point(c), direction, strict=True)) for c in corners)
            return word if abs(far - reach) < 1e-6 * max(1.0, abs(far)) else None
    return None


def describe_faces(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> str:
    owners = [snapshot.owner_of("face", split_id(i)[1]) for i in ids]
    names = list(dict.fromkeys(body.name for body, _ in owners))
    of = f" of {names[0]}" if len(names) == 1 else f" of {len(names)} bodies"
    faces = [query.Face(query.Scope(snapshot, geometry, body), index) for body, index in owners if body.kind != "mesh"]
    if len(faces) < len(ids):
        return plural(len(ids), "face") + of
    word = word_for(faces)
    if len(faces) == 1:
        return (_side(faces[0]) or f"a {word}") + of
    return plural(len(faces), word) + of


def word_for(faces: Sequence[query.Face]) -> str:
    """What each of them is: a hole, a flat face, or just a face where they differ."""
    kinds = {f.kind for f in faces}
    if kinds == {"cylinder"} and all(query.is_hole(f) for f in faces[:200]):
        return "hole"
    return KIND_WORDS[kinds.pop()] if len(kinds) == 1 else "face"


def describe_nodes(snapshot: Snapshot, ids: Sequence[str]) -> str:
    names = [snapshot.nodes[split_id(i)[1]].name for i in ids]
    if len(names) == 1:
        return names[0]
    if len(set(names)) == 1:
        return f"{len(names)} × {names[0]}"
    return ", ".join(names) if len(names) <= 3 else f"{', '.join(names[:2])} and {len(names) - 2} more"


def describe_parts(snapshot: Snapshot, kind: str, ids: Sequence[str]) -> str:
    """Edges or corners, with their owner."""
    names = list(dict.fromkeys(snapshot.owner_of(kind, split_id(i)[1])[0].name for i in ids))
    of = f" of {names[0]}" if len(names) == 1 else f" of {len(names)} bodies"
    word = {"vertex": "corner"}.get(kind, kind)
    article = "an" if word[0] in "aeiou" else "a"
    return (f"{article} {word}" if len(ids) == 1 else plural(len(ids), word)) + of


def describe_sketched(snapshot: Snapshot, ids: Sequence[str]) -> str:
    """`2 curves of Sketch 1`, `Sketch 1`."""
    kind, number = split_id(ids[0])
    if kind == "sketch":
        return snapshot.sketch(number).name if len(ids) == 1 else plural(len(ids), "sketch")
    kinds = {split_id(i)[0] for i in ids}
    word = kinds.pop() if len(kinds) == 1 else "thing"
    owner = snapshot.sketch(number) if kind == "area" else snapshot.sketch_with(kind, number)
    if word == "curve" and len(ids) == 1:
        word = owner.curve(number).kind
    return f"{'an' if word[0] in 'ae' else 'a'} {word} of {owner.name}" if len(ids) == 1 else (
        f"{plural(len(ids), word)} of {owner.name}"
    )  # fmt: skip
