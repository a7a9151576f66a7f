"""What a check-up finds: data, not text, with the words for it in one table."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from ..units import format_length


@dataclass(frozen=True)
class Kind:
    """one, many: what it is called; means: why it matters; fix: what `mend` calls it, None where a person decides;
    note: worth knowing, but no fault."""

    one: str
    many: str
    means: str
    fix: str | None = None
    note: bool = False


KINDS: dict[str, Kind] = {
    "missing face": Kind("missing face", "missing faces", "a border that nothing closes", "missing faces"),
    "gap": Kind("gap", "gaps", "borders that run beside one another without meeting", "gaps"),
    "loose border": Kind("loose border", "loose borders", "borders that meet, but are not joined", "gaps"),
    "turned face": Kind("turned face", "turned faces", "its matter is on the other side than its neighbours'",
                        "turned faces"),
    "inside out": Kind("body inside out", "bodies inside out", "its matter is outside", "turned faces"),
    "duplicate face": Kind("duplicate face", "duplicate faces", "it lies on another one", "duplicate faces"),
    "crossing outline": Kind("crossing outline", "crossing outlines", "the outline of a face runs through itself",
                             "crossing outlines"),
    "unsound face": Kind("unsound face", "unsound faces", "its outline does not fit its surface",
                         "crossing outlines"),
    "sliver": Kind("sliver", "slivers", "a face too thin to be meant", "slivers"),
    "short edge": Kind("short edge", "short edges", "too short to be meant"),
    "coarse tolerance": Kind("coarse tolerance", "coarse tolerances", "an edge that claims far more room than the "
                             "others, so that its place is not certain", "coarse tolerances"),
    "split face": Kind("needless edge", "needless edges", "it divides one face for no reason", "split faces"),
    "uneven wall": Kind("wall of varying thickness", "walls of varying thickness", "two faces that nearly run side by "
                        "side, so that the matter between them is not of one thickness", note=True),
    "overlap": Kind("overlap", "overlaps", "two parts take up the same room"),
    "unit": Kind("doubtful size", "doubtful sizes", "its size suggests another unit"),
    "hidden form": Kind("spline face", "spline faces", "written as a spline, though really plane or round",
                        "spline faces", note=True),
    "hole": Kind("hole in the mesh", "holes in the mesh", "triangles are missing", "holes"),
    "turned triangle": Kind("turned triangle", "turned triangles", "they look the other way", "turned triangles"),
    "doubled triangle": Kind("doubled triangle", "doubled triangles", "they lie on one another", "doubled triangles"),
    "crowded edge": Kind("crowded edge", "crowded edges", "more than two triangles meet there", "crowded edges"),
    "needle": Kind("needle", "needles", "a triangle with next to no area", "needles"),
    "crumb": Kind("crumb", "crumbs", "a small piece apart from the rest", "crumbs"),
}  # fmt: skip


@dataclass(frozen=True)
class Finding:
    """code: in KINDS; body: its id; where: ids of faces or edges to go to; count: how many it stands for; size: mm,
    as wide or long as it is; place: its middle, mm in the model."""

    code: str
    body: str
    where: tuple[str, ...]
    place: tuple[float, float, float]
    count: int = 1
    size: float | None = None

    def message(self, part: str, units: str) -> str:
        kind = KINDS[self.code]
        what = kind.one if self.count == 1 else f"{self.count} {kind.many}"
        size = "" if self.size is None else f", {format_length(self.size, units)}"
        return f"{what} of {part}{size}: {kind.means}"

    def to_json(self) -> dict[str, Any]:
        return {**asdict(self), "fix": KINDS[self.code].fix}


def counts(findings: list[Finding]) -> dict[str, int]:
    """How many of each kind, in the order of KINDS."""
    found = {code: sum(f.count for f in findings if f.code == code) for code in KINDS}
    return {code: number for code, number in found.items() if number}
