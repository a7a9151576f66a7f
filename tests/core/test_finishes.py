"""Surfaces and their colours, on parts and faces, through edits and files."""

from __future__ import annotations

import re

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.model.finishes import GRAINS, SURFACES, colour_of, surface_of
from tests.parts import model_of


def test_a_surface_brings_its_colour_and_another_colour_keeps_the_surface(tmp_path):
    model, body = model_of(tmp_path, build.box(20, 10, 5))
    node = model.nodes()[0]
    top = model.faces(body, normal=(0, 0, 1))[0].id
    model.do("set finish", parts=[node], surface="oiled oak")
    assert model.body(body).finish == f"{SURFACES['oiled oak'].colour} oiled oak"
    model.do("set finish colour", parts=[node], colour="#102030")
    assert model.body(body).finish == "#102030 oiled oak"
    model.do("set face finish", faces=[top], surface="brass")
    model.do("set face finish colour", faces=[top], colour="#ffeeaa")
    number = int(top[1:])
    assert model.body(body).face_finishes[number] == "#ffeeaa brass"
    model.do("push", faces=[top], distance=3)  # it stays through edits
    assert model.body(body).face_finishes[number] == "#ffeeaa brass"
    back = Model(snapshot=type(model.snapshot).from_json(model.snapshot.to_json()), geometry=model.geometry)
    assert back.body(body).finish == "#102030 oiled oak"
    model.do("set face finish", faces=[top], surface="plain")
    assert number not in model.body(body).face_finishes
    model.do("set finish", parts=[node], surface="plain")
    assert model.body(body).finish is None


def test_files_get_the_colour_of_a_surface(tmp_path):
    model, _ = model_of(tmp_path, build.box(20, 10, 5))
    model.do("set finish", parts=model.nodes(), surface="gloss paint")
    colour = SURFACES["gloss paint"].colour
    model.save(tmp_path / "out.step")
    again = Model()
    body = again.do("import", path=str(tmp_path / "out.step")).added[0]
    assert again.body(body).finish == colour


def test_the_table_is_what_the_page_can_draw():
    for name, surface in SURFACES.items():
        assert re.fullmatch(r"#[0-9a-f]{6}", surface.colour), name
        assert surface.grain in GRAINS
        assert 0 <= surface.roughness <= 1
        assert 0 < surface.scale <= 8  # mm; the page keeps it in a byte of an eighth and a half
        assert colour_of(f"{surface.colour} {name}") == surface.colour
        assert surface_of(f"{surface.colour} {name}") == name
