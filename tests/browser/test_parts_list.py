"""The parts list: filtered, renamed in place, locked, copies one by one, rows dragged into groups."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from tests.parts import step_file

NAMES = """return [...document.querySelectorAll('.part:not([hidden])')].map((r) => r.querySelector('.part-name').innerText)"""


def test_a_list_of_many(hand, page, tmp_path):
    ident, scene = page.model_with(step_file(tmp_path / "a.step", build.box(10, 10, 10), "Post"), "Fence")
    base = scene["revision"]
    for k in range(8):
        file = step_file(tmp_path / f"{k}.step", build.box(10, 10, 5, (20 * k + 20, 0, 0)), f"Rail {k}")
        assert page.upload(f"/m/{ident}/import", file.name, file.read_bytes()).status == 200
    page.wait_for_jobs(ident)
    base = page.scene(ident)["revision"]
    done = page.edit(ident, base, "repeat parts", parts=["Post"], count=3, along="y", step=20)
    base = done.head["revision"]
    done = page.edit(ident, base, "group parts", parts=["Rail 6", "Rail 7"], called="Ends")
    assert done.status == 200, done.text
    hand.open(ident)
    hand.put("#part-filter", "rail")
    hand.until(f"(() => {{ {NAMES} }})().length === 8", "only rails")
    hand.put("#part-filter", Keys.CONTROL, "a", Keys.NULL, "rail 3")
    hand.until(f"(() => {{ {NAMES} }})().join() === 'Rail 3'", "one rail")
    hand.put("#part-filter", Keys.CONTROL, "a", Keys.NULL, Keys.BACKSPACE)
    hand.until(f"(() => {{ {NAMES} }})().length === 10", "all again")

    hand.click("[data-instances]")
    hand.until(f"(() => {{ {NAMES} }})().includes('2 of 3')", "each of the copies")
    hand.click(".part.instance:not([hidden]) + .part.instance .part-name")
    hand.until("page.ids.length === 1", "one copy picked")
    hand.act("make independent")
    hand.until("page.edit === 'make independent'", "the line")
    hand.quiet()
    hand.accept()
    hand.until(f"(() => {{ {NAMES} }})().includes('Post 2')", "its own part")

    row = "[...document.querySelectorAll('.part')].find((r) => r.innerText.startsWith('Rail 2'))"
    hand.js(f"{row}.querySelector('.part-name').dispatchEvent(new MouseEvent('dblclick', {{bubbles: true}}))")
    hand.put(".part-rename", "Top rail", Keys.ENTER)
    hand.until(f"(() => {{ {NAMES} }})().includes('Top rail')", "the new name")
    hand.js(
        "[...document.querySelectorAll('.part')].find((r) => r.innerText.startsWith('Top rail')).querySelector('[data-lock]').click()"
    )
    hand.until("document.querySelector('.part.locked')?.innerText.startsWith('Top rail')", "locked")

    rows = hand.js("""return ['Rail 1', 'Ends'].map((n) =>
        [...document.querySelectorAll('.part')].find((r) => r.innerText.startsWith(n)))""")
    ActionChains(hand.driver).drag_and_drop(*rows).perform()
    hand.until(
        "document.querySelector('.journal .here')?.innerText.includes('Put Rail 1 into Ends')", "the move in the tree"
    )
    depth = "[...document.querySelectorAll('.part')].find((r) => r.innerText.startsWith('Rail 1')).dataset.depth"
    hand.until(f"{depth} === '1'", "its place in the list")
