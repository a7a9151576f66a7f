"""What every edit is: a frozen dataclass whose fields are gaps, with the sentence they stand in and `apply`.

From the declaration come the sentence on the line and in the journal, the typed form, the JSON schema, the recipe
step, the script call and the reference page.  See docs/writing-an-edit.md.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import MISSING, dataclass, field, fields
from typing import Any, ClassVar, dataclass_transform

from ..errors import EditError
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot
from .gaps import REQUIRED, Context, Gap, PickGap

Progress = Callable[[float, str], None]


def _silent(fraction: float, words: str) -> None:
    return None


@dataclass(frozen=True)
class Fact:
    """A figure that decides the edit.  quantity: volume, mass, length, area, count or words; tone: plain or warning;
    one: the label for a count of one, where that is not the label without its s."""

    code: str
    label: str
    value: float | str
    quantity: str = "words"
    tone: str = "plain"
    one: str = ""


@dataclass(frozen=True)
class Piece:
    """One of several pieces that an edit leaves: where it stands in the tree, its number (1 is the largest)."""

    node: int
    number: int
    dropped: bool


@dataclass
class Work:
    """What an edit works on.  `preview` says that the result is only looked at: checks that never change the
    geometry may be left to the accepting run; `shown`, that it is so although all is checked.  `hints` says that a
    refusal looks for the nearest value that works."""

    snapshot: Snapshot
    geometry: GeometryStore
    progress: Progress = _silent
    preview: bool = False
    hints: bool = True
    shown: bool = False

    @property
    def wants_nearest(self) -> bool:
        return self.hints and not self.preview

    def context(self) -> Context:
        return Context(self.snapshot, self.geometry)


@dataclass(frozen=True)
class Outcome:
    """What `apply` gives back; an unchanged snapshot means that nothing enters the journal."""

    snapshot: Snapshot
    facts: tuple[Fact, ...] = ()
    warnings: tuple[str, ...] = ()
    files: Mapping[str, bytes] = field(default_factory=dict)
    pieces: tuple[Piece, ...] = ()


@dataclass(frozen=True)
class Handle:
    """What the view lets the hand pull: a ruled wire through `origin` along `direction` (model coordinates, mm)
    whose bead is the value of one length gap.  With an `arm` it turns instead: a ruled arc about that line, from
    the point at origin + arm, whose bead is an angle.  `ghost` names the faces to draw moved while the exact preview
    is worked out.  With `ways` (x, y, z and perhaps more) there are three wires and three arcs to choose from: the
    direction for each value of the gap `choice`; `turn` is the gap of the angle, and `set_on` the gap that takes
    what it is dropped on."""

    gap: str
    origin: tuple[float, float, float]
    direction: tuple[float, float, float]
    ghost: tuple[str, ...] = ()
    arm: tuple[float, float, float] | None = None
    ways: Mapping[str, tuple[float, float, float]] = field(default_factory=dict)
    choice: str = ""
    turn: str = ""
    set_on: str = ""


@dataclass(frozen=True)
class Edit:
    """name: in scripts, recipes and addresses; title: in Actions; sentence: with {gaps}, in the present;
    past: the same for the journal; offered_for: what must be picked (face, node, or nothing for always);
    stages: where it is offered when nothing is picked; drawing: the small picture beside the title;
    rank: place among the actions, low first."""

    name: ClassVar[str]
    title: ClassVar[str]
    sentence: ClassVar[str]
    past: ClassVar[str]
    help: ClassVar[str]
    offered_for: ClassVar[str] = ""
    stages: ClassVar[tuple[str, ...]] = ()
    drawing: ClassVar[str] = ""
    rank: ClassVar[int] = 50

    @classmethod
    def gaps(cls) -> dict[str, Gap]:
        return {f.name: f.metadata["gap"] for f in fields(cls)}

    @classmethod
    def pick_gap(cls) -> str | None:
        return next((name for name, gap in cls.gaps().items() if isinstance(gap, PickGap)), None)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        """Is this edit among the actions for what is picked?"""
        return bool(cls.offered_for) and pick.kind == cls.offered_for and not pick.locked

    @classmethod
    def idle(cls, work: Work, picked: tuple[str, ...]) -> frozenset[str]:
        """Gaps that say nothing for this pick; the line leaves them out, with the words before them."""
        return frozenset()

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict[str, Any]:
        """Raw values to start the line with."""
        gap = cls.pick_gap()
        return {gap: list(picked)} if gap else {}

    @classmethod
    def read(cls, raw: Mapping[str, Any], context: Context) -> Edit:
        """A checked edit from raw values.  Raises EditError naming the gap."""
        gaps = cls.gaps()
        unknown = [key for key in raw if key not in gaps]
        if unknown:
            raise EditError(f"{cls.name} has no gap “{unknown[0]}”; it has {', '.join(gaps)}", field=unknown[0])
        values = {}
        for name, gap in gaps.items():
            given = raw.get(name)
            if given is None or given == "" or (given == [] and not gap.required):
                if gap.required:
                    raise EditError(f"still empty: {gap.label}", field=name)
                values[name] = gap.default
                continue
            try:
                values[name] = gap.read(given, context)
            except EditError as error:
                error.field = name
                raise
        return cls(**values)

    def apply(self, work: Work) -> Outcome:
        raise NotImplementedError

    def handle(self, work: Work) -> Handle | None:
        return None

    def told(self, context: Context) -> str:
        """The sentence of the journal, read from the state before the edit."""
        return fill(self.past, {name: self.word(name, context) for name in self.gaps()})

    def word(self, name: str, context: Context) -> str:
        gap, value = self.gaps()[name], getattr(self, name)
        if value is None:
            return ""
        return gap.describe(value, context) if isinstance(gap, PickGap) else gap.show(value, context)


@dataclass(frozen=True)
class PickSummary:
    """What is picked, as far as offering actions needs it.  kind: face, edge, vertex, node or empty;
    patterned: a face of a pattern's member is among them; pictured: it is a sketch with a picture behind it; surface:
    an open surface is among them; chamfers: they all are."""

    kind: str = ""
    count: int = 0
    face_kinds: frozenset[str] = frozenset()
    locked: bool = False
    mesh: bool = False
    patterned: bool = False
    pictured: bool = False
    surface: bool = False
    chamfers: bool = False


def fill(template: str, words: Mapping[str, str]) -> str:
    return " ".join(re.sub(r"\{(\w+)\}", lambda m: words[m.group(1)], template).split())


def gap(declared: Gap) -> Any:
    """A dataclass field from a gap."""
    default = MISSING if declared.default is REQUIRED else declared.default
    return field(default=default, metadata={"gap": declared})


_REGISTRY: dict[str, type[Edit]] = {}


@dataclass_transform(frozen_default=True, kw_only_default=True, field_specifiers=(gap,))
def edit(cls: type[Any]) -> Any:
    """Class decorator: make it a frozen dataclass and enter it in the registry."""
    declared = dataclass(frozen=True, kw_only=True)(cls)
    if declared.name in _REGISTRY:
        raise ValueError(f"two edits are called {declared.name}")
    slots = set(re.findall(r"\{(\w+)\}", declared.sentence + declared.past))
    if not slots <= set(declared.gaps()):
        raise ValueError(f"{declared.name}: the sentence has gaps that are not declared: {slots}")
    _REGISTRY[declared.name] = declared
    return declared


def registry() -> dict[str, type[Edit]]:
    """All edits by name, in the order in which they are offered."""
    return dict(sorted(_REGISTRY.items(), key=lambda item: item[1].rank))


def find_edit(name: str) -> type[Edit]:
    found = _REGISTRY.get(name)
    if found is None:
        near = [n for n in _REGISTRY if n.startswith(str(name)[:1])] or list(_REGISTRY)
        raise EditError(f"there is no edit “{str(name)[:40]}”; there is {', '.join(sorted(near))}")
    return found


def schema_of(cls: type[Edit]) -> dict:
    """JSON schema of an edit's raw values."""
    return {
        "title": cls.name,
        "description": cls.help,
        "type": "object",
        "properties": {name: g.schema() for name, g in cls.gaps().items()},
        "required": [name for name, g in cls.gaps().items() if g.required],
        "additionalProperties": False,
    }
