"""Pushes on parts of many families: sound, of the volume that is told, back again; or refused with a reason."""

import random

import pytest
from hypothesis import Phase, assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.volumes import volume_properties
from tests.parts import model_of
from tests.varied import FAMILIES, joined, varied


@settings(max_examples=9, deadline=None, derandomize=True, phases=(Phase.generate,))  # slow to shrink
@given(st.sampled_from(sorted(FAMILIES)), st.integers(1, 400), st.sampled_from([0.1, -0.1, 0.7, -0.7]))
def test_a_push_is_sound_and_can_be_taken_back_or_says_why_not(tmp_path_factory, family, seed, distance):
    shape = varied(family, seed)
    assume(shape is not None)
    model, body = model_of(tmp_path_factory.mktemp("part"), shape)
    start = model.measure(body).volume
    faces = [face.id for face in model.faces(body)]
    refused: list[EditError] = []
    for face in random.Random(seed).sample(faces, min(5, len(faces))):
        try:
            model.do("push", faces=[face], distance=distance)
        except EditError as refusal:
            refused.append(refusal)
        else:
            solid = model.geometry.solid(model.body(body).shape)
            assert fault(solid.shape) is None
            assert volume_properties(solid.shape).amount == pytest.approx(solid.volume_mm3, rel=1e-6)
            model.undo()
        assert model.measure(body).volume == start
    assert all(len(refusal.reason) > 20 for refusal in refused)
    known = {*model.faces(body).ids, *model.edges(body).ids, *(v.id for v in model.vertices(body)), body}
    assert all(set(refusal.where) <= known for refusal in refused), "they name what is there"


def test_a_slot_widens_until_it_breaks_into_the_window_beside_it(tmp_path):
    """The ends and the straight walls go together; the web between slot and window is gone along the straight part."""
    plate = build.box(60, 40, 5)
    slot = joined(build.box(20, 8, 7, (20, 8, -1)), *(build.cylinder(4, 7, (x, 12, -1)) for x in (20, 40)))
    plate = build.subtract(build.subtract(plate, slot), build.box(10, 10, 7, (25, 18, -1)))
    model, body = model_of(tmp_path, plate)
    end = next(f for f in model.faces(body) if f.kind == "cylinder")
    model.do("push", faces=[end.id], distance=-3)
    grown = 3.141592653589793 * 7**2 + 20 * 14
    overlap = 10 * (12 + 7 - 18)
    assert model.measure(body).volume == pytest.approx(5 * (60 * 40 - grown - 100 + overlap), rel=1e-9)
