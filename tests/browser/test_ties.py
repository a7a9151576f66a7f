"""Two parts tied together on the page: the one pushed, the other follows."""

from ravine.core.kernel import build
from tests.parts import step_file

FACES = """const found = {};
    for (const [node, place] of bench.view.places) place.drawable.shape.faces.forEach((f, k) => {
      if (Math.abs(f.normals[2]) < 126) return;
      found[`${place.body.name} ${f.normals[2] > 0 ? 'top' : 'under'}`] = {kind: 'face', node, index: k, id: `f${place.body.faces[k]}`};
    });
    return found"""  # noqa: E501


def test_a_lid_follows_the_rim_that_it_lies_on(hand, page, tmp_path):
    ident, _ = page.model_with(step_file(tmp_path / "base.step", build.box(60, 40, 10), "Base"), "Box")
    lid = step_file(tmp_path / "lid.step", build.box(60, 40, 4, (0, 0, 10)), "Lid")
    assert page.upload(f"/m/{ident}/import", lid.name, lid.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    hand.open(ident)
    faces = hand.js(FACES)
    hand.js("bench.pick([arguments[0], arguments[1]])", faces["Base top"], faces["Lid under"])
    hand.until("page.ids.length === 2 && page.offered", "the pick")
    hand.act("tie")
    hand.until("page.edit === 'tie'", "the line")
    assert hand.js("return bench.line.words()").startswith("Tie ")
    hand.put('#line [name="distance"]', "0")
    hand.quiet()
    hand.accept()
    hand.js("bench.pick([arguments[0]])", faces["Base top"])
    hand.until("page.ids.length === 1 && page.offered", "the rim")
    hand.act("push")
    hand.until("page.edit === 'push'", "the line")
    hand.put('#line [name="distance"]', "6")
    hand.quiet()
    hand.accept()
    assert "Pushed top of Base out by 6 mm; Lid follows" in hand.text(".journal .here")
    place = "[...bench.view.places.values()].find((p) => p.body.name === 'Lid').group.matrix.elements[14]"
    hand.until(f"Math.abs({place} - 6) < 1e-6", "the lid at its new height")
