"""The bill of materials on its page: edited in place, saved, ordered with one line out of stock, the supplier away."""

import csv
import io
import json

from selenium.webdriver.common.keys import Keys

from ravine.core.kernel import build
from ravine.core.shelf.items import FAMILIES, Item, sizes
from ravine.service.supply import Supply
from ravine.supplier.catalogue import offers_for
from tests.parts import step_file


def out_of_stock():
    """Something that no maker has any of."""
    items = (Item(f, size, v) for f, size in sizes() for v in (f.lengths(size)[:30] or (None,)))
    return next(i for i in items if all(o.stock == 0 for o in offers_for(i.id)))


def there():
    family = FAMILIES["iso4032"]
    return next(i for i in (Item(family, s, None) for s in family.rows) if offers_for(i.id)[0].stock > 500)


def test_edited_saved_and_ordered(hand, page, tmp_path, stack):
    ident, scene = page.model_with(step_file(tmp_path / "plate.step", build.box(60, 40, 10), "Plate"), "Frame")
    base = scene["revision"]
    missing, present = out_of_stock(), there()
    for item in (missing, present):
        answer = page.edit(ident, base, "take from the shelf", item=item.id)
        assert answer.status == 200, answer.text
        base = answer.head["revision"]
    hand.driver.get(f"{page.stack.address}/m/{ident}/bill")
    hand.until("document.getElementById('bill')?.dataset.ready", "the bill and its offers")
    rows = hand.js("return [...document.querySelectorAll('.bill-rows tbody th')].map((t) => t.firstChild.textContent)")
    assert rows == ["Plate", missing.designation, present.designation]
    hand.click("[data-column=note]")
    hand.put("tbody tr:nth-child(1) [data-what=note]", "anodised black", Keys.ENTER)
    hand.until("document.querySelector('#told').innerText === 'Saved'", "the note saved")
    hand.js("""const s = document.querySelector('tbody tr:nth-child(1) [data-material]'); s.value = 'brass';
        s.dispatchEvent(new Event('change', {bubbles: true}))""")
    hand.until("!document.querySelector('tbody tr:nth-child(1) [data-material]').disabled", "the material saved")
    read = list(csv.DictReader(io.StringIO(page.get(f"/m/{ident}/bill.csv").body.decode("utf-8-sig"))))
    assert (read[0]["Note"], read[0]["Material"], read[2]["Qty"]) == ("anodised black", "brass", "1")
    assert page.get(f"/m/{ident}/bill.pdf").body.startswith(b"%PDF-")

    offer = "document.querySelector('tbody tr:nth-child({}) [data-offer]').innerText"
    assert hand.js(f"return {offer.format(2)}").count("none, in") == len(offers_for(missing.id))
    hand.put("[name=lot]", Keys.CONTROL, "a", Keys.NULL, "30", Keys.TAB)
    hand.until(f"{offer.format(3)}.startsWith('30 ×')", "offers for the lot")
    hand.click("[data-send]")
    hand.until("document.querySelector('.order')?.innerText.includes('partly confirmed')", "what was confirmed")
    told = hand.text(".order")
    assert f"0 of 30 × {missing.name}" in told
    assert f"30 of 30 × {present.name}" in told
    assert "to follow in" in told

    supply = Supply(f"unix:{stack.folder.run / 'supplier.sock'}")
    supply._ask("POST", "/service", {"out": True})
    try:
        hand.driver.refresh()
        hand.until("document.getElementById('bill')?.dataset.ready", "the bill without offers")
        assert "out of service: prices and stock are left out" in hand.text("#told")
        assert hand.js("return document.querySelector('[data-send]').disabled")
        assert len(hand.js("return [...document.querySelectorAll('.bill-rows tbody tr')].map((r) => 1)")) == 3
    finally:
        supply._ask("POST", "/service", {"out": False})
    assert json.loads(page.get(f"/m/{ident}/bill.json").body)["totals"]["without_price"] == 2
