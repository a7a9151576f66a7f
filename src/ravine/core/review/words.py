"""A comparison in words, with sizes before and after."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from ..units import format_length, format_mass, format_volume
from .compare import BodyChange, FaceChange, Review

WORDS = {"moved": "moved", "round": "", "new": "new", "gone": "gone", "resized": "larger or smaller beside these"}


def told(review: Review, units: str = "mm") -> list[dict]:
    """words and the faces that they are about, what matters most first."""
    rows: list[dict] = []
    names = {b.body: b.name for b in review.bodies}
    for body in review.bodies:
        rows += _whole(body)
    by_body: dict[str, list[FaceChange]] = defaultdict(list)
    for face in review.faces:
        by_body[face.body].append(face)
    for body in review.bodies:
        if body.kind == "changed":
            rows += [{**row, "body": body.body} for row in _faces(by_body[body.body], names[body.body], units)]
    for name, (was, now) in sorted(review.sizes.items()):
        rows.append({"words": f"{name}: {_length(was, units)} → {_length(now, units)}", "faces": [], "kind": "size"})
    for body in review.bodies:
        if body.kind in ("changed", "mesh") and abs(body.volume[0] - body.volume[1]) > 1e-6 * max(body.volume):
            words = (
                f"{body.name}: volume {format_volume(body.volume[0], units)} → {format_volume(body.volume[1], units)}"
            )
            if body.mass[0] is not None and body.mass[1] is not None:
                words += f", mass {format_mass(body.mass[0])} → {format_mass(body.mass[1])}"
            rows.append({"words": words, "faces": [], "kind": "volume"})
    return rows + _sums(review)


def _sums(review: Review) -> list[dict]:
    """Of all parts together, where there are several or what they cost changed."""
    if review.sums is None:
        return []
    was, now = review.sums
    said = []
    known = not was.without_mass and not now.without_mass
    if known and len(review.bodies) > 1 and abs(was.mass - now.mass) > 1e-9:
        said.append(f"mass {format_mass(was.mass)} → {format_mass(now.mass)}")
    if abs(was.price - now.price) > 1e-9:
        said.append(f"price {was.price:.2f} → {now.price:.2f}")
    if now.without_price and said:
        said.append(f"{now.without_price} bought without a price")
    return [{"words": f"All parts: {', '.join(said)}", "faces": [], "kind": "sum"}] if said else []


def _length(mm: float | None, units: str) -> str:
    return "none" if mm is None else format_length(mm, units)


def _whole(body: BodyChange) -> list[dict]:
    words = {"new": f"{body.name} is new", "gone": f"{body.name} is gone", "moved": f"{body.name} stands elsewhere",
             "mesh": f"{body.name} is a mesh with other triangles"}.get(body.kind)  # fmt: skip
    return [{"words": words, "faces": [], "kind": body.kind, "body": body.body}] if words else []


def _faces(faces: Sequence[FaceChange], name: str, units: str) -> list[dict]:
    groups: dict[tuple, list[FaceChange]] = defaultdict(list)
    for face in faces:
        if face.kind == "moved":
            groups["moved", tuple(round(v, 4) + 0.0 for v in face.step)].append(face)
        elif face.kind == "resized" and abs(face.radius[0] - face.radius[1]) > 1e-6:
            groups["round", (round(face.radius[0], 4), round(face.radius[1], 4))].append(face)
        elif face.kind != "unchanged":
            groups[face.kind, ()].append(face)
    order = ("moved", "round", "new", "gone", "resized")
    rows = []
    for (kind, size), members in sorted(groups.items(), key=lambda g: (order.index(g[0][0]), g[0][1])):
        count = "a face" if len(members) == 1 else f"{len(members)} faces"
        words = f"{count} {WORDS[kind]}"
        if kind == "moved":
            words += f" by {_step(size, units)}"
        elif kind == "round":
            words = f"{count}: ⌀ {_length(2 * size[0], units)} → ⌀ {_length(2 * size[1], units)}"
        rows.append({"words": f"{name}: {words}", "faces": [m.face for m in members], "kind": members[0].kind})
    return rows


def _step(step: Sequence[float], units: str) -> str:
    parts = [
        f"{format_length(abs(v), units)} along {'−' if v < 0 else ''}{axis}"
        for v, axis in zip(step, "XYZ", strict=True)
        if v
    ]
    return " and ".join(parts) or "a turn"
