"""Whatever is picked for whatever gap, and whatever a question is asked with: it is done, or refused in words."""

from __future__ import annotations

import math

import pytest

from ravine.core import Model, RavineError
from ravine.core.edits import find_edit, registry
from ravine.core.edits.fields import PickField
from ravine.core.kernel.check import fault
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import Snapshot, area_id, text_id
from ravine.core.studies import find_study, studies
from tests.core.test_studies import VALUES, pair  # noqa: F401  the fixture
from tests.samples import SAMPLES

GAPS = [(name, gap) for name in sorted(SAMPLES) for gap, f in registry()[name].fields().items()
        if isinstance(f, PickField)]  # fmt: skip
EACH = 6  # things tried in a gap: different ones from gap to gap


def things(model: Model) -> list[str]:
    """Some of every kind that can be picked in it."""
    snapshot = model.snapshot
    found = [*model.nodes()[:2], *(f"n{n}" for n in snapshot.roots[:1])]
    for body in snapshot.bodies.values():
        for kind, row in body.ids().items():
            found += [text_id(kind, row[k]) for k in {0, len(row) // 2, len(row) - 1} if row]
    for sketch in snapshot.sketches.values():
        found += [f"s{sketch.id}", *(f"c{n}" for n in list(sketch.curves)[:2]),
                  *(f"p{n}" for n in list(sketch.points)[:1]), *(f"r{n}" for n in list(sketch.constraints)[:1]),
                  *(area_id(sketch.id, r.inside) for r in regions_of_sketch(sketch)[:1])]  # fmt: skip
    return found


def reason_of(action) -> str | None:
    """What it is refused with; nothing else may come."""
    try:
        action()
    except RavineError as error:
        return getattr(error, "reason", str(error))
    return None


@pytest.mark.parametrize(("name", "gap"), GAPS, ids=[f"{n}: {g}" for n, g in GAPS])
def test_a_gap_takes_a_pick_or_says_why_not(bases, name, gap):
    sample = SAMPLES[name]
    model = bases(sample.base)
    found = things(model)
    values, start = sample.values(model), model.snapshot
    first = sum(map(ord, name + gap))
    for k in range(min(EACH, len(found))):
        on = [found[(first + k * max(len(found) // EACH, 1)) % len(found)]]
        tried = Model(snapshot=start, geometry=model.geometry)
        reason = reason_of(lambda tried=tried, on=on: tried.do(name, **{**values, gap: on}))
        if reason is not None:
            assert 12 < len(reason) < 420, (on, reason)
            assert "Traceback" not in reason
            assert tried.snapshot is start
            continue
        assert Snapshot.from_json(tried.snapshot.to_json()) == tried.snapshot
        for number, body in tried.snapshot.bodies.items():
            made = tried.geometry.get(body.shape)
            if number not in start.bodies or start.bodies[number].shape != body.shape:
                assert body.kind != "solid" or fault(made.shape) is None, on


ODD = ["f999999", "x", "", None, True, -1, 0, 1e300, math.nan, "1/0", [], [None], {}, {"a": 1}, [[1, 2]], "y" * 500,
       "\x00", ["f1", "f1"], 10**30]  # fmt: skip


SLOW = ("review report", "map", "simulate", "orientations", "frequencies")  # whatever they take is worked out


@pytest.mark.parametrize("name", sorted(studies()))
def test_a_question_is_answered_or_refused_in_words(pair, name):  # noqa: F811
    """Every value in turn is another thing of the model, or nothing that could be meant."""
    values, before = VALUES[name](pair), pair.snapshot
    body = pair.bodies()[0]
    kinds = [pair.faces(kind="plane")[0].id, pair.edges(kind="circle")[0].id, pair.vertices(body)[0].id, *pair.nodes()]
    for key in find_study(name).fields():
        for raw in (*ODD, *kinds, *([k] for k in kinds), kinds[:2], kinds[-2:])[:: 9 if name in SLOW else 1]:
            reason = reason_of(lambda key=key, raw=raw: pair.study_named(name, {**values, key: raw}))
            assert reason is None or 10 < len(reason) < 420, (key, raw, reason)
    assert pair.snapshot is before


@pytest.mark.parametrize(("asked", "nearest"), [("pussh", "push"), ("extrud", "extrude"), ("hollow out", "hollow")])
def test_a_name_that_is_none_is_told_with_the_nearest(asked, nearest):
    with pytest.raises(RavineError, match=f"there is no edit “{asked}”; nearest are .*{nearest}"):
        find_edit(asked)
