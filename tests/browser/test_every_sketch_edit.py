"""Edits on sketches and what grows from them, each once through its action and its line."""


def test_curves(sheet):
    hand = sheet.hand
    sheet.open("draw")
    side = sheet.draw("rectangle", "-40,-20 40,20")[2]
    sheet.draw("text", "-30,30", words="Moss", size="8")
    (ring,) = sheet.draw("circle", "-60,0", size="8")
    (disc,) = sheet.draw("circle", "-60,40", size="5")
    sheet.draw("touching line", f"{ring}:-68,0 {disc}:-65,40")
    sheet.draw("polygon over", "60,40 70,40", count="6")
    (stub,) = sheet.draw("line", "60,-10 70,-10")
    (wall,) = sheet.draw("line", "80,-20 80,20")
    sheet.leave()
    sheet.do("extend", stub, at="69,-10")
    sheet.said("Took a line of Sketch 1 on")
    sheet.do("split curve", wall, at="80,5")
    sheet.said("Split a line of Sketch 1")
    sheet.do("trim", wall, at="80,-15")
    sheet.said("Cut a line of Sketch 1 back")
    sheet.do("round corners", sheet.hand.js("return page.sketches[0].curves[0].points[0]"), radius="6 mm")
    sheet.said("Rounded")
    sheet.do("move curves", disc, step="0,3", angle="10")
    sheet.said("Moved")
    sheet.do("copy curves", ring, way="mirrored", line=(side,))
    sheet.said("mirrored about a line")
    sheet.do("drag", disc, to="-70,50")
    sheet.do("erase", disc)
    sheet.said("Erased")
    assert hand.js("return page.sketches[0].areas.length") >= 8


def test_solids(sheet):
    """A plate with a tube, a rib, a trough; surfaces; lettering; faces split."""
    hand = sheet.hand
    bodies = "page.bodies.length"
    sheet.open("draw")
    sheet.draw("rectangle", "-40,-30 40,30")
    sheet.leave()
    sheet.do("extrude", sheet.last("areas"), distance="8")
    (top,) = sheet.parts("faces", "m.normals[2] > 126")
    sheet.do("letter", top, words="A7", height="10", depth="1")
    sheet.said("Lettered top of Block with “A7”, raised")
    hand.click("#step-back")
    hand.until("document.querySelector('.journal .here')?.innerText.includes('Extruded')", "the step back")
    (front,) = sheet.parts("faces", "m.normals[1] < -126")
    sheet.do("split face", front, way="along", share="25 %")
    sheet.said("Split front of Block along at 25 %")
    sheet.do("thicken", front, thickness="3", way="apart")
    hand.until(f"{bodies} === 2", "the wall")
    rim = sheet.parts("edges", "m.length === 6 && m[2] > 7.99 && m[5] > 7.99 && m[1] > 29.9 && m[4] > 29.9")
    sheet.do("edges out", rim[0], distance="12")
    sheet.said("Pulled an edge of Block out by 12 mm")
    sheet.begin(plane="xy")
    sheet.open("draw")
    sheet.draw("circle", "0,0", size="10")
    sheet.draw("circle", "60,0", size="4")
    (axis,) = sheet.draw("line", "50,20 80,20", role="helper")
    sheet.leave()
    sheet.do("fill", sheet.sketch["curves"][0]["id"])
    sheet.said("Filled the loop")
    sheet.do("imprint", sheet.sketch["areas"][0]["id"])
    sheet.said("Imprinted")
    tube, disc = (a["id"] for a in sheet.sketch["areas"][:2])
    sheet.do("extrude", tube, distance="30")
    sheet.said("Extruded")
    sheet.do("revolve", disc, axis=(axis,), angle="90", way="apart")
    sheet.said("Revolved an area of Sketch 2 by 90°")
    hand.click("#step-back")
    sheet.said("Extruded")
    sheet.begin(plane="xz")
    sheet.open("draw")
    (way,) = sheet.draw("line", "60,0 60,30")
    (brace,) = sheet.draw("line", "8,25 25,6")
    sheet.leave()
    sheet.do("rib", brace, thickness="3")
    sheet.said("Made a rib from a line of Sketch 3, 3 mm thick")
    sheet.do("sweep", disc, along=(way,), way="apart")
    sheet.said("Swept")
    sheet.begin(plane="xy", offset="60")
    sheet.open("draw")
    sheet.draw("rectangle about", "60,0 66,3")
    sheet.leave()
    sheet.do("loft", disc, sheet.last("areas"), way="apart")
    sheet.said("Lofted through 2 areas")
    count = hand.js(f"return {bodies}")
    node = hand.js("return page.nodes[0].id")
    sheet.do("mirror", node, along="x", height="-60", result="linked")
    hand.until(f"{bodies} === {count} + 1", "the mirrored part")
    assert hand.complaints() == []


def test_what_the_pointer_catches(sheet):
    """Corners and edges of the model below, quarters of a circle, and where a line from the last place touches it."""
    hand = sheet.hand
    sheet.open("draw")
    sheet.draw("rectangle", "-40,-30 40,30")
    sheet.leave()
    sheet.do("extrude", sheet.last("areas"), distance="8")
    sheet.begin(plane="xy")
    sheet.open("draw")
    sheet.draw("circle", "-25.5,15.5", size="3")
    sheet.leave()
    sheet.do("extrude", sheet.last("areas"), distance="8", way="cutting")
    sheet.begin(plane="xy", offset="8")
    sheet.open("draw")
    (ring,) = sheet.draw("circle", "0,0", size="10")
    sheet.choose("shape", "line")

    def caught(x, y, what, word):
        sheet.point(x, y, click=False)
        hand.until(f"bench.drawing.hover?.what === {what!r}", what)
        assert hand.js("return bench.drawing.hover.word") == word

    caught(39.8, 29.8, "corner of the model", "40,30")
    sheet.point(15, 29.8, click=False)
    hand.until("bench.drawing.hover?.what === 'edge of the model'", "the edge")
    assert hand.js("return bench.drawing.hover.y") == 30
    caught(0.3, 10.2, "quarter", f"{ring}:0,10")
    sheet.point(40.2, 3, click=False)  # beside the part
    hand.until("bench.drawing.hover?.what === 'edge of the model'", "the edge from outside")
    assert hand.js("return bench.drawing.hover.x") == 40
    sheet.point(-25.5, 12.5, click=False)
    hand.until("bench.drawing.hover?.what === 'edge of the model'", "the rim of the hole")
    caught(-25.3, 15.4, "centre of the edge", "-25.5,15.5")
    sheet.point(0, -26)  # the line begins here
    hand.until("bench.drawing.words.length === 1", "its first place")
    caught(9.3, -3.9, "tangent", f"{ring}:9.2308,-3.8462")
