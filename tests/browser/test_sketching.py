"""From nothing to a solid through the page: drawing by clicks and by writing, sizes, constraints, areas pulled."""

import math

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys


def test_drawn_by_clicks_sized_by_typing_and_pulled(sheet):
    hand = sheet.hand
    sheet.open("draw")
    for place in ((-30, -20), (20, -20), (20, 10), (-30, 10)):
        sheet.point(*place)
    hand.until("bench.sketches.list[0].curves.length >= 3", "a preview of the lines")
    sheet.point(-30, -20)  # the first place again closes it and is accepted
    hand.until("page.sketches[0].areas.length === 1", "a closed area")
    assert len(sheet.sketch["curves"]) == 4
    assert sorted(map(tuple, sheet.sketch["points"].values())) == [(-30, -20), (-30, 10), (20, -20), (20, 10)]
    # the line stands open for the next shape
    hand.until("page.edit === 'draw' && bench.drawing.active", "the line again")
    sheet.choose("shape", "circle")
    sheet.write("size", "6")
    sheet.write("places", "-10,-5")
    hand.until("bench.sketches.list[0].areas.length === 2", "a preview of the circle")
    hand.accept()
    hand.until("page.sketches[0].areas.length === 2", "the circle")
    hand.keys(Keys.ESCAPE)
    # a side is picked and gets another length
    sheet.point(0, -20)
    hand.until("page.picked[0]?.kind === 'curve'", "the side")
    hand.until("page.offered", "its actions")
    sheet.open("dimension")
    assert hand.js("return page.gap('size')").startswith("50")
    sheet.write("size", "60")
    hand.quiet()
    hand.accept()
    sheet.said("distance 60 mm")
    xs = [x for x, _ in sheet.sketch["points"].values()]
    assert max(xs) - min(xs) == pytest.approx(60, abs=1e-6)
    hand.until("document.querySelector('.size-tag')", "the size in the view")
    # what contradicts is refused with a reason
    hand.until("page.offered", "its actions")
    sheet.open("keep")
    sheet.choose("rule", "upright")
    hand.until("document.querySelector('#line-facts .refusal')?.innerText.includes('contradicts')", "the reason")
    hand.keys(Keys.ESCAPE)
    # the area around the circle is pulled
    sheet.point(min(xs) + 3, 5)
    hand.until("page.picked[0]?.kind === 'area'", "the area")
    hand.until("page.offered", "its actions")
    sheet.open("extrude")
    sheet.write("distance", "12.5")
    hand.quiet()
    hand.accept()
    hand.until("page.bodies.length === 1", "the solid")
    sheet.said("Extruded an area of Sketch 1 by 12.5 mm")
    volume = hand.until(
        "document.querySelector('.journal .here')?.innerText.match(/\\+([\\d\\s\\u2009\\u202f]+) mm³/)?.[1]",
        "its volume",
    )
    assert int("".join(c for c in volume if c.isdigit())) == round(12.5 * (60 * 30 - 36 * math.pi))
    # stepped back, the solid goes and the sketch stays; hidden, the sketch goes as well
    hand.click("#step-back")
    hand.until("page.bodies.length === 0 && bench.sketches.list.length === 1", "the sketch alone")
    hand.click("[data-toggle-sketch]")
    hand.until("bench.sketches.list.length === 0 && document.querySelector('.sketch-row.away')", "a hidden sketch")


def test_points_are_caught_and_taken_along(sheet):
    hand = sheet.hand
    sheet.open("draw")
    sheet.write("places", "0,0 30,0 30,20")
    hand.quiet()
    hand.accept()
    hand.until("page.sketches[0].curves.length === 2", "two lines")
    hand.until("bench.drawing.active", "the line again")
    corner = next(p for p, at in sheet.sketch["points"].items() if tuple(at) == (30, 20))
    sheet.point(30.4, 20.3)  # near the corner: caught
    hand.until(f"bench.drawing.input.value.trim() === '{corner}'", "the corner caught")
    sheet.point(15, 0.2)
    hand.until("bench.drawing.input.value.split(' ')[1]?.startsWith('m')", "the middle caught")
    hand.quiet()
    hand.accept()
    hand.until("page.sketches[0].curves.length === 3", "the third line")
    hand.keys(Keys.ESCAPE)
    sheet.point(30, 20)
    hand.until("page.picked[0]?.kind === 'point'", "the corner")
    hand.until("page.offered", "its actions")
    sheet.open("drag")
    sheet.write("to", "36,26")
    hand.quiet()
    hand.accept()
    sheet.said("Took a point of Sketch 1")
    assert sheet.sketch["points"][corner] == pytest.approx([36, 26], abs=1e-3)


def test_a_corner_is_dragged_by_hand_and_the_rest_follows(sheet):
    hand = sheet.hand
    sheet.open("draw")
    sheet.choose("shape", "rectangle")
    sheet.write("places", "-20,-10 20,10")
    hand.quiet()
    hand.accept()
    hand.until("page.sketches[0].curves.length === 4", "the rectangle")
    hand.keys(Keys.ESCAPE)
    hand.until("!bench.line.isOpen && bench.sketches.active === bench.sketches.saved[0].id", "the sketch at hand")
    before = hand.js("return [page.camera.yaw, page.camera.pitch]")
    (x0, y0), (x1, y1) = sheet.screen(20, 10), sheet.screen(28, 16)
    pointer = ActionChains(hand.driver, duration=120)
    pointer.move_to_element_with_offset(hand.find("#canvas"), round(x0), round(y0)).click_and_hold()
    pointer.move_by_offset(round((x1 - x0) / 2), round((y1 - y0) / 2)).move_by_offset(
        round(x1 - x0) - round((x1 - x0) / 2), round(y1 - y0) - round((y1 - y0) / 2)
    ).perform()
    hand.until("bench.sketches.list[0].points !== bench.sketches.saved[0].points && bench.previewing", "a preview")
    ActionChains(hand.driver).release().perform()
    sheet.said("Took a point of Sketch 1")
    xs, ys = (sorted({round(p[k], 3) for p in sheet.sketch["points"].values()}) for k in (0, 1))
    assert len(xs) == len(ys) == 2  # still a rectangle
    assert xs[1] == pytest.approx(28, abs=0.6)
    assert ys[1] == pytest.approx(16, abs=0.6)
    assert hand.js("return [page.camera.yaw, page.camera.pitch]") == before  # the view did not turn
