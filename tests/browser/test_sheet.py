"""The stage Sheet: a plate pulled into a tray with its flat beside it, folded by the slider, and a bad part mended."""

import ezdxf
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.core.test_sheet import bracket
from tests.parts import step_file

UPPER = """const found = [];
    for (const place of bench.view.places.values()) {
      place.drawable.shape.edges.forEach((edge, k) => {
        const heights = edge.filter((_, i) => i % 3 === 2);
        const upper = heights.length === 2 && heights.every((z) => Math.abs(z - 1.5) < 1e-3);
        if (upper) found.push('e' + place.body.edges[k]);
      });
    }
    return found"""
HEAD = "document.querySelector('#unfolded .flat-head')?.innerText"


def test_a_plate_becomes_a_tray_and_its_flat_is_saved(hand, page, tmp_path, downloads):
    file = step_file(tmp_path / "plate.step", build.box(100, 60, 1.5), "Plate")
    ident, _ = page.model_with(file, "Tray")
    hand.open(ident)
    hand.js("bench.setStage('Sheet')")
    hand.until(f"{HEAD}?.includes('100 × 60 mm')", "the flat of the plate")
    edges = hand.js(UPPER)
    assert len(edges) == 4
    hand.js("page.pick(arguments[0])", edges)
    hand.offered()
    hand.act("flange")
    hand.until("page.edit === 'flange'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"{HEAD}?.includes('140.79 × 100.79 mm')", "the flat of the tray")
    assert hand.js("return document.querySelectorAll('#sheet .bend').length") == 4
    assert hand.js("return document.querySelectorAll('#unfolded .bend-line.up').length") == 4

    fold = """const slider = document.querySelector('[data-fold]');
        slider.value = arguments[0];
        slider.dispatchEvent(new Event('input', {bubbles: true}))"""
    hand.js(fold, 0)
    hand.until("Boolean(bench.sheet.bent.children.length && bench.sheet.bent.parent)", "the flat sheet in the view")
    tall = """const box = bench.sheet.bent.children[0].geometry; box.computeBoundingBox();
        return box.boundingBox.max.z - box.boundingBox.min.z"""
    assert hand.js(tall) < 1.7
    hand.js(fold, 1)
    hand.until("!bench.sheet.bent.parent", "the part as it is")

    hand.click("[data-cut-flat]")
    hand.js("bench.pick([])")
    hand.click("#unfolded .panel.bent")
    hand.until("page.edit === 'cut flat'", "the line, where it was clicked")
    hand.until("document.querySelector('#line-facts').innerText.includes('walls and bends cut')", "across the bend")
    hand.quiet()
    hand.accept()
    hand.until(f"{HEAD}?.includes('140.79 × 100.79 mm')", "the flat once more")
    hand.keys("\ue00c")
    hand.click("[data-cut-flat]")

    hand.click("#unfolded .panel.bent")
    hand.until("page.ids.length === 1", "the bend is picked by its panel")
    saved = downloads / "Plate flat.dxf"
    saved.unlink(missing_ok=True)
    hand.click('[data-save-flat="dxf"]')
    hand.until("page.edit === 'save flat'", "the line")
    hand.quiet()
    hand.keys("\ue007")
    hand.until("!page.edit", "the file")
    for _ in range(100):
        if saved.exists():
            break
        hand.js("return 0")
    layers = {e.dxf.layer for e in ezdxf.readfile(saved).modelspace()}
    assert layers == {"OUTLINE", "HOLES", "BENDS UP"}


def test_what_is_no_sheet_is_listed_and_mended(hand, page, tmp_path):
    file = step_file(tmp_path / "bad.step", bracket(inner=(0.05, -0.05)), "Bracket")
    ident, _ = page.model_with(file, "Bracket")
    hand.open(ident)
    hand.js("bench.setStage('Sheet')")
    hand.until("document.querySelector('.sheet-faults')?.innerText.includes('share no axis')", "the fault")
    hand.click("[data-mend-sheet=axis]")
    hand.until("page.edit === 'mend sheet'", "the line")
    hand.quiet()
    hand.accept()
    sound = "Boolean(document.querySelector('#sheet .bend') && !document.querySelector('.sheet-faults'))"
    hand.until(sound, "a sound sheet")
    hand.put("[data-bend]", Keys.CONTROL, "a", Keys.NULL, "4", Keys.ENTER)
    hand.until("document.querySelector('[data-bend]')?.dataset.was === '4'", "the bend with its new radius")


def test_a_bend_is_laid_flat_and_a_border_of_the_flat_dragged(hand, page, tmp_path):
    """The border of the leg, 10 mm out in the flat; then the bend laid flat from its row, and bent again."""
    file = step_file(tmp_path / "angle.step", bracket(), "Bracket")
    ident, _ = page.model_with(file, "Angle")
    hand.open(ident)
    hand.js("bench.setStage('Sheet')")
    hand.until("document.querySelector('#sheet .bend')", "the bend")
    sizes = """return (document.querySelector('#unfolded .flat-head').innerText.match(/[0-9.]+ × [0-9.]+/) ?? [''])[0]
        .split(' × ').map(Number)"""
    before = hand.js(sizes)
    x, y, ox, oy, scale = hand.js(
        """const rows = [...document.querySelectorAll('.flat-edge[data-out]')].map((e) => {
          const box = e.getBoundingClientRect(), [x, y] = e.dataset.out.split(' ').map(Number);
          return {x: box.x + box.width / 2, y: box.y + box.height / 2, out: [x, y]}; });
        const far = rows.reduce((a, b) => (b.x * b.out[0] + b.y * b.out[1] > a.x * a.out[0] + a.y * a.out[1] ? b : a));
        const svg = document.querySelector('#unfolded svg'), m = svg.getScreenCTM();
        return [far.x, far.y, ...far.out, m.a]"""
    )
    pointer = hand.pointer()
    pointer.move_to_location(round(x), round(y)).pointer_down()
    for step in range(1, 5):
        pointer.move_to_location(round(x + ox * 2.5 * step * scale), round(y + oy * 2.5 * step * scale)).pause(0.05)
    pointer.pointer_up()
    hand.actions.perform()
    hand.until("page.edit === 'push' && document.querySelector('.fact.plus')", "the push, as it was dragged")
    hand.put("#line [name=distance]", Keys.CONTROL, "a", Keys.NULL, "10")
    hand.quiet()
    hand.accept()
    grown = [a + 10 for a in before]
    hand.until(f"[{HEAD}.includes('{grown[0]:g} ×'), {HEAD}.includes('× {grown[1]:g} mm')].includes(true)", "the flat")

    flat = hand.js(sizes)
    hand.click("#sheet .bend .part-name")
    hand.offered()
    hand.act("unbend")
    hand.until("page.edit === 'unbend'", "the line")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('.laid-bends') && !document.querySelector('#sheet .bend')", "the laid bend")
    assert hand.js(sizes) == flat
    hand.click("[data-bend-again]")
    hand.until("page.edit === 'bend again'", "the line")
    hand.quiet()
    hand.accept()
    hand.until("document.querySelector('#sheet .bend') && !document.querySelector('.laid-bends')", "the bend")
    assert hand.js(sizes) == flat
