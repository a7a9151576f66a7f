"""The gaps of an edit's sentence: what each takes, how raw input becomes a checked value, how it reads.

Raw input is what a page, a script or a recipe gives: text or JSON values.  A gap turns it into one typed value or
raises an EditError that names the gap.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from .. import units as u
from ..errors import EditError
from ..kernel.queries import face_kind
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot, split_id, text_id
from ..model.words import KIND_WORDS, describe_faces, describe_nodes, describe_parts, describe_sketched, plural
from ..sketch.drawing import Spot
from ..sketch.entities import Flat

REQUIRED = object()
ELEMENT_WORDS = {"node": "part", "vertex": "corner"}
SKETCHED = ("sketch", "point", "curve", "rule", "area")


@dataclass(frozen=True)
class Context:
    """What a gap may need to read and to show a value."""

    snapshot: Snapshot
    geometry: GeometryStore
    decimal_comma: bool = False


@dataclass(frozen=True)
class Gap:
    """label: what the gap is called when it stands alone; help: one sentence for the reference page; instead: the
    optional gap that makes this one needless; blank: how an optional gap reads while it is empty;
    only: a choice and the values of it for which this gap says anything"""

    label: str
    help: str
    default: Any = REQUIRED
    instead: str = field(default="", kw_only=True)
    blank: str = field(default="", kw_only=True)
    only: tuple[str, ...] = field(default=(), kw_only=True)
    input = "text"

    @property
    def required(self) -> bool:
        return self.default is REQUIRED

    def read(self, raw: Any, context: Context) -> Any:
        raise NotImplementedError

    def show(self, value: Any, context: Context) -> str:
        """As it stands in the sentence."""
        return str(value)

    def edit_text(self, value: Any, context: Context) -> str:
        """As it stands in an input; `read` takes it back."""
        return self.show(value, context)

    def schema(self) -> dict:
        """JSON schema of the raw value."""
        return {"type": "string", "description": self.help}


@dataclass(frozen=True)
class LengthGap(Gap):
    """Length in mm inside the core."""

    minimum: float | None = None
    maximum: float | None = None
    nonzero: bool = False
    input = "length"

    def read(self, raw: Any, context: Context) -> float:
        if isinstance(raw, bool) or not isinstance(raw, (str, int, float)):
            raise EditError(f"{self.label} takes a length such as 12.5 mm")
        value = self._parse(raw, context)
        units = context.snapshot.units
        if self.nonzero and abs(value) < 1e-6:
            raise EditError(f"{self.label} is zero, so nothing would change")
        for bound, word in ((self.minimum, "smallest"), (self.maximum, "largest")):
            if bound is not None and (value < bound if word == "smallest" else value > bound):
                text = u.format_length(bound, units)
                raise EditError(
                    f"{self.label} cannot be {u.format_length(value, units)}; the {word} is {text}",
                    nearest=text,
                )
        return value

    def _parse(self, raw: str | float, context: Context) -> float:
        names, comma = context.snapshot.named_sizes(), context.decimal_comma
        return u.parse_length(raw, context.snapshot.units, decimal_comma=comma, names=names)

    def show(self, value: float, context: Context) -> str:
        return u.format_length(value, context.snapshot.units)

    def edit_text(self, value: float, context: Context) -> str:
        return u.editable_length(value, context.snapshot.units)

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["12.5 mm", "1/2 in + 3"]}


class Formula(float):
    """A length in mm that remembers how it was worked out; text is empty where no named size is in it."""

    text: str = ""


@dataclass(frozen=True)
class FormulaGap(LengthGap):
    """A length that goes on following the named sizes in it."""

    def _parse(self, raw: str | float, context: Context) -> float:
        value = Formula(super()._parse(raw, context))
        if isinstance(raw, str) and u.names_in(raw, context.snapshot.named_sizes()):
            value.text = raw.strip()
        return value

    def edit_text(self, value: float, context: Context) -> str:
        return getattr(value, "text", "") or super().edit_text(value, context)


@dataclass(frozen=True)
class AngleGap(Gap):
    """Angle in radians inside the core."""

    input = "angle"

    def read(self, raw: Any, context: Context) -> float:
        if isinstance(raw, bool) or not isinstance(raw, (str, int, float)):
            raise EditError(f"{self.label} takes an angle such as 15°")
        return u.parse_angle(raw, decimal_comma=context.decimal_comma)

    def show(self, value: float, context: Context) -> str:
        return u.format_angle(value)

    def edit_text(self, value: float, context: Context) -> str:
        return u.format_angle(value).replace("−", "-").replace("\u202f", "")

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["15°", "0.5 rad"]}


@dataclass(frozen=True)
class ShareGap(Gap):
    """A share between nothing and all: 0.4, 40 % or 2/5."""

    input = "share"

    def read(self, raw: Any, context: Context) -> float:
        value = _ratio(raw)
        if value is None:
            raise EditError(f"{self.label} is a share such as 40 %; got “{str(raw)[:40]}”")
        if not 0 < value <= 1:
            raise EditError(f"{self.label} lies above 0 and goes up to 100 %", nearest="100 %" if value > 1 else "1 %")
        return value

    def show(self, value: float, context: Context) -> str:
        return f"{100 * value:.4g} %"

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["40 %", "2/5"]}


@dataclass(frozen=True)
class FactorGap(Gap):
    """A factor above zero: 1.02, 102 % or 1/2."""

    input = "share"

    def read(self, raw: Any, context: Context) -> float:
        value = _ratio(raw)
        if value is None:
            raise EditError(f"{self.label} is a number such as 1.02; got “{str(raw)[:40]}”")
        if not 1e-4 <= value <= 1e4:
            raise EditError(f"{self.label} goes from 0.0001 to 10000", nearest="0.0001" if value < 1 else "10000")
        return value

    def show(self, value: float, context: Context) -> str:
        return f"{value:.8g}"

    def schema(self) -> dict:
        return {"type": ["string", "number"], "description": self.help, "examples": ["1.02", "102 %"]}


def _ratio(raw: Any) -> float | None:
    """A bare number, a percentage or a fraction; None for anything else."""
    text = str(raw).strip() if isinstance(raw, (str, int, float)) and not isinstance(raw, bool) else ""
    found = re.fullmatch(r"([0-9]*\.?[0-9]+)\s*(?:(%)|/\s*([0-9]*[1-9][0-9]*))?", text)
    return float(found[1]) / (100.0 if found[2] else float(found[3] or 1)) if found else None


@dataclass(frozen=True)
class CountGap(Gap):
    """A whole number, from 1."""

    input = "count"

    def read(self, raw: Any, context: Context) -> int:
        text = str(raw).strip() if isinstance(raw, (str, int)) and not isinstance(raw, bool) else ""
        if not re.fullmatch(r"[0-9]{1,6}", text) or int(text) < 1:
            raise EditError(f"{self.label} is a whole number from 1 up; got “{str(raw)[:40]}”")
        return int(text)

    def schema(self) -> dict:
        return {"type": ["integer", "string"], "minimum": 1, "description": self.help}


@dataclass(frozen=True)
class PiecesGap(Gap):
    """Numbers of pieces, from 1: `2 3`."""

    input = "pieces"

    def read(self, raw: Any, context: Context) -> tuple[int, ...]:
        words = re.split(r"[\s,]+", raw.strip()) if isinstance(raw, str) else list(raw)
        if not all(re.fullmatch(r"[1-9][0-9]{0,3}", str(w)) for w in words):
            raise EditError(f"{self.label} are numbers such as 2 3; got “{str(raw)[:40]}”")
        return tuple(dict.fromkeys(int(w) for w in words))

    def show(self, value: tuple[int, ...], context: Context) -> str:
        return " and ".join(map(str, value)) if value else self.blank

    def edit_text(self, value: tuple[int, ...], context: Context) -> str:
        return " ".join(map(str, value))

    def schema(self) -> dict:
        return {"type": "string", "description": self.help, "examples": ["2 3"]}


@dataclass(frozen=True)
class ChoiceGap(Gap):
    """One of a few words; `options` maps the value to how it reads in the sentence."""

    options: Mapping[str, str] = field(default_factory=dict)
    input = "choice"

    def read(self, raw: Any, context: Context) -> str:
        if raw in self.options:
            return raw
        for value, words in self.options.items():
            if isinstance(raw, str) and raw.strip().lower() in (value.lower(), words.lower()):
                return value
        raise EditError(f"{self.label} is one of: {', '.join(self.options)}; got “{str(raw)[:40]}”")

    def show(self, value: str, context: Context) -> str:
        return self.options[value]

    def edit_text(self, value: str, context: Context) -> str:
        return value

    def schema(self) -> dict:
        return {"enum": list(self.options), "description": self.help}


@dataclass(frozen=True)
class TextGap(Gap):
    limit: int = 120
    input = "text"

    def read(self, raw: Any, context: Context) -> str:
        if not isinstance(raw, str):
            raise EditError(f"{self.label} takes text")
        text = " ".join("".join(c if c.isprintable() else " " for c in raw).split())
        if not text:
            raise EditError(f"{self.label} is empty; give at least one letter")
        if len(text) > self.limit:
            raise EditError(f"{self.label} has {len(text)} letters; up to {self.limit} fit", nearest=text[: self.limit])
        return text

    def schema(self) -> dict:
        return {"type": "string", "maxLength": self.limit, "description": self.help}


@dataclass(frozen=True)
class ColourGap(Gap):
    input = "colour"

    def read(self, raw: Any, context: Context) -> str:
        text = raw.strip().lower() if isinstance(raw, str) else ""
        if re.fullmatch(r"#[0-9a-f]{3}", text):
            text = "#" + "".join(2 * c for c in text[1:])
        if not re.fullmatch(r"#[0-9a-f]{6}", text):
            raise EditError(f"{self.label} takes a colour as six hexadecimal digits, such as #7c8b86")
        return text

    def schema(self) -> dict:
        return {"type": "string", "pattern": "^#[0-9a-fA-F]{6}$", "description": self.help}


@dataclass(frozen=True)
class PickGap(Gap):
    """Things picked in the view: `element` is face, node (a part where it stands) or body; values are text ids.

    kinds: for faces, the surface kinds that are taken; empty for all
    changes: the edit alters the picked thing's body, so locked bodies and meshes are refused
    also: other elements that are taken as well; empty: how the gap reads while nothing is picked
    several: a gap that waits goes on waiting after a pick, and takes one after the other
    """

    element: str = "face"
    minimum: int = 1
    maximum: int | None = None
    kinds: tuple[str, ...] = ()
    changes: bool = True
    also: tuple[str, ...] = ()
    empty: str = "everything"
    several: bool = False
    input = "pick"

    def read(self, raw: Any, context: Context) -> tuple[str, ...]:
        if isinstance(raw, str):
            raw = [raw] if raw.startswith("set:") else [part for part in re.split(r"[,\s]+", raw) if part]
        if isinstance(raw, Sequence) and any(isinstance(r, str) and r.startswith("set:") for r in raw):
            raw = [i for r in raw for i in (context.snapshot.set_left(r[4:]) if str(r).startswith("set:") else [r])]
        if not isinstance(raw, Sequence) or not all(isinstance(r, str) for r in raw):
            raise EditError(f"{self.label} takes ids such as {self.element[0]}12")
        ids = tuple(dict.fromkeys(raw))
        if len(ids) < self.minimum:
            raise EditError(f"pick {plural(self.minimum, self._word())} first")
        if self.maximum is not None and len(ids) > self.maximum:
            raise EditError(
                f"{self.label} takes at most {plural(self.maximum, self._word())}; {len(ids)} are picked", ids
            )
        for ident in ids:
            self._check(ident, context)
        return ids

    @property
    def elements(self) -> tuple[str, ...]:
        return (self.element, *self.also)

    def _word(self) -> str:
        return " or ".join(ELEMENT_WORDS.get(e, e) for e in self.elements)

    def _check(self, ident: str, context: Context) -> None:
        kind, number = split_id(ident)
        snapshot = context.snapshot
        if kind == "node" and "node" in self.elements:
            if number not in snapshot.nodes:
                raise snapshot.gone("node", number)
            bodies = [snapshot.bodies[snapshot.nodes[n].body or 0] for n in snapshot.leaves_below(number)]
        elif kind in self.elements and kind in SKETCHED:
            if kind in ("sketch", "area"):
                snapshot.sketch(number)
            else:
                snapshot.sketch_with(kind, number)
            return
        elif kind in self.elements:
            body, index = snapshot.owner_of(kind, number)
            bodies = [body]
            self._check_kind(ident, body, index, context)
        else:
            article = "an" if kind[0] in "ae" else "a"
            other = "an" if self._word()[0] in "ae" else "a"
            raise EditError(f"{self.label} takes {other} {self._word()}, not {article} {kind}", [ident])
        locked = next((b for b in bodies if b.locked), None)
        if self.changes and locked and locked.mirror:
            origin = snapshot.bodies[locked.mirror.of].name
            raise EditError(f"{locked.name} stays the mirror of {origin}; change that one, or unlock this one to let "
                            f"it go its own way", [ident])  # fmt: skip
        if self.changes and locked:
            raise EditError(
                f"{locked.name} is locked, so it is measured and used but never changed; unlock it "
                f"first or work on a copy",
                [ident],
            )

    def _check_kind(self, ident: str, body: Any, index: int, context: Context) -> None:
        if not self.kinds:
            return
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh of triangles; this edit needs exact faces", [ident])
        kind = face_kind(context.geometry.solid(body.shape).index.get("face", index))
        if kind not in self.kinds:
            wanted = " or ".join(KIND_WORDS[k] for k in self.kinds)
            raise EditError(f"face {ident} is a {KIND_WORDS[kind]}; this edit takes a {wanted}", [ident])

    def show(self, value: tuple[str, ...], context: Context) -> str:
        """Without the owner: the sentence stands under the view where it is picked."""
        kinds = {split_id(v)[0] for v in value}
        kind = kinds.pop() if len(kinds) == 1 else self.element
        return plural(len(value), ELEMENT_WORDS.get(kind, kind))

    def describe(self, value: tuple[str, ...], context: Context) -> str:
        """With the owner, for the journal."""
        by_kind: dict[str, list[str]] = {}
        for ident in value:
            by_kind.setdefault(split_id(ident)[0], []).append(ident)
        if len(by_kind) > 1 and not by_kind.keys() <= set(SKETCHED):
            return " and ".join(self.describe(tuple(ids), context) for ids in by_kind.values())
        kind = split_id(value[0])[0]
        if kind == "node":
            return describe_nodes(context.snapshot, value)
        if kind in SKETCHED:
            return describe_sketched(context.snapshot, value)
        if kind == "face":
            return describe_faces(context.snapshot, context.geometry, value)
        return describe_parts(context.snapshot, kind, value)

    def edit_text(self, value: tuple[str, ...], context: Context) -> str:
        return " ".join(value)

    def schema(self) -> dict:
        letter = "".join({"area": "a", "facet": "t"}.get(e) or text_id(e, 0)[0] for e in self.elements)
        letter = f"[{letter}]" if self.also else letter
        return {
            "type": "array",
            "items": {
                "type": "string",
                "pattern": f"^{letter}[0-9]+{'(:[-0-9.e]+)*' if set(letter) & set('at') else ''}$",
            },
            "minItems": self.minimum,
            "description": self.help,
        }


@dataclass(frozen=True)
class PlacesGap(Gap):
    """Places in a sketch, in order, as words apart:

    12,5        across and up, from the middle of the sketch's plane
    +40,0       from the place before
    40<30       that far from the place before, in that direction (degrees)
    p7          a point that is there
    p7+40,0     off a point that is there
    c9:12,5     on a curve, near that place
    m9          the middle of a line
    """

    single: bool = False
    counts: Mapping[str, tuple[int, int]] = field(default_factory=dict)  # by shape: least, most (0: any number)
    input = "places"

    def read(self, raw: Any, context: Context) -> tuple[Spot, ...]:
        if not isinstance(raw, str):
            raise EditError(f"{self.label} are written like 0,0 +40,0 or 40<30")
        found: list[Spot] = []
        for word in raw.replace("−", "-").split():
            found.append(self._spot(word, found[-1].place if found else None, context))
        if not found:
            raise EditError(f"{self.label}: give at least one place, such as 0,0")
        if self.single and len(found) > 1:
            raise EditError(f"{self.label} is one place; there are {len(found)}")
        if len(found) > 2000:
            raise EditError(f"{self.label}: {len(found)} places are too many; up to 2000 fit")
        return tuple(found)

    def _spot(self, word: str, last: Flat | None, context: Context) -> Spot:
        if known := re.fullmatch(r"p([0-9]{1,11})", word):
            number = int(known[1])
            return Spot(context.snapshot.sketch_with("point", number).points[number], point=number)
        if known := re.fullmatch(r"p([0-9]{1,11})\+(.+)", word):
            x, y = context.snapshot.sketch_with("point", int(known[1])).points[int(known[1])]
            dx, dy = self._pair(known[2], context)
            return Spot((x + dx, y + dy))
        if known := re.fullmatch(r"m([0-9]{1,11})", word):
            sketch = context.snapshot.sketch_with("curve", int(known[1]))
            curve = sketch.curve(int(known[1]))
            if curve.kind != "line":
                raise EditError(f"c{curve.id} is no line, so it has no middle to draw at")
            (ax, ay), (bx, by) = sketch.places(curve)
            return Spot(((ax + bx) / 2, (ay + by) / 2), middle=curve.id)
        if known := re.fullmatch(r"c([0-9]{1,11}):(.+)", word):
            context.snapshot.sketch_with("curve", int(known[1]))
            return Spot(self._pair(known[2], context), on=int(known[1]))
        if "<" in word:
            size, _, angle = word.partition("<")
            if last is None:
                raise EditError(f"“{word}” is measured from the place before, and there is none yet")
            length = self._length(size, context)
            turn = u.parse_angle(angle, decimal_comma=context.decimal_comma)
            return Spot((last[0] + length * math.cos(turn), last[1] + length * math.sin(turn)))
        if word.startswith("+") and last is not None and "," in word:
            dx, dy = self._pair(word[1:], context)
            return Spot((last[0] + dx, last[1] + dy))
        return Spot(self._pair(word, context))

    def _pair(self, word: str, context: Context) -> Flat:
        parts = re.split(r"[;,]", word)
        if len(parts) != 2:
            raise EditError(f"“{word[:30]}” is no place; write it like 12,5 (across, up), +40,0 or 40<30")
        return self._length(parts[0], context), self._length(parts[1], context)

    def _length(self, text: str, context: Context) -> float:
        value = u.parse_length(text, context.snapshot.units)
        if abs(value) > 1e6:
            raise EditError(f"“{text[:30]}” is farther out than a kilometre")
        return value

    def show(self, value: tuple[Spot, ...], context: Context) -> str:
        if len(value) > 2:
            return plural(len(value), "place")
        return " and ".join(self._words(s, context) for s in value)

    def _words(self, spot: Spot, context: Context) -> str:
        unit = u.LENGTHS[context.snapshot.units]
        return ", ".join(f"{round(v / unit, 4):g}" for v in spot.place)

    def edit_text(self, value: tuple[Spot, ...], context: Context) -> str:
        unit = u.LENGTHS[context.snapshot.units]
        found = []
        for spot in value:
            pair = ",".join(f"{round(v / unit, 9):.12g}" for v in spot.place)
            found.append(
                f"p{spot.point}" if spot.point else f"m{spot.middle}" if spot.middle
                else f"c{spot.on}:{pair}" if spot.on else pair
            )  # fmt: skip
        return " ".join(found)

    def schema(self) -> dict:
        return {"type": "string", "description": self.help, "examples": ["0,0 +40,0 +0,20"]}


@dataclass(frozen=True)
class PlaneGap(Gap):
    """A plane as six numbers: a point on it, mm, and the direction square to it.  Written `x 12.5 mm` or `-z 3` for one
    square to an axis of the model, else `0,0,10 along 0.3,0.5,0.6` with the point in the model's unit."""

    input = "text"

    def read(self, raw: Any, context: Context) -> tuple[float, ...]:
        text = raw.strip().lower().replace("−", "-") if isinstance(raw, str) else ""
        if square := re.fullmatch(r"([-+]?)([xyz])(?:\s+(.+))?", text):
            sign, axis = (-1.0 if square[1] == "-" else 1.0), "xyz".index(square[2])
            at = (
                u.parse_length(square[3], context.snapshot.units, decimal_comma=context.decimal_comma)
                if square[3]
                else 0.0
            )
            point, normal = [0.0] * 3, [0.0] * 3
            point[axis], normal[axis] = at, sign
            return (*point, *normal)
        number = r"\s*([-+0-9.e]+)\s*"
        found = re.fullmatch(rf"{number},{number},{number}along{number},{number},{number}", text)
        try:
            values = [float(v) for v in found.groups()] if found else []
        except ValueError:
            values = []
        if len(values) != 6 or not any(values[3:]) or not all(math.isfinite(v) for v in values):
            raise EditError(
                f"{self.label} is written like x 12.5 mm or -z 3, or 0,0,10 along 0,0.6,0.8 where it is tilted",
                nearest="x 0",
            )
        unit = u.LENGTHS[context.snapshot.units]
        return (*(v * unit for v in values[:3]), *values[3:])

    def show(self, value: tuple[float, ...], context: Context) -> str:
        axis = self._axis(value)
        return (
            f"{axis} {u.format_length(value['xyz'.index(axis[-1])], context.snapshot.units)}"
            if axis
            else "a tilted plane"
        )

    def edit_text(self, value: tuple[float, ...], context: Context) -> str:
        if self._axis(value):
            return self.show(value, context)
        unit = u.LENGTHS[context.snapshot.units]
        return "{},{},{} along {},{},{}".format(
            *(f"{v / unit:.12g}" for v in value[:3]), *(f"{v:.12g}" for v in value[3:])
        )

    def _axis(self, value: tuple[float, ...]) -> str:
        """`x`, `-y` and so on; empty for a tilted plane."""
        normal = value[3:]
        size = math.hypot(*normal)
        for k, letter in enumerate("xyz"):
            if abs(abs(normal[k]) - size) < 1e-12 * size:
                return ("-" if normal[k] < 0 else "") + letter
        return ""

    def schema(self) -> dict:
        return {"type": "string", "description": self.help}


@dataclass(frozen=True)
class FileGap(Gap):
    """A file to read; the value is its path.  In stored sentences only the name is kept."""

    input = "file"

    def read(self, raw: Any, context: Context) -> str:
        if not isinstance(raw, str) or not raw:
            raise EditError(f"{self.label} takes the path of a file")
        return raw

    def show(self, value: str, context: Context) -> str:
        return re.split(r"[\\/]", value)[-1]
