"""Damage in exact files is found before the kernel reads them, and nothing sound is taken for damaged."""

import random
import re

import pytest

from ravine.core.formats import brep, brep_records, iges, iges_lines, part21, step
from ravine.core.kernel.check import fault
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY
from tests.damage import damaged
from tests.parts import boss_block
from tests.trials.variants import VARIANTS
from tests.varied import FAMILIES, varied

FINDERS = {"step": part21.damage_of, "igs": iges_lines.damage_of, "brep": brep_records.damage_of}


def files_of(shape):
    parts, roots = [WritePart("Größe; 'x' (1)", shape, None, {})], [WriteNode("A, B;", IDENTITY, 0, [])]
    yield "step", step.write(roots, parts, "Part")
    yield "igs", iges.write(roots, parts, "Part")
    yield "brep", brep.write([shape])


@pytest.mark.parametrize("variant", ["plain", "halves", "splines"])
def test_files_of_every_family_are_found_whole(variant):
    seen = 0
    for family in FAMILIES:
        made = (s for seed in range(8) if (s := varied(family, seed)) is not None)
        shape = next((s for s in map(VARIANTS[variant].shape, made) if not fault(s)), None)
        if shape is None:
            continue  # the kernel spoils every one of them
        seen += 1
        for kind, data in files_of(shape):
            assert FINDERS[kind](data) is None, (family, kind)
    assert seen >= 8


def changed(data, old, new):
    assert old in data
    return data.replace(old, new, 1)


STEP = [
    (b" = ADVANCED_FACE('',(", b" = ADVANCED_FACE('',(DIRECTION,", "needs a bound and refers to"),
    (b" = EDGE_CURVE(", b" = EDGE_CURVE('',", "values instead of 5"),
    (b" = CYLINDRICAL_SURFACE('',#", b" = CYLINDRICAL_SURFACE('',#9", "needs a placement where it has"),
    (b" = DIRECTION('',(0.,", b" = DIRECTION('',(1E300,", "no size of anything"),
    (b" = DIRECTION('',(0.,", b" = DIRECTION('',(nan,", "needs a number"),
    (b" = PLANE('',", b" = PLANE(\xff'',", "bytes that cannot stand"),
    (b" = PLANE('',", b" = PLANE(',", "has no end|is not one"),
    (b" = PLANE('',", b" = PLANE(('',", "is not one"),
]
IGES = [
    (b"\n124,", b"\n124;", "values instead of|no end|another type"),  # none of the time of day in the head
    (b"D0000003\n", b"D0000004\n", "line"),
    (b"     510 ", b"     511 ", "do not belong together"),
    (b"186,3,", b"186,1,", "needs a shell"),
    (b"P0000001\n", b"P0000001\nP0000001\n", "names no section|says it is line"),
]
BREP = [
    (b"\n2  1 1 0 0 ", b"\n2  1 1 9 0 ", "within a curve"),
    (b"\nTShapes ", b"\nTShapes 1", "announces"),
    (b"\nSurfaces ", b"\nSurfaces 1", "does not hold what it announces"),
    (b"1 0 0 0 ", b"1 0 nan 0 ", "which is no number"),
    (b"\n0 0\n\n0101101", b"\n0\n\n0101101", "within a corner|no number"),
]


@pytest.mark.parametrize(
    ("kind", "case"), [(k, c) for k, cases in (("step", STEP), ("igs", IGES), ("brep", BREP)) for c in cases]
)
def test_planted_damage_is_told(kind, case):
    old, new, words = case
    data = dict(files_of(boss_block()))[kind].replace(b"\r", b"")
    if direction := re.search(rb"(#\d+) = DIRECTION", data):
        new = new.replace(b"(DIRECTION", b"(" + direction[1])
    told = FINDERS[kind](changed(data, old, new))
    assert told is not None
    assert re.search(words, told)


@pytest.mark.parametrize("kind", FINDERS)
def test_whatever_is_damaged_is_looked_at_without_a_fault(kind, tmp_path):
    """Most of it is told; what passes changes a figure or a text only."""
    whole = dict(files_of(boss_block()))[kind]
    draw = random.Random(7)
    told = [FINDERS[kind](damaged(whole, draw)) is not None for _ in range(400)]
    assert sum(told) > 200


def test_the_look_at_all_records_at_once_finds_what_the_slow_one_finds(monkeypatch):
    """Files with one letter changed, taken away or put in, anywhere."""
    whole = step.write([WriteNode("A", IDENTITY, 0, [])], [WritePart("B", boss_block(), None, {})], "P")
    draw, rows = random.Random(11), []
    start = whole.index(b"DATA;")
    for _ in range(400):
        at, sign = (
            draw.randrange(start, len(whole)),
            draw.choice([b"", b"#", b"(", b")", b",", b";", b"=", b"9", b"'", b"x"]),
        )
        rows.append(whole[:at] + sign + whole[at + draw.randrange(2) :])
    quick = [part21.damage_of(data) for data in rows]
    monkeypatch.setattr(part21, "_all_at_once", lambda data: None)
    monkeypatch.setattr(part21, "_WHOLE", {})
    slow = [part21.damage_of(data) for data in rows]
    assert [(a is None) for a in quick] == [(b is None) for b in slow]
    assert quick == slow
    assert 100 < sum(a is not None for a in quick) < 400
