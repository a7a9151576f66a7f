"""Riders: faces that go along with the picked ones, offered as a switch on the line."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError
from ..local import related_faces as kin
from ..model.snapshot import split_id, text_id
from .reshaping import faces_by_body
from .work import Work


def selected_faces(work: Work, faces: Sequence[str], riders: str) -> tuple[str, ...]:
    """The picked faces and their riders, each once."""
    if riders == "alone":
        return tuple(faces)
    if riders == "pattern":
        return _of_pattern(work, faces)
    find = kin.coplanar if riders == "coplanar" else kin.alike
    found = list(faces)
    for number, chosen in faces_by_body(work.snapshot, faces).items():
        body = work.snapshot.body(number)
        topology = work.geometry.solid(body.shape).topology
        found += [text_id("face", body.faces[i]) for f in chosen for i in find(topology, body.faces.index(f))]
    return tuple(dict.fromkeys(found))


def _of_pattern(work: Work, faces: Sequence[str]) -> tuple[str, ...]:
    found = list(faces)
    for ident in faces:
        number = split_id(ident)[1]
        pattern = work.snapshot.pattern_of(number)
        if pattern is None:
            raise EditError(f"face {ident} is in no pattern, so no riders of one go along", [ident], field="riders")
        present = set(work.snapshot.body(pattern.body).faces)
        found += [text_id("face", f) for f in sorted(pattern.same_place(number) & present)]
    return tuple(dict.fromkeys(found))
