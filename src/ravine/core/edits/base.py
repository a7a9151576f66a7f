"""What every edit is: a frozen dataclass whose fields are input fields, with the sentence they stand in and `apply`.

From the declaration come the sentence on the line and in the journal, the typed form, the JSON schema, the recipe
step, the script call and the reference page.  See docs/writing-an-edit.md.
"""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, TypeVar

from ..errors import CannotDo
from ..model.references import Reference
from ..operations.work import Handle, Operation, Outcome, Work
from .declared import Declared
from .fields import Context, FileField, PickField

Planned = TypeVar("Planned", bound=Operation)


@dataclass(frozen=True)
class Edit(Declared):
    """title: in Actions; also: other words of the trade that begin it when typed; sentence: with {fields}, in the
    present; past: the same for the journal; doing: how a refusal begins that the geometry gives; offered_for:
    what must be picked (face, node, or nothing for always); stages: where it is offered when nothing is picked;
    drawing: the small picture beside the title, the inside of an SVG of 20 by 16; rank: place among the actions,
    low first; keeps_open: fields that stay when the line opens again after the edit was accepted, for what is
    done many times in a row; folds: fields that the sentence leaves out, with the words before them, while they
    are as they usually are. uses_up: the sketches it is given have done their work, and step back in the view;
    as_found: what it leaves may be unsound, since it comes from elsewhere so; shown_only: its preview shows places that
    no state will have, so that nothing follows them."""

    title: ClassVar[str]
    also: ClassVar[tuple[str, ...]] = ()
    sentence: ClassVar[str]
    past: ClassVar[str]
    doing: ClassVar[str] = ""
    offered_for: ClassVar[str] = ""
    stages: ClassVar[tuple[str, ...]] = ()
    drawing: ClassVar[str] = ""
    rank: ClassVar[int] = 50
    keeps_open: ClassVar[tuple[str, ...]] = ()
    folds: ClassVar[tuple[str, ...]] = ()
    uses_up: ClassVar[bool] = False
    as_found: ClassVar[bool] = False
    shown_only: ClassVar[bool] = False

    @classmethod
    def pick_field(cls) -> str | None:
        return next((name for name, field in cls.fields().items() if isinstance(field, PickField)), None)

    @classmethod
    def takes_file(cls) -> bool:
        """Whether it is begun by choosing a file rather than on the line."""
        return any(isinstance(f, FileField) for f in cls.fields().values())

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        """Is this edit among the actions for what is picked?"""
        return bool(cls.offered_for) and pick.kind == cls.offered_for and not pick.locked

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        """Gaps that say nothing for this pick; the line leaves them out, with the words before them."""
        return frozenset()

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """Raw values to start the line with."""
        field = cls.pick_field()
        return {field: list(picked)} if field else {}

    def apply(self, work: Work) -> Outcome:
        raise NotImplementedError

    def planned(self, operation: type[Planned]) -> Planned:
        """The operation with the values of the fields that it has."""
        known = {f.name for f in dataclasses.fields(operation)}  # type: ignore[arg-type]
        return operation(**{name: getattr(self, name) for name in self.fields() if name in known})

    def done_by(self, operation: type[Operation], work: Work) -> Outcome:
        """Its outcome; where the geometry stops it, the reason with what was being done before it."""
        try:
            return self.planned(operation).do(work)
        except CannotDo as error:
            doing = self.doing_words(context_of(work), error)
            raise error.said_of(doing) if doing else error from None

    def doing_words(self, context: Context, error: CannotDo) -> str:
        """How a refusal begins."""
        return fill(self.doing, {name: self.word(name, context) for name in self.fields()})

    def handle(self, work: Work) -> Handle | None:
        return None

    def told(self, context: Context) -> str:
        """The sentence of the journal, read from the state before the edit."""
        return fill(self.past, {name: self.word(name, context) for name in self.fields()})

    def word(self, name: str, context: Context) -> str:
        field, value = self.fields()[name], getattr(self, name)
        if value is None:
            return ""
        return field.describe(value, context) if isinstance(field, PickField) else field.show(value, context)


@dataclass(frozen=True)
class PickSummary:
    """What is picked, as far as offering actions needs it.  kind: face, edge, vertex, node or empty;
    patterned: a face of a pattern's member is among them; pictured: it is a sketch with a picture behind it; surface:
    an open surface is among them; chamfers: they all are; hollow: round faces that the matter lies around; rims: edges
    around holes, which stand for the holes where an edit takes faces; linked: it comes from another model; component:
    one of a board, as its file names them."""

    kind: str = ""
    count: int = 0
    face_kinds: frozenset[str] = frozenset()
    locked: bool = False
    mesh: bool = False
    patterned: bool = False
    pictured: bool = False
    surface: bool = False
    chamfers: bool = False
    hollow: bool = False
    rims: bool = False
    linked: bool = False
    component: bool = False

    def to_json(self) -> dict[str, Any]:
        return {**self.__dict__, "face_kinds": sorted(self.face_kinds)}


def context_of(work: Work) -> Context:
    """What fields read and show values by, for the state at hand."""
    return Context(work.snapshot, work.geometry)


def fill(template: str, words: Mapping[str, str]) -> str:
    return " ".join(re.sub(r"\{(\w+)\}", lambda m: words[m.group(1)], template).split())
