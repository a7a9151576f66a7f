"""Riders: faces that go along with the picked ones, offered as a switch on the line."""

from __future__ import annotations

from collections.abc import Sequence

from ..local import kin
from ..model.snapshot import text_id
from .base import Work
from .gaps import ChoiceGap
from .shaping import faces_by_body

RIDERS = ChoiceGap(
    "riders",
    "Whether other faces of the body go along: those in the same plane, or those of the same kind and radius.",
    default="alone",
    options={"alone": "alone", "coplanar": "with coplanar riders", "alike": "with riders of the same radius"},
)


def with_riders(work: Work, faces: Sequence[str], riders: str) -> tuple[str, ...]:
    """The picked faces and their riders, each once."""
    if riders == "alone":
        return tuple(faces)
    find = kin.coplanar if riders == "coplanar" else kin.alike
    found = list(faces)
    for number, chosen in faces_by_body(work.snapshot, faces).items():
        body = work.snapshot.body(number)
        fabric = work.geometry.solid(body.shape).fabric
        found += [text_id("face", body.faces[i]) for f in chosen for i in find(fabric, body.faces.index(f))]
    return tuple(dict.fromkeys(found))
