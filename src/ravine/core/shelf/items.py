"""What is on the shelf: families with their standard and table, and the items that they come in."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from ..errors import EditError

# lengths that screws are made in, and those of pins, mm (ISO 888)
SCREWS = (
    2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 80, 90, 100, 110, 120, 130, 140, 150,
    160, 180, 200,
)  # fmt: skip
PINS = (
    2, 3, 4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30, 32, 35, 40, 45, 50, 55, 60, 65, 70, 75, 80, 85, 90,
    95, 100, 120, 140,
)  # fmt: skip


@dataclass(frozen=True)
class Family:
    """name: its table and the beginning of its items' ids; kind: among others of its sort; title: what one is called;
    standard: where its sizes are from, empty for a maker's own; material: of model.materials; step: of its lengths,
    mm or a count, 0 for those of SCREWS and PINS; unit: what a length counts; also: other words it is found by; seat:
    how it sits: head (on its underside), flush (its top level with the mouth), stack (on its underside, bored), plug
    (from the mouth down), groove (around a shaft, in a groove of it), cap (over the end of a shaft), free (nowhere by
    itself)."""

    name: str
    kind: str
    title: str
    standard: str
    material: str
    seat: str
    also: str = ""
    step: float = 0.0
    unit: str = "mm"

    @property
    def threaded(self) -> bool:
        """Whether its thread can be made real."""
        return self.kind in ("screw", "nut")

    @property
    def rows(self) -> Mapping[str, Mapping[str, float]]:
        return _table(self.name)

    def lengths(self, size: str) -> tuple[float, ...]:
        """That a size is made in; none where it has no length."""
        row = self.rows[size]
        if "shortest" not in row:
            return ()
        low, high = row["shortest"], row["longest"]
        if self.step:
            return tuple(low + k * self.step for k in range(int((high - low) / self.step) + 1))
        return tuple(float(v) for v in (PINS if self.kind == "pin" else SCREWS) if low <= v <= high)


@cache
def _table(name: str) -> dict[str, dict[str, float]]:
    text = files(__package__).joinpath(f"tables/{name}.csv").read_text(encoding="utf-8")
    return {
        row["size"]: {key: float(value) for key, value in row.items() if key != "size"}
        for row in csv.DictReader(text.splitlines())
    }


FAMILIES = {
    f.name: f
    for f in (
        Family("iso4762", "screw", "Socket head screw", "ISO 4762", "stainless steel", "head", "cap cylinder hexagon"),
        Family("iso4017", "screw", "Hexagon head screw", "ISO 4017", "stainless steel", "head", "hex bolt"),
        Family("iso10642", "screw", "Countersunk screw", "ISO 10642", "stainless steel", "flush", "socket flat"),
        Family("iso7380", "screw", "Button head screw", "ISO 7380-1", "stainless steel", "head", "socket round"),
        Family("iso4026", "screw", "Set screw", "ISO 4026", "stainless steel", "plug", "grub headless"),
        Family("iso4032", "nut", "Hexagon nut", "ISO 4032", "stainless steel", "stack", "hex"),
        Family("iso7089", "washer", "Washer", "ISO 7089", "stainless steel", "stack", "plain"),
        Family("iso2338", "pin", "Dowel pin", "ISO 2338", "stainless steel", "plug", "parallel"),
        Family("iso2341", "pin", "Clevis pin", "ISO 2341", "stainless steel", "head", "bolt with head"),
        Family("din471", "ring", "Retaining ring", "DIN 471", "structural steel", "groove", "shaft circlip snap"),
        Family("iso3601", "ring", "O-ring", "ISO 3601-1", "silicone rubber", "groove", "seal gasket"),
        Family("iso15", "bearing", "Deep groove bearing", "ISO 15", "structural steel", "plug", "ball"),
        Family("din319", "knob", "Ball knob", "DIN 319", "acetal", "cap", "handle"),
        Family("standoff", "standoff", "Hexagon standoff", "", "brass", "stack", "spacer board"),
        Family("gland", "gland", "Cable gland", "", "polyamide 12", "head", "cable entry"),
        Family("pin_header", "connector", "Pin header", "", "polyamide 12", "free", "board", 1, "pins"),
        Family("terminal", "connector", "Terminal block", "", "polyamide 12", "free", "board", 1, "poles"),
        Family("spring", "spring", "Compression spring", "", "stainless steel", "free", "coil"),
        Family("profile", "profile", "Slotted profile", "", "wrought aluminium", "free", "extrusion beam", 1),
        Family("tube", "profile", "Round tube", "", "wrought aluminium", "free", "pipe", 1),
    )
}


@dataclass(frozen=True)
class Item:
    """One thing that can be had; length: mm, or a count, None where it has none."""

    family: Family
    size: str
    length: float | None

    @property
    def id(self) -> str:
        plain = self.size.lower().replace(" × ", "x").replace(" ", "")
        return f"{self.family.name}-{plain}" + (f"x{self.length:g}" if self.length is not None else "")

    @property
    def row(self) -> Mapping[str, float]:
        return self.family.rows[self.size]

    @property
    def designation(self) -> str:
        """By its standard, or by its title where it has none."""
        return f"{self.family.standard or self.family.title} {self._measures}"

    @property
    def _measures(self) -> str:
        counted = "" if self.length is None else f" × {self.length:g}"
        counted += f" {self.family.unit}" if counted and self.family.unit != "mm" else ""
        return f"{self.size}{counted}"

    @property
    def name(self) -> str:
        return " ".join(w for w in (self.family.title, self.family.standard, self._measures) if w)


def sizes() -> Iterator[tuple[Family, str]]:
    for family in FAMILIES.values():
        for size in family.rows:
            yield family, size


def asked(text: str) -> tuple[Family, str | None, float | None] | None:
    """What an id, a standard or a title names, with the size and length as far as they are said: `iso4762-m5x16`,
    `ISO 4762 M5 × 16`, `hexagon nut`.  None where it begins with none of them.  Raises EditError, with the nearest that
    there is, for a size or length that it is not made in."""
    plain = _plain(text)
    names = [(key, f) for f in FAMILIES.values() for key in _names(f) if key and plain.startswith(key)]
    refusal: EditError | None = None
    for key, family in sorted(names, key=lambda pair: -len(pair[0])):
        try:
            return _sized(family, plain[len(key) :])
        except EditError as error:
            refusal = refusal or error
    if refusal is not None:
        raise refusal
    return None


def _sized(family: Family, rest: str) -> tuple[Family, str | None, float | None]:
    """rest: what is said behind its name."""
    if not rest:
        return family, None, None
    for size in sorted(family.rows, key=lambda s: -len(s)):
        whole = _plain(size)
        if rest == whole:
            return family, size, None
        found = re.fullmatch(re.escape(whole) + r"x([0-9]+(?:\.[0-9]+)?)(?:mm|pins|poles)?", rest)
        lengths = family.lengths(size)
        if lengths and found:
            length = float(found[1])
            if length in lengths:
                return family, size, length
            near = min(lengths, key=lambda v: abs(v - length))
            raise EditError(
                f"{family.title} {size} is not made {length:g} {family.unit} long; the nearest is {near:g}",
                field="item", nearest=Item(family, size, near).designation,
            )  # fmt: skip
    made = ", ".join(family.rows)
    raise EditError(f"the shelf has no {family.title.lower()} “{rest[:20]}”; there is {made}", field="item")


def _plain(text: str) -> str:
    return re.sub(r"[\s\-]+", "", text.lower()).replace("×", "x").replace("*", "x")


def _names(family: Family) -> tuple[str, ...]:
    standard, title = _plain(family.standard), _plain(family.title)
    return family.name, standard, title, title + standard


def item_of(text: str) -> Item:
    """By its id or designation.  Raises EditError for what is none, or leaves size or length open."""
    found = asked(text)
    if found is None:
        raise EditError(f"the shelf has no “{text[:40]}”; items are called as ISO 4762 M5 × 16", field="item")
    return whole_item(*found)


def whole_item(family: Family, size: str | None, length: float | None) -> Item:
    """Raises EditError where size or length is left open."""
    if size is None:
        raise EditError(f"say which size of {family.title.lower()}: {', '.join(family.rows)}", field="item")
    lengths = family.lengths(size)
    if lengths and length is None:
        made = ", ".join(f"{v:g}" for v in lengths[:8]) + (" …" if len(lengths) > 8 else "")
        raise EditError(f"say how long {family.title.lower()} {size} is to be: {made}", field="item")
    return Item(family, size, length)


def search(text: str = "", kind: str = "", size: str = "", material: str = "", limit: int = 60) -> list[Item]:
    """All words of the text are somewhere in an item's name, kind, material or other words.  A word with a length in
    it, as M5x16, names that; without one, the shortest of each size stands for all of its lengths."""
    words = re.sub(r"\s*[x×*]\s*", "x", text.lower()).split()
    found: list[Item] = []
    for family, own in sizes():
        if (kind and family.kind != kind) or (material and material not in family.material):
            continue
        if size and own.lower() != size.lower():
            continue
        base = f"{family.title} {family.standard} {family.standard.replace(' ', '')} {family.kind}s {family.also} "
        base += f"{family.material} {own.replace(' × ', 'x')}"
        lengths = family.lengths(own)
        whole = _matching(words, base.lower(), own.lower().replace(" × ", "x"), lengths)
        found += [Item(family, own, v) for v in whole]
        if len(found) >= limit:
            break
    return found[:limit]


def _matching(words: list[str], base: str, size: str, lengths: tuple[float, ...]) -> list[float | None]:
    """Lengths of a size that a text asks for."""
    left: list[float | None] = list(lengths) or [None]
    asked = False
    tokens = base.split()
    for word in words:
        head, _, tail = word.rpartition("x")
        if lengths and head == size and re.fullmatch(r"[0-9.]+", tail):
            left, asked = [v for v in left if v is not None and f"{v:g}".startswith(tail)], True
        elif not any(t.startswith(word) for t in tokens) and word != size:
            return []
    return left if asked or not lengths else left[:1]


def told(found: list[Item]) -> list[dict[str, object]]:
    """As scripts and pages see them; lengths: that the size is made in."""
    return [
        {
            "id": item.id, "name": item.name, "family": item.family.name, "kind": item.family.kind,
            "standard": item.family.standard, "size": item.size, "length": item.length,
            "lengths": list(item.family.lengths(item.size))[:80], "material": item.family.material,
        }
        for item in found
    ]  # fmt: skip


class Shelf:
    """The scripting face of what there is."""

    def search(self, text: str = "", *, kind: str = "", size: str = "", material: str = "") -> list[Item]:
        """Items whose `id` the edit *take from the shelf* takes."""
        return search(text, kind, size, material)
