"""Whole parts drawn in the browser, from an empty model to the file for the printer."""

import math

import pytest
import trimesh
from PIL import Image, ImageDraw
from selenium.webdriver.common.keys import Keys


def lens(big: float, small: float, apart: float) -> float:
    """The area that two circles share."""
    a = math.acos((apart**2 + big**2 - small**2) / (2 * apart * big))
    b = math.acos((apart**2 + small**2 - big**2) / (2 * apart * small))
    return big**2 * (a - math.sin(2 * a) / 2) + small**2 * (b - math.sin(2 * b) / 2)


def test_a_gland_nut_with_its_thread(sheet, downloads):
    """A ribbed grip, a bore, and a thread cut right through."""
    hand = sheet.hand
    sheet.open("draw")
    sheet.draw("circle", "0,0", size="15")
    sheet.draw("circle", "0,0", size="9.2")
    sheet.draw("circle", "15.5,0", size="1.4")
    sheet.leave()
    sheet.pick("curve", 16.9, 0)
    sheet.open("copy curves")
    sheet.choose("way", "around")
    sheet.write("middle", "0,0")
    sheet.write("count", "20")
    hand.quiet()
    hand.accept()
    hand.until("page.sketches[0].curves.length === 22", "the bites")
    sheet.pick("area", 12, 0)
    sheet.open("extrude")
    sheet.write("distance", "16")
    hand.quiet()
    hand.accept()
    hand.until("page.bodies.length === 1", "the grip")
    sheet.begin(plane="xz")
    sheet.open("draw")
    sheet.draw("line", "0,-8 0,20", role="helper")
    sheet.choose("role", "outline")
    sheet.draw("line", "9,-6.55 9,-5.45 10.15,-5.88 10.15,-6.12 9,-6.55")
    sheet.leave()
    hand.until("page.sketches[1].areas.length === 1", "the profile of the thread")
    hand.click(".sketch-row [data-toggle-sketch]")  # the first one is in the way
    hand.until("bench.sketches.list.length === 1", "one sketch hidden")
    sheet.zoom(9.4, -6, 40)
    sheet.pick("area", 9.4, -6)
    hand.keys("w")
    hand.put(".typing input", "ind height=27 mm pitch=1.5 mm way=cutting", Keys.ENTER)
    hand.until("page.edit === 'wind'", "the line")
    hand.click("#line [data-field='axis']")
    sheet.point(0, -5)
    hand.until("page.gap('axis').startsWith('c')", "the axis")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('.journal .here')?.innerText.includes('Wound')", "the thread", 120)
    mesh = trimesh.load(hand.saved(downloads, "Block.stl", "export stl"))
    assert mesh.is_watertight
    plain = 16 * (math.pi * (15**2 - 9.2**2) - 20 * lens(15, 1.4, 15.5))
    assert 0.93 * plain < mesh.volume < 0.96 * plain  # the rest went with the thread


def test_a_drip_rim_traced_over_a_picture(sheet, downloads, tmp_path):
    """Half of its outline over a photograph of known size, the other half by the symmetry line; a wall of three
    nozzle widths."""
    hand = sheet.hand
    photo = Image.new("RGB", (900, 600), "#e9e4d4")
    octagon = [(150, 160), (210, 100), (690, 100), (750, 160), (750, 440), (690, 500), (210, 500), (150, 440)]
    ImageDraw.Draw(photo).polygon(octagon, outline="#444", width=5)
    photo.save(tmp_path / "lid.png")
    hand.find("#file").send_keys(str(tmp_path / "lid.png"))
    hand.until("page.sketches.length === 2", "the picture")
    sheet.number = 1
    hand.js("bench.look('top')")
    sheet.take_up("lid")
    # half of the outline is 300 px wide of 900, and the picture 100 mm: 33.3 mm, in truth 60 mm
    sheet.open("picture")
    sheet.write("length", "60 mm")
    sheet.write("places", "0,0 33.333333,0")
    hand.quiet()
    hand.accept()
    hand.until("Math.abs(page.sketches[1].picture.wide - 180) < 0.001", "the scaled picture")
    sheet.open("draw")
    (axis,) = sheet.draw("line", "0,-60 0,60", role="helper")
    sheet.choose("role", "outline")
    hand.click("#line [data-field='about']")
    sheet.point(0, 50)
    hand.until(f"page.gap('about') === '{axis}'", "the symmetry line")
    assert hand.js("return page.sketches[1].picture.corner") == pytest.approx([-90, -60], abs=1e-3)
    assert len(sheet.draw("line", "0,-40 48,-40 60,-28 60,28 48,40 0,40")) == 10
    sheet.leave()
    # the nozzle width has a name, the wall is three of it
    sheet.take_up("lid")
    sheet.open("draw")
    sheet.draw("line", "-90,0 -70,0", role="helper")
    sheet.leave()
    sheet.pick("curve", -85, 0)
    sheet.open("dimension")
    sheet.write("size", "0.45")
    sheet.write("called", "nozzle")
    hand.quiet()
    hand.accept()
    sheet.pick("curve", 60, 0)
    sheet.open("set off")
    sheet.write("distance", "-3*nozzle")
    hand.quiet()
    hand.accept()
    hand.until("page.sketches[1].areas.length === 2", "rim and inside")
    sheet.zoom(60.7, 0, 60)
    sheet.pick("area", 60.7, 0)
    sheet.open("extrude")
    sheet.write("distance", "9 mm")
    hand.quiet()
    hand.accept()
    hand.until("page.bodies.length === 1", "the rim")
    path = hand.saved(downloads, "Block.stl", "export stl")
    mesh = trimesh.load(path)
    assert mesh.is_watertight
    wall = 3 * 0.45
    around = 2 * 96 + 2 * 56 + 4 * 12 * math.sqrt(2)
    corners = 8 * math.tan(math.radians(22.5)) * wall**2
    assert mesh.volume == pytest.approx(9 * (around * wall + corners), rel=1e-5)
