"""Every kind of support and load of a study, from the words of a person to what pushes back: against statics and the
closed formulas of bars."""

from __future__ import annotations

import math

import numpy as np
import pytest

from ravine.core import EditError, Model
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import Rigid
from ravine.core.simulate.of_model import elastic_of
from tests.parts import drilled_block, drilled_volume, model_of

STEEL = elastic_of("structural steel")
X, Y, Z, R = 40.0, 30.0, 20.0, 5.0
VOLUME = drilled_volume(X, Y, Z, R)
GRAVITY = 9806.65  # mm/s²


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    model, _ = model_of(tmp_path_factory.mktemp("loads"), drilled_block(X, Y, Z, R), "Block")
    model.do("set material", parts=model.nodes(), material="structural steel")
    return model


@pytest.fixture
def block(made):
    """The block on a fixed foot; its study."""
    model = Model(snapshot=made.snapshot, geometry=made.geometry)
    return model, model.study(parts=model.nodes()).fix([face(model, (0, 0, -1))])


def face(model, way):
    return model.faces(kind="plane", normal=way).highest(way).id


def hole(model):
    return model.faces(kind="cylinder")[0].id


def top(model):
    return [face(model, (0, 0, 1))]


LOADS = {
    "a force": (lambda m: ("force", top(m), {"x": "3 N", "y": "-4 N", "z": "50 N"}), (3, -4, 50)),
    "a pressure": (lambda m: ("pressure", top(m), {"amount": "2 MPa"}), (0, 0, -2 * VOLUME / Z)),
    "a pin's push across": (lambda m: ("bearing", [hole(m)], {"x": "60 N", "y": "80 N"}), (60, 80, 0)),
    "a pin's push with some along it": (lambda m: ("bearing", [hole(m)], {"x": "60 N", "z": "7 N"}), (60, 0, 7)),
    "a pin's push along it alone": (lambda m: ("bearing", [hole(m)], {"z": "7 N"}), (0, 0, 7)),
    "a moment": (lambda m: ("moment", [hole(m)], {"about_z": "900 N mm"}), (0, 0, 0)),
    "a force from afar": (lambda m: ("remote", top(m), {"x": "9 N", "at_z": "200 mm"}), (9, 0, 0)),
    "their weight": (lambda m: ("weight", [], {"way": "-y"}), (0, -STEEL.density * VOLUME * GRAVITY, 0)),
    "their turning": (
        lambda m: ("rotation", [], {"way": "z", "speed": "3000 rpm", "at_x": "-100 mm", "at_y": f"{Y / 2} mm"}),
        (STEEL.density * VOLUME * (100 * math.pi) ** 2 * (100 + X / 2), 0, 0),
    ),
    "a temperature": (lambda m: ("warmth", [], {"warm": "80 °C"}), (0, 0, 0)),
}  # fmt: skip


@pytest.mark.parametrize("name", LOADS)
def test_the_foot_pushes_back_with_what_acts(block, name):
    model, study = block
    (kind, on, values), total = LOADS[name][0](model), LOADS[name][1]
    study.load(kind, on, **values)
    found = study.solve(size=10).reactions["Support 1"]
    scale = max(np.linalg.norm(total), 1.0)
    assert np.abs(np.add(found, total)).max() < 2e-3 * scale, "but for the round hole of straight elements"
    if kind not in ("pressure", "weight", "rotation", "warmth"):
        assert np.abs(np.add(found, total)).max() < 1e-6 * scale, "these are scaled to what was said"


def test_a_part_that_stands_askew_feels_the_model_s_directions(tmp_path):
    """Turned and moved, it pushes back the same way for a force that is said in the model."""
    there = Rigid.slide((30, -7, 11)) @ Rigid.about((0, 0, 0), (1 / 3, -2 / 3, 2 / 3), 1.1)
    path = tmp_path / "askew.step"
    part = WritePart("Block", drilled_block(X, Y, Z, R), None, {})
    path.write_bytes(step.write([WriteNode("Block", there, 0, [])], [part], "Block"))
    model = Model()
    model.do("import", path=str(path))
    model.do("set material", parts=model.nodes(), material="structural steel")
    foot = min(model.faces(kind="plane"), key=lambda f: np.asarray(f.normal) @ there.direction((0, 0, 1)))
    study = model.study(parts=model.nodes()).fix([foot.id])
    study.load("bearing", [hole(model)], x="60 N", y="-20 N", z="35 N")
    assert study.solve(size=10).reactions["Support 1"] == pytest.approx((-60, 20, -35), rel=1e-6)


# --- bars --------------------------------------------------------------------------------------------------------

LONG, WIDE = 50.0, 10.0


@pytest.fixture
def bar(tmp_path):
    """Held without friction on three sides, so that it may only grow or shrink."""
    model, _ = model_of(tmp_path, build.box(LONG, WIDE, WIDE), "Bar")
    model.do("set material", parts=model.nodes(), material="structural steel")
    study = model.study(parts=model.nodes())
    for way in ((-1, 0, 0), (0, -1, 0), (0, 0, -1)):
        study.hold([face(model, way)], "frictionless")
    return model, study


FAR = (LONG, WIDE, WIDE)
# sections of a bar that warms along its length bulge with y² + z²; here the far end stands as it does in the mean
MIDDLING = (LONG, WIDE / math.sqrt(3), WIDE / math.sqrt(3))


def test_pulled_it_grows_along_and_shrinks_across(bar):
    model, study = bar
    study.load("force", [face(model, (1, 0, 0))], x="7 kN")
    strain = 7000 / WIDE**2 / STEEL.modulus
    found = study.solve(size=10)
    wanted = (strain * LONG, -STEEL.poisson * strain * WIDE, -STEEL.poisson * strain * WIDE)
    assert found.displacement(FAR) == pytest.approx(wanted, rel=1e-6)
    assert found.stress((20, 4, 4))[0][0] == pytest.approx(70, rel=1e-6)


def test_drawn_to_a_displacement_it_takes_the_stress_of_it(bar):
    model, study = bar
    study.hold([face(model, (1, 0, 0))], "displacement", x="0.05 mm")
    found = study.solve(size=10)
    assert found.displacement(FAR)[0] == pytest.approx(0.05, rel=1e-9)
    assert found.stress((20, 4, 4))[0][0] == pytest.approx(STEEL.modulus * 0.05 / LONG, rel=1e-6)
    assert found.reactions["Support 4"][0] == pytest.approx(STEEL.modulus * 0.05 / LONG * WIDE**2, rel=1e-6)


def test_warmed_it_grows_freely_every_way(bar):
    _, study = bar
    study.load("warmth", warm="120 °C")
    grown = tuple(STEEL.expansion * 100 * length for length in FAR)
    found = study.solve(size=10)
    assert found.displacement(FAR) == pytest.approx(grown, rel=1e-6)
    assert found.largest_von_mises < 1e-3


def test_warmed_between_two_walls_it_presses(bar):
    model, study = bar
    study.hold([face(model, (1, 0, 0))], "frictionless").load("warmth", warm="120 °C")
    found = study.solve(size=10)
    assert found.stress((20, 4, 4))[0][0] == pytest.approx(-STEEL.modulus * STEEL.expansion * 100, rel=1e-6)


def test_on_an_elastic_ground_it_sinks_as_a_spring(bar):
    model, _ = bar
    study = model.study(parts=model.nodes(), called="On the ground")
    for way in ((0, -1, 0), (0, 0, -1)):
        study.hold([face(model, way)], "frictionless")
    study.hold([face(model, (-1, 0, 0))], "elastic", ground="20 N/mm³")
    study.load("force", [face(model, (1, 0, 0))], x="-5 kN")
    found = study.solve(size=10)
    sunk = 5000 / (20 * WIDE**2)
    shortened = 5000 / WIDE**2 / STEEL.modulus * LONG
    assert found.displacement((0, 5, 5))[0] == pytest.approx(-sunk, rel=1e-6)
    assert found.displacement(FAR)[0] == pytest.approx(-sunk - shortened, rel=1e-6)


def test_heat_that_flows_through_it_warms_it_evenly_from_end_to_end(bar):
    """20 °C at the one end, 6 W in at the other: it rises by q L / k, and the far end moves by half of that."""
    model, _ = bar
    study = model.study(parts=model.nodes(), called="Heated")
    for way in ((0, -1, 0), (0, 0, -1)):
        study.hold([face(model, way)], "frictionless")
    study.hold([face(model, (-1, 0, 0))], "frictionless", temperature="20 °C")
    study.load("heat", [face(model, (1, 0, 0))], power="6 W")
    rise = 6e3 / WIDE**2 * LONG / STEEL.conductivity
    found = study.solve(size=10)
    assert found.displacement(MIDDLING)[0] == pytest.approx(STEEL.expansion * rise * LONG / 2, rel=2e-3)


def test_air_takes_the_heat_away(bar):
    """In the steady state all that flows in leaves through the film: the whole end stands q / h above the air."""
    model, _ = bar
    study = model.study(parts=model.nodes(), called="Cooled")
    for way in ((-1, 0, 0), (0, -1, 0), (0, 0, -1)):
        study.hold([face(model, way)], "frictionless")
    study.load("heat", [face(model, (1, 0, 0))], power="0.5 W")
    study.load("air", [face(model, (-1, 0, 0))], warm="20 °C", film="50 W/(m² K)")
    at_film = 0.5 / (50e-6 * WIDE**2)
    through = 0.5e3 / WIDE**2 * LONG / STEEL.conductivity
    found = study.solve(size=10)
    grown = STEEL.expansion * LONG * (at_film + through / 2)
    assert found.displacement(MIDDLING)[0] == pytest.approx(grown, rel=2e-3)


@pytest.mark.parametrize("free", ["radial", "tangential", "axial"])
def test_a_pin_in_a_hole_lets_go_of_one_way(block, free):
    """Held about the hole's axis in two of three ways, it is loose in the third: told where no load pushes that way,
    and refused where one does."""
    model, _ = block
    study = model.study(parts=model.nodes(), called="On a pin")
    values = {word: "free" if word == free else "held" for word in ("radial", "tangential", "axial")}
    study.hold([hole(model)], "cylindrical", **values)
    study.load("force", top(model), z="-10 N")
    if free == "axial":
        with pytest.raises(EditError, match="nothing holds it: Block slides along Z"):
            study.solve(size=10)
        return
    found = study.solve(size=10)
    assert found.reactions["Support 1"][2] == pytest.approx(10, rel=1e-4)
    loose = [w for w in found.warnings if "nothing holds it along a motion that no load pushes" in w]
    assert bool(loose) is (free == "tangential")
    study.load("moment", top(model), about_z="1000 N mm")
    if free == "tangential":
        with pytest.raises(EditError, match="nothing holds it: Block turns about Z"):
            study.solve(size=10)
    else:
        assert study.solve(size=10).largest_displacement > 0
