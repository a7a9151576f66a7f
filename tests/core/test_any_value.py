"""Every choice that a sentence offers, and values of every kind of gap that a person may well write: done and whole, or
refused in words that name the gap."""

from __future__ import annotations

from typing import Any

import pytest

from ravine.core import Model, RavineError
from ravine.core.edits import find_edit, registry
from ravine.core.edits.fields import ChoiceField, PickField
from ravine.core.kernel.check import fault
from ravine.core.model.snapshot import Snapshot
from tests.samples import SAMPLES

WRITTEN: dict[str, list[Any]] = {
    "LengthField": ["0.01", "1/3", "2 in"], "AngleField": ["0.1°", "180°", "1 rad"], "CountField": [1, 7],
    "ShareField": ["1 %", "99 %"], "FactorField": ["0.5", "7/3"], "TextField": ["Ünï §", "0"],
    "FormulaField": ["1+2", "4 mm"], "FlagField": ["yes", "no"], "QuantityField": ["-3", "0"],
    "PlacesField": ["0,0", "0,0 10,0 10,10"], "PairsField": [[[0, 0]], [[1, 2], [3, 4]]],
    "NumbersField": [[1, 2], [1, 2, 3]], "ColourField": ["#ffffff"], "WordsField": [{}, {"text": "x"}],
    "LinesField": ["a\nb"], "RowsField": ["wall = 3"], "NamesField": [["reach"]], "EntryField": [1],
    "EntriesField": [[43, 44]], "PlaneField": ["z 1"], "PiecesField": ["1 2"], "IdsField": [["f1"], []],
}  # fmt: skip
GAPS = [(name, gap) for name in sorted(SAMPLES) for gap, f in registry()[name].fields().items()
        if not isinstance(f, PickField) and (isinstance(f, ChoiceField) or type(f).__name__ in WRITTEN)]  # fmt: skip


@pytest.mark.parametrize(("name", "gap"), GAPS, ids=[f"{n}: {g}" for n, g in GAPS])
def test_a_gap_takes_what_is_written_or_says_why_not(bases, name, gap):
    sample, declared = SAMPLES[name], find_edit(name).fields()[gap]
    model = bases(sample.base)
    values, start = sample.values(model), model.snapshot
    offered = list(declared.options) if isinstance(declared, ChoiceField) else WRITTEN[type(declared).__name__]
    for value in offered:
        tried = Model(snapshot=start, geometry=model.geometry)
        refused = None
        try:
            tried.do(name, **{**values, gap: value})
        except RavineError as error:
            refused = error
        if refused is not None:
            words = getattr(refused, "reason", str(refused))
            assert 10 < len(words) < 420, (value, words)
            assert "gave up" not in words, value
            assert getattr(refused, "field", None) in (None, *find_edit(name).fields())
            assert tried.snapshot is start
            continue
        assert Snapshot.from_json(tried.snapshot.to_json()) == tried.snapshot
        for number, body in tried.snapshot.bodies.items():
            known = start.bodies.get(number)
            if body.kind == "solid" and (known is None or known.shape != body.shape):
                assert fault(tried.geometry.solid(body.shape).shape) is None, value
