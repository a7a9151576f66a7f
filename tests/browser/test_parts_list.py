"""The parts list: filtered, renamed in place, locked, copies one by one, rows dragged into groups."""

from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file

NAMES = "[...document.querySelectorAll('.part:not([hidden])')].map((r) => r.querySelector('.part-name').innerText)"
NAMED = "const named = (n) => [...document.querySelectorAll('.part')].find((r) => r.innerText.trim().startsWith(n));"
DRAG = """const dataTransfer = new DataTransfer();
    const send = (row, kind) => row.dispatchEvent(new DragEvent(kind, {bubbles: true, cancelable: true, dataTransfer}));
    const [row, group] = [...arguments].map(named);
    send(row, 'dragstart');
    send(group, 'dragover');
    send(group, 'drop');
    send(row, 'dragend');"""


def test_a_list_of_many(hand, page, tmp_path):
    ident, _ = page.model_with(step_file(tmp_path / "a.step", build.box(10, 10, 10), "Post"), "Fence")
    for k in range(8):
        file = step_file(tmp_path / f"{k}.step", build.box(10, 10, 5, (20 * k + 20, 0, 0)), f"Rail {k}")
        assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    base = page.scene(ident)["revision"]
    done = page.edit(ident, base, "repeat parts", parts=["Post"], count=3, along="y", step=20)
    done = page.edit(ident, done.head["revision"], "group parts", parts=["Rail 6", "Rail 7"], called="Ends")
    assert done.status == 200, done.text
    hand.open(ident)
    hand.put("#part-filter", "rail")
    hand.until(f"{NAMES}.length === 8", "only rails")
    hand.put("#part-filter", Keys.CONTROL, "a", Keys.NULL, "rail 3")
    hand.until(f"{NAMES}.join() === 'Rail 3'", "one rail")
    hand.put("#part-filter", Keys.CONTROL, "a", Keys.NULL, Keys.BACKSPACE)
    hand.until(f"{NAMES}.length === 10", "all again")

    hand.click("[data-instances]")
    hand.until(f"{NAMES}.includes('2 of 3')", "each of the copies")
    hand.click(".part.instance:not([hidden]) + .part.instance .part-name")
    hand.until("page.ids.length === 1", "one copy picked")
    hand.act("make independent")
    hand.until("page.edit === 'make independent'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"{NAMES}.includes('Post 2')", "its own part")

    hand.js(
        f"{NAMED} named('Rail 2').querySelector('.part-name').dispatchEvent(new Event('dblclick', {{bubbles: true}}))"
    )
    hand.put(".part-rename", "Top rail", Keys.ENTER)
    hand.until(f"{NAMES}.includes('Top rail')", "the new name")
    hand.js(f"{NAMED} named('Top rail').querySelector('[data-lock]').click()")
    hand.until("document.querySelector('.part.locked')?.innerText.startsWith('Top rail')", "locked")
    hand.until("page.settled", "the list")

    hand.js(NAMED + DRAG, "Rail 1", "Ends")
    said = "document.querySelector('.journal .here')?.innerText"
    hand.until(f"{said}.includes('Put Rail 1 into Ends')", "the move in the tree")
    hand.until("page.settled", "the list")
    assert hand.js(f"{NAMED} return named('Rail 1').dataset.depth") == "1"
