"""What is broken in a Part 21 file (ISO 10303-21), found before the kernel follows its references into nothing.

Only what leads to a wrong read is looked for: signs that cannot stand there, records that do not close, references to
nothing, and, in the entities of shape (ISO 10303-42), arguments of the wrong number or kind.  What is not known here
passes.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import pairwise

_STRING = re.compile(rb"'(?:[^']|'')*'")
_COMMENT = re.compile(rb"/\*.*?\*/", re.DOTALL)
_RECORD = re.compile(rb"\s*#\s*(\d+)\s*=\s*(?:([A-Z0-9_]+)\s*)?\((.*)\)\s*\Z", re.DOTALL)
_RECORDS = re.compile(rb";\s*#\s*(\d+)\s*=\s*(?:([A-Z0-9_]+)\s*)?\(([^;=]*)\)\s*(?=;)")
_BEGINS = re.compile(rb";\s*#")
_NUMBER = re.compile(rb"\s*[-+]?(?:\d+\.?\d*|\.\d+)(?:[Ee][-+]?\d+)?\s*\Z")
_USUAL = rb"\s*[-+]?\d{1,12}\.?\d*(?:E-\d+)?\s*"
_NUMBERS = re.compile(rb"\s*\(" + _USUAL + rb"(?:," + _USUAL + rb")*\)\s*\Z")  # at once, as most lists are
_PART = re.compile(rb"(?:[^,()]+|\((?:[^()]|\([^()]*\))*\))+")
_PLAIN = bytes(set(range(32, 127)) | set(b"\t\r\n\f"))
LARGEST = 1e12  # of a length or ratio, in whatever unit; nothing that is made is near it

# kinds of arguments: a dot any, n number, i whole number, b truth, else the class of what is referred to; a question
# mark allows none, a star a list of them
_SHAPE: dict[bytes, tuple[str, ...]] = {
    b"CARTESIAN_POINT": (".", "n*"),
    b"DIRECTION": (".", "n*"),
    b"VECTOR": (".", "direction", "n"),
    b"AXIS1_PLACEMENT": (".", "point", "direction?"),
    b"AXIS2_PLACEMENT_3D": (".", "point", "direction?", "direction?"),
    b"AXIS2_PLACEMENT_2D": (".", "point", "direction?"),
    b"LINE": (".", "point", "vector"),
    b"CIRCLE": (".", "placement", "n"),
    b"ELLIPSE": (".", "placement", "n", "n"),
    b"HYPERBOLA": (".", "placement", "n", "n"),
    b"PARABOLA": (".", "placement", "n"),
    b"POLYLINE": (".", "point*"),
    b"PLANE": (".", "placement"),
    b"CYLINDRICAL_SURFACE": (".", "placement", "n"),
    b"CONICAL_SURFACE": (".", "placement", "n", "n"),
    b"SPHERICAL_SURFACE": (".", "placement", "n"),
    b"TOROIDAL_SURFACE": (".", "placement", "n", "n"),
    b"SURFACE_OF_LINEAR_EXTRUSION": (".", "curve", "vector"),
    b"SURFACE_OF_REVOLUTION": (".", "curve", "axis"),
    b"B_SPLINE_CURVE_WITH_KNOTS": (".", "i", "point*", ".", ".", ".", "i*", "n*", "."),
    b"B_SPLINE_SURFACE_WITH_KNOTS": (".", "i", "i", ".", ".", ".", ".", ".", "i*", "i*", "n*", "n*", "."),
    b"VERTEX_POINT": (".", "point"),
    b"EDGE_CURVE": (".", "vertex", "vertex", "curve", "b"),
    b"ORIENTED_EDGE": (".", ".", ".", "edge", "b"),
    b"EDGE_LOOP": (".", "edge*"),
    b"VERTEX_LOOP": (".", "vertex"),
    b"POLY_LOOP": (".", "point*"),
    b"FACE_BOUND": (".", "loop", "b"),
    b"FACE_OUTER_BOUND": (".", "loop", "b"),
    b"ADVANCED_FACE": (".", "bound*", "surface", "b"),
    b"FACE_SURFACE": (".", "bound*", "surface", "b"),
    b"CLOSED_SHELL": (".", "face*"),
    b"OPEN_SHELL": (".", "face*"),
    b"MANIFOLD_SOLID_BREP": (".", "shell"),
    b"FACETED_BREP": (".", "shell"),
    b"BREP_WITH_VOIDS": (".", "shell", "shell*"),
}
_CLASSES: dict[str, tuple[bytes, ...]] = {
    "point": (b"CARTESIAN_POINT",),
    "direction": (b"DIRECTION",),
    "vector": (b"VECTOR",),
    "axis": (b"AXIS1_PLACEMENT",),
    "placement": (b"AXIS2_PLACEMENT_3D", b"AXIS2_PLACEMENT_2D"),
    "vertex": (b"VERTEX_POINT",),
    "edge": (b"EDGE_CURVE", b"ORIENTED_EDGE", b"SUBEDGE"),
    "loop": (b"EDGE_LOOP", b"VERTEX_LOOP", b"POLY_LOOP"),
    "bound": (b"FACE_BOUND", b"FACE_OUTER_BOUND"),
    "face": (b"ADVANCED_FACE", b"FACE_SURFACE", b"ORIENTED_FACE"),
    "shell": (b"CLOSED_SHELL", b"OPEN_SHELL", b"ORIENTED_CLOSED_SHELL", b"ORIENTED_OPEN_SHELL"),
    "curve": (b"LINE", b"CIRCLE", b"ELLIPSE", b"HYPERBOLA", b"PARABOLA", b"POLYLINE", b"B_SPLINE_CURVE_WITH_KNOTS",
              b"TRIMMED_CURVE", b"COMPOSITE_CURVE", b"SURFACE_CURVE", b"SEAM_CURVE", b"INTERSECTION_CURVE", b"PCURVE",
              b"OFFSET_CURVE_3D", b"BEZIER_CURVE"),
    "surface": (b"PLANE", b"CYLINDRICAL_SURFACE", b"CONICAL_SURFACE", b"SPHERICAL_SURFACE", b"TOROIDAL_SURFACE",
                b"DEGENERATE_TOROIDAL_SURFACE", b"SURFACE_OF_LINEAR_EXTRUSION", b"SURFACE_OF_REVOLUTION",
                b"B_SPLINE_SURFACE_WITH_KNOTS", b"BEZIER_SURFACE", b"OFFSET_SURFACE", b"CURVE_BOUNDED_SURFACE",
                b"RECTANGULAR_TRIMMED_SURFACE"),
}  # fmt: skip
_CLASS_OF = {name: family for family, names in _CLASSES.items() for name in names}

# most records are as they should be, and told so at one look: by kind a pattern of all its arguments, and what each of
# its groups, a reference or a list of them, has to be
_LOOKS = {
    ".": rb"(?:[^,()]+|\((?:[^()]|\([^()]*\))*\))", "n": _USUAL, "i": rb"\s*[-+]?\d{1,9}\s*", "b": rb"\s*\.[TFU]\.\s*",
    "n*": rb"\s*\(" + _USUAL + rb"(?:," + _USUAL + rb")*\)\s*",
}  # fmt: skip
_ENDS = {"*": rb"\s*\(\s*#([\d\s,#]+)\)\s*", "?": rb"\s*(?:#(\d+)|\$)\s*"}
_WHOLE = {
    name: (
        re.compile(rb",".join(_LOOKS.get(k) or _ENDS.get(k[-1]) or rb"\s*#(\d+)\s*" for k in kinds) + rb"\Z"),
        tuple(k.rstrip("*?") for k in kinds if k not in _LOOKS),
    )
    for name, kinds in _SHAPE.items()
    if not name.startswith(b"B_SPLINE")
}
_BETWEEN = re.compile(rb"\s*,\s*#")


def damage_of(data: bytes) -> str | None:
    """Words for the first thing that is broken, None where nothing was found.  data: the whole file."""
    bare = _STRING.sub(b"''", _COMMENT.sub(b"", data))
    start = bare.find(b"DATA")
    if b"'" in bare.replace(b"''", b""):
        return "a text in it has no end"
    if start < 0:
        return "it has no data section"
    if bare[start:].translate(None, _PLAIN):
        return "it holds bytes that cannot stand in such a file"
    records = _all_at_once(bare[start:])
    if records is not None:
        return next(_faults(records), None)
    records = {}
    for text in bare[start:].split(b";"):
        if b"#" not in text.partition(b"=")[0]:
            continue
        found = _RECORD.match(text)
        if found is None or text.count(b"(") != text.count(b")"):
            return f"the record {_shown(text)} is not one"
        number, name, arguments = found.groups()
        if number in records:
            return f"#{number.decode()} stands in it twice"
        records[number] = (name or b"", arguments)
    return next(_faults(records), None)


def _all_at_once(data: bytes) -> dict[bytes, tuple[bytes, bytes]] | None:
    """Name and arguments by number; None where not every record is one, as the slow way then says."""
    found = _RECORDS.findall(data)
    records = {number: (name, arguments) for number, name, arguments in found}
    if len(records) != len(found) or not len(found) == data.count(b"=") == len(_BEGINS.findall(data)):
        return None
    open_ = any(a.count(b"(") != a.count(b")") for name, a in records.values() if name not in _WHOLE)
    return None if open_ or data.count(b"(") != data.count(b")") else records


def _shown(text: bytes) -> str:
    return "“" + text.strip()[:40].decode(errors="replace") + "”"


def _faults(records: dict[bytes, tuple[bytes, bytes]]) -> Iterator[str]:
    for number, (name, arguments) in records.items():
        kinds = _SHAPE.get(name)
        if kinds is None or (name in _WHOLE and _as_it_should_be(arguments, *_WHOLE[name], records)):
            continue
        told = f"#{number.decode()} ({name.decode().replace('_', ' ').lower()})"
        parts = _PART.findall(arguments)
        if len(parts) != len(kinds):
            yield f"{told} has {len(parts)} values instead of {len(kinds)}"
            continue
        for part, kind in zip(parts, kinds, strict=True):
            if kind != "." and (why := _wrong(part, kind, records)):
                yield f"{told} {why}"
        if name.startswith(b"B_SPLINE") and (why := _wrong_spline(parts, name)):
            yield f"{told} {why}"


def _as_it_should_be(
    arguments: bytes, look: re.Pattern[bytes], families: tuple[str, ...], records: dict[bytes, tuple[bytes, bytes]]
) -> bool:
    found = look.match(arguments)
    if found is None:
        return False
    for text, family in zip(found.groups(), families, strict=True):
        for number in () if text is None else (text,) if text.isdigit() else _BETWEEN.split(text.strip()):
            name = records.get(number, (None,))[0]
            if name is None or (name in _SHAPE and _CLASS_OF.get(name) != family):
                return False
    return True


def _items(text: bytes) -> list[bytes] | None:
    text = text.strip()
    return text[1:-1].split(b",") if text[:1] == b"(" and text[-1:] == b")" else None


def _wrong(text: bytes, kind: str, records: dict[bytes, tuple[bytes, bytes]]) -> str | None:
    if kind.endswith("*"):
        if kind == "n*" and _NUMBERS.match(text):
            return None
        items = _items(text)
        if items is None or not items[0].strip():
            return f"needs a list where it has {_shown(text)}"
        return next((why for item in items if (why := _wrong(item, kind[:-1], records))), None)
    text = text.strip()
    if kind.endswith("?"):
        if text == b"$":
            return None
        kind = kind[:-1]
    if kind in "ni":
        if not _NUMBER.match(text) or (kind == "i" and not text.lstrip(b"+-").isdigit()):
            return f"needs a number where it has {_shown(text)}"
        return None if abs(float(text)) < LARGEST else f"holds {_shown(text)}, which is no size of anything"
    if kind == "b":
        return None if text in (b".T.", b".F.", b".U.") else f"needs yes or no where it has {_shown(text)}"
    if text[:1] != b"#" or text[1:] not in records:
        return f"needs a {kind} where it has {_shown(text)}"
    name = records[text[1:]][0]
    family = _CLASS_OF.get(name)
    if name in _SHAPE and family != kind:
        return f"needs a {kind} and refers to #{text[1:].decode()}, a {name.decode().replace('_', ' ').lower()}"
    return None


def _wrong_spline(parts: list[bytes], name: bytes) -> str | None:
    """Multiplicities add up to poles, degree and one (ISO 10303-42, b_spline_curve_with_knots), one for each knot."""
    if name == b"B_SPLINE_CURVE_WITH_KNOTS":
        ways = [(parts[1], len(_items(parts[2]) or ()), parts[6], parts[7])]
    else:
        rows = re.findall(rb"\(([^()]*)\)", parts[3])
        counts = {row.count(b",") + 1 for row in rows}
        if len(counts) != 1:
            return "has rows of poles of different lengths"
        ways = [(parts[1], len(rows), parts[8], parts[10]), (parts[2], counts.pop(), parts[9], parts[11])]
    for degree, poles, multiplicities, knots in ways:
        counted, values = _items(multiplicities) or [], [float(v) for v in _items(knots) or []]
        if len(counted) != len(values) or sum(map(int, counted)) != poles + int(degree) + 1:
            return "has knots that do not fit its poles"
        if any(b <= a for a, b in pairwise(values)):
            return "has knots that do not rise"
    return None
