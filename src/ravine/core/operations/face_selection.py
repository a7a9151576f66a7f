"""Riders: faces that go along with the picked ones, offered as a switch on the line."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError
from ..local import related_faces as kin
from ..model.references import Reference, part_of, references
from ..model.snapshot import text_id
from .reshaping import faces_by_body
from .work import Work


def selected_faces(work: Work, faces: Sequence[Reference], riders: str) -> tuple[Reference, ...]:
    """The picked faces and their riders, each once."""
    if riders == "alone":
        return tuple(faces)
    if riders == "pattern":
        return _of_pattern(work, faces)
    find = kin.coplanar if riders == "coplanar" else kin.alike
    found = list(faces)
    faces_by_body(work.snapshot, faces)  # refuses those of a mesh
    for face in faces:
        body, at = face.owner
        found += [part_of(face, "face", i) for i in find(work.geometry.solid(body.shape).topology, at)]
    return tuple(dict.fromkeys(found))


def _of_pattern(work: Work, faces: Sequence[Reference]) -> tuple[Reference, ...]:
    found = list(faces)
    for ident in faces:
        number = ident.number
        pattern = work.snapshot.pattern_of(number)
        if pattern is None:
            raise EditError(f"face {ident} is in no pattern, so no riders of one go along", [ident], field="riders")
        present = set(work.snapshot.body(pattern.body).faces)
        found += references(work.snapshot, [text_id("face", f) for f in sorted(pattern.same_place(number) & present)])
    return tuple(dict.fromkeys(found))
