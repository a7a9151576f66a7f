"""A study of strength as scripts make one: every word is an edit of the model."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Protocol

from .edits.fields import Context, LengthField
from .model.records import SIMULATIONS
from .simulate import answer, result
from .units import LENGTHS

if TYPE_CHECKING:
    from .model.geometry import GeometryStore
    from .model.snapshot import Snapshot
    from .simulate.result import Result


class Edited(Protocol):
    """What of a Model it takes."""

    geometry: GeometryStore

    @property
    def snapshot(self) -> Snapshot: ...

    @property
    def units(self) -> str: ...

    def do_named(self, name: str, values: Mapping[str, Any]) -> Any: ...


class StudyFace:
    """Lengths are in units of the model or text with a unit; forces N, pressures MPa."""

    def __init__(self, model: Edited, parts: Sequence[str], called: str | None) -> None:
        self._model = model
        before = set(model.snapshot.kept(SIMULATIONS))
        model.do_named("begin study", {"parts": list(parts), **({"called": called} if called else {})})
        (self.name,) = set(model.snapshot.kept(SIMULATIONS)) - before

    def hold(self, faces: Sequence[str], kind: str = "fixed", **values: Any) -> StudyFace:
        self._model.do_named("hold", {"on": list(faces), "kind": kind, "study": self.name, **values})
        return self

    def load(self, kind: str, faces: Sequence[str] = (), **values: Any) -> StudyFace:
        self._model.do_named("load", {"on": list(faces), "kind": kind, "study": self.name, **values})
        return self

    def fix(self, faces: Sequence[str]) -> StudyFace:
        return self.hold(faces)

    def force(self, faces: Sequence[str], total: Sequence[float]) -> StudyFace:
        """total: N along X, Y, Z."""
        return self.load("force", faces, **dict(zip("xyz", map(float, total), strict=True)))

    def pressure(self, faces: Sequence[str], amount: float) -> StudyFace:
        """amount: MPa."""
        return self.load("pressure", faces, amount=float(amount))

    def contact(self, first: str, second: str, kind: str = "bonded", gap: Any = 0.0) -> StudyFace:
        """first, second: places in the tree."""
        self._model.do_named("let touch", {"parts": [first, second], "kind": kind, "gap": gap, "study": self.name})
        return self

    def solve(self, size: Any = None, rounds: int = 1) -> Result:
        """size: of elements; rounds: each with a mesh that is finer where the result is in doubt.  Raises EditError."""
        model = self._model
        if size is not None:
            LengthField("the size", "", minimum=1e-3).read(size, Context(model.snapshot))
            model.do_named("set elements", {"size": size, "study": self.name})
        study = model.snapshot.kept(SIMULATIONS)[self.name]
        found = answer.answered(model.snapshot, model.geometry, study, 1.0, rounds - 1, settle=rounds == 1)
        return result.Result(found, LENGTHS[model.units])
