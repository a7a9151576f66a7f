"""The stage Prove: a study from its loads to a table of variants, and a part from the print check to an order."""

import json
import subprocess

from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from ravine.service.supply import PrintShop
from tests.parts import step_file

TOLD = "document.querySelector('#simulations')?.innerText"


def bar(page, tmp_path):
    """Of steel."""
    ident, _ = page.model_with(step_file(tmp_path / "bar.step", build.box(80, 10, 10), "Bar"), "Bar")
    done = page.edit(ident, page.scene(ident)["revision"], "set material", parts=["Bar"], material="structural steel")
    assert done.status == 200, done.text
    return ident


FACES = """const found = {};
    for (const place of bench.view.places.values()) place.drawable.shape.faces.forEach((face, k) => {
      const n = [...face.normals.slice(0, 3)].map((v) => Math.round(v / 127));
      found[n.join(' ')] = 'f' + place.body.faces[k];
    });
    return found"""


def accepted(hand, action):
    hand.offered()
    hand.act(action)
    hand.until(f"page.edit === '{action}'", "the line")
    hand.quiet()


def test_a_study_from_its_loads_to_variants(hand, page, tmp_path):
    ident = bar(page, tmp_path)
    hand.open(ident)
    hand.js("bench.setStage('Prove')")
    hand.until(f"{TOLD}?.includes('begin a study')", "the empty panel")
    faces = hand.js(FACES)
    hand.js("page.pick(arguments[0])", [faces["0 0 1"], faces["0 0 -1"]])
    hand.offered()
    hand.act("add dimension")
    hand.until("page.edit === 'add dimension'", "the line")
    hand.put("#line-form [name=called]", "high")
    hand.quiet()
    hand.accept()
    hand.js("page.pick([])")
    hand.click("[data-begin-study]")
    hand.until("page.edit === 'begin study'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"{TOLD}.includes('Hold it here')", "what comes next")
    hand.js("page.pick(arguments[0])", [faces["-1 0 0"]])
    accepted(hand, "hold")
    hand.accept()
    hand.until(f"{TOLD}.includes('Load it here')", "what comes then")
    hand.js("page.pick(arguments[0])", [faces["1 0 0"]])
    accepted(hand, "load")
    hand.accept()
    hand.until(f"{TOLD}.includes('a force: −100 N Z')", "the load in the list")

    hand.click("[data-solve]")
    hand.until("Boolean(document.querySelector('.study .figures'))", "the result", 90)
    assert "Support 1 pushes back 100 N Z" in hand.text("#simulations .figures")
    assert hand.js("return bench.simulate.overlay.mesh.geometry.attributes.figure.count") > 100
    assert hand.js("return [...bench.view.places.values()].every((p) => !p.group.visible)")
    hand.js("""const s = document.querySelector('[data-field]'); s.value = 'displacement';
        s.dispatchEvent(new Event('input', {bubbles: true}))""")
    hand.until("bench.simulate.field === 'displacement' && Boolean(bench.simulate.overlay.mesh)", "the displacement")
    moved = hand.js("return bench.simulate.results.get('Study 1').found.head.displacement.value")
    assert 0.9 < moved / (100 * 80**3 / (3 * 210e3 * 10**4 / 12)) < 1.1
    spot = hand.js("""const { camera } = bench.view, at = camera.project(camera.target.clone().set(40, 5, 5));
        return [at.x, at.y]""")
    hand.js("bench.simulate.overlay.feel(arguments[0], arguments[1])", *spot)
    hand.until("document.querySelectorAll('.probe:not([hidden])').length === 1", "the figure under the pointer")
    hand.js("""const place = [...bench.view.places.values()][0];
        const k = place.drawable.shape.edges.findIndex((e) => Math.abs(e[0] - e[e.length - 3]) > 79);
        page.pick(['e' + place.body.edges[k]])""")
    hand.until("Boolean(document.querySelector('.along polyline'))", "the figure along an edge")
    assert "over 80 mm" in hand.text(".along")
    report = page.get(f"/m/{ident}/simulate/report?called=Study%201")
    assert report.body.startswith(b"%PDF-")
    told = subprocess.run(["pdftotext", "-layout", "-", "-"], input=report.body, capture_output=True, check=True).stdout
    assert "Support 1 pushes back" in told.decode()
    assert "EN 1993-1-1" in told.decode()
    hand.click("[data-show-result]")
    hand.until("[...bench.view.places.values()].every((p) => p.group.visible)", "the finish again")

    hand.js("document.querySelector('.study-variants').open = true")
    hand.put("[data-from]", "8 mm")
    hand.put("[data-to]", "16 mm")
    hand.put("[data-steps]", Keys.CONTROL, "a", Keys.NULL, "2")
    hand.click("[data-try]")
    hand.until("document.querySelectorAll('[data-rows] tr').length === 3", "two variants", 120)
    rows = hand.js(
        "return [...document.querySelectorAll('[data-rows] td:nth-child(2)')].map((c) => Number(c.innerText))"
    )
    assert 6 < rows[0] / rows[1] < 9, "an eighth, but for shear"

    hand.js("page.pick(arguments[0])", [faces["0 0 1"]])
    hand.keys("push 1", Keys.ENTER)
    hand.until("page.edit === 'push'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"{TOLD}.includes('Out of date')", "the result is of another state")
    hand.keys(Keys.ESCAPE)
    hand.click("[data-frequencies]")
    hand.until("document.querySelectorAll('.modes li').length > 3", "its frequencies", 90)
    hertz = hand.text(".modes")
    hand.open(ident)
    hand.js("bench.setStage('Prove')")
    hand.until("document.querySelectorAll('.modes li').length > 3", "there again on a new page")
    assert hand.text(".modes") == hertz


def test_from_the_print_check_to_an_order(hand, page, stack, tmp_path, downloads):
    block = build.subtract(build.box(40, 30, 30), build.cylinder(6, 34, (20, -2, 15), (0, 1, 0)))
    ident, _ = page.model_with(step_file(tmp_path / "block.step", block, "Block"), "Block")
    hand.open(ident)
    hand.js("bench.setStage('Prove')")
    hand.until("Boolean(document.querySelector('#printing summary'))", "the panel")
    hand.click("#printing summary")
    hand.until("document.querySelector('#printing')?.innerText.includes('1 to look at')", "what was found", 90)
    hand.click("#printing [data-fix]")
    hand.until("page.edit === 'teardrop'", "the edit that helps")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('#printing')?.innerText.includes('All of it prints')", "nothing more", 90)
    hand.keys(Keys.ESCAPE)
    hand.click("[data-layers]")
    hand.until("document.querySelector('[data-layer] output')?.innerText.startsWith('layer 75 of 150')", "a layer")
    assert len(hand.js("return document.querySelector('[data-layer] .matter').getAttribute('d')")) > 20
    hand.click("[data-ways]")
    hand.until("document.querySelectorAll('.ways tr').length > 2", "the ways up", 90)

    shop = PrintShop(f"unix:{stack.folder.run / 'printshop.sock'}")
    shop._ask("POST", "/service", {"out": True})
    hand.click("[data-quotes]")
    hand.until("document.querySelector('[data-service]').innerText.includes('out of service')", "it says so")
    shop._ask("POST", "/service", {"out": False})
    hand.click("[data-service] [data-quotes]")
    hand.until("document.querySelectorAll('[data-service] [data-basket]').length === 5", "five ways to have it")
    shop._ask("POST", "/service", {"out": False, "fails": "orders"})
    hand.click("[data-service] [data-basket=petg]")
    hand.put("[data-service] [data-count]", Keys.CONTROL, "a", Keys.NULL, "20")
    hand.click("[data-service] [data-quotes]")
    hand.until("document.querySelector('[data-service] [data-pieces=\"20\"]')", "the offers for twenty")
    for choice in ("petg", "pa12-raw", "pa12-raw"):
        hand.click(f"[data-service] [data-basket={choice}]")
    rows = "[...document.querySelectorAll('[data-gathered] tbody tr')].map((r) => r.cells[1].innerText).join()"
    hand.until(f"{rows} === '21,40'", "two lines")
    hand.click("[data-gathered] [data-unput='1']")
    hand.until(f"{rows} === '21'", "one line")
    hand.click("[data-service] [data-basket=pa12-raw]")
    hand.click("[data-gathered] [data-order]")
    hand.until("document.querySelector('[data-ordered]').innerText.includes('ordered twice')", "a lost order")
    shop._ask("POST", "/service", {"out": False})
    hand.click("[data-again]")
    hand.until("document.querySelector('[data-ordered]').innerText.includes('confirmed')", "the order")
    (kept,) = json.loads(page.get(f"/m/{ident}/print/orders").body)
    assert kept["state"] == "confirmed"
    assert [(line["item"], line["quantity"]) for line in kept["answer"]["lines"]] == [("petg", 21), ("pa12-raw", 20)]
    assert hand.js("return document.querySelectorAll('[data-gathered] tr').length") == 0, "the basket is empty again"


def test_what_nothing_holds_is_shown_moving_and_a_result_is_cut_open(hand, page, tmp_path):
    """A lid that lies on a block without being held, pushed along; then held, solved and cut."""
    block = build.box(40, 30, 10)
    ident, _ = page.model_with(step_file(tmp_path / "block.step", block, "Block"), "Pair")
    file = step_file(tmp_path / "lid.step", build.box(20, 30, 6, (10, 0, 10)), "Lid")
    assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    scene = page.scene(ident)
    nodes = {n["name"]: n["id"] for n in scene["nodes"] if n.get("body")}

    def do(edit, **values):
        answer = page.edit(ident, page.scene(ident)["revision"], edit, **values)
        assert answer.status == 200, answer.text

    do("set material", parts=list(nodes.values()), material="structural steel")
    do("begin study", parts=list(nodes.values()), called="Push")
    hand.open(ident)
    face = """const [name, axis, side] = arguments, place = [...bench.view.places.values()].find((p) => p.body.name === name);
        const k = place.drawable.shape.faces.findIndex((f) => f.normals[axis] === side * 127 && Math.abs(f.normals[(axis + 1) % 3]) < 2);
        return `f${place.body.faces[k]}@${place.node.id}`"""  # noqa: E501
    under, side, top = (hand.js(face, *which) for which in (("Block", 2, -1), ("Lid", 0, 1), ("Lid", 2, 1)))
    do("let touch", parts=[], kind="opening", study="Push")
    do("hold", on=[under], kind="fixed", study="Push")
    do("load", on=[side], kind="force", x="-100 N", study="Push")
    hand.until(f"page.revision === {page.scene(ident)['revision']} && page.settled", "what was set beside the page")
    hand.js("bench.setStage('Prove')")
    hand.until("document.querySelector('[data-solve]')", "the study")
    hand.click("[data-solve]")
    refused = "document.querySelector('[data-result] .refusal')?.innerText"
    hand.until(f"{refused}?.includes('nothing holds it: Lid slides along X')", "why not", 90)
    hand.click("[data-result] [data-loose]")
    hand.until("bench.simulate.overlay.playing > 0", "the motion", 90)
    told = hand.text("[data-result]")
    assert "Nothing holds these motions" in told
    assert "Lid slides along X" in told
    do("hold", on=[top], kind="displacement", z="-0.01 mm", x="0 mm", y="0 mm", study="Push")
    hand.until("!bench.simulate.overlay.mesh", "the old state's motion gone")
    hand.until(f"page.revision === {page.scene(ident)['revision']} && page.settled", "the hold that was set beside it")
    hand.click("[data-solve]")
    hand.until("document.querySelector('[data-result] .figures')", "the figures", 90)
    assert hand.js("return 'contact' in bench.simulate.results.get('Push').found.fields")
    hand.click("[data-of=section] > .edge-word")
    hand.click("[data-cut=y]")
    hand.until("bench.simulate.overlay.flat?.geometry.attributes.position.count > 20", "the cut in its colours")
    assert hand.js("return bench.section.cut.group.children.every((c) => !c.visible)"), "in place of hatching"
    spots = hand.js(
        "return [...bench.simulate.overlay.flat.geometry.attributes.position.array].filter((_, k) => k % 3 === 1)"
    )
    assert max(spots) - min(spots) < 1e-3
    hand.click("[data-cut=off]")
    hand.until("!bench.simulate.overlay.flat", "closed again")
