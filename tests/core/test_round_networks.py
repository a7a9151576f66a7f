"""Boxes whose upright edges and rims have rounds of unlike radii: rings or free-form patches at the corners."""

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.volumes import volume_properties
from ravine.core.local.closing import close_up
from ravine.core.local.fillets import fillet_of, is_corner_patch
from ravine.core.local.topology import SolidTopology
from tests.parts import model_of

SIZE = (60, 40, 30)
BOX = 60 * 40 * 30


def box(upright, rim, rims=(0, 30)):
    body = build.fillet(build.box(*SIZE), upright, lambda e: abs(e.direction[2]) > 0.9)
    return build.fillet(body, rim, lambda e: e.length > 1 and any(abs(e.middle[2] - z) < 1e-6 for z in rims))


def round_faces(topology):
    return {f for f in range(topology.index.count("face")) if fillet_of(topology, f) or is_corner_patch(topology, f)}


@pytest.mark.parametrize("rims", [(0, 30), (30,)])
@pytest.mark.parametrize(("upright", "rim"), [(3, 2), (2, 2), (1.7, 1.75), (1.5, 3)])
def test_all_rounds_of_a_box_go_at_once(upright, rim, rims):
    body = box(upright, rim, rims)
    topology = SolidTopology(ShapeIndex(body))
    faces = round_faces(topology)
    assert len(faces) == (20 if len(rims) == 2 else 12)
    closed = close_up(topology, faces)
    assert volume_properties(closed.topology.index.shape).amount == pytest.approx(BOX, rel=1e-9)
    assert closed.topology.index.count("face") == 6
    assert fault(closed.topology.index.shape) is None


def upright_faces(model, body):
    return [f for f in model.faces(body, kind="cylinder") if abs(f.axis[1][2]) > 0.9]


@pytest.mark.parametrize(("upright", "rim", "wanted"), [(1.7, 1.75, 2.5), (1.7, 2.2, 1.9), (3, 2, 1.6), (3, 2, 2.5)])
def test_a_round_changes_past_the_ones_it_meets(tmp_path, upright, rim, wanted):
    """Larger than the rims the corners are rings, else patches, which are as the kernel makes them."""
    model, body = model_of(tmp_path, box(upright, rim))
    face = upright_faces(model, body)[0]
    before = {f.id for f in model.faces(body) if f.kind in ("plane", "cylinder")}
    model.do("resize", faces=[f.id for f in upright_faces(model, body)], measure="radius", size=wanted)
    built = volume_properties(box(wanted, rim)).amount
    assert model.measure(body).volume == pytest.approx(built, abs=0.3 if wanted < rim else 1e-6 * BOX)
    assert model.face(face.id).radius == pytest.approx(wanted)
    assert fault(model.geometry.solid(model.body(body).shape).shape) is None
    assert before <= {f.id for f in model.faces(body)}


def test_a_corner_patch_says_what_to_push_instead(tmp_path):
    model, body = model_of(tmp_path, box(1.5, 3))
    patch = model.faces(body, kind="spline")[0]
    with pytest.raises(EditError, match="corner where rounds meet; push one of those instead"):
        model.do("push", faces=[patch.id], distance=0.2)
    upright = upright_faces(model, body)[0]
    model.do("push", faces=[upright.id], distance=0.5)
    assert model.face(upright.id).radius == pytest.approx(2.0)
    assert fault(model.geometry.solid(model.body(body).shape).shape) is None
