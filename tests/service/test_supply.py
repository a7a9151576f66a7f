"""The supplier stand-in and orders: nothing twice, whatever is lost; parts of an order; a supplier that is away."""

import json
import subprocess
import sys
import threading
import time

import pytest

from ravine.core import EditError, RavineError
from ravine.service.orders import orders_of, send, send_again
from ravine.service.supply import SupplierAway, Supply
from ravine.store.tables import Order
from ravine.supplier.__main__ import serve
from ravine.supplier.catalogue import offers_for
from ravine.supplier.orders import Books

ITEM = "iso4762-m5x16"


@pytest.fixture
def shop(served):
    return served(serve)


@pytest.fixture
def supply(shop, tmp_path):
    return Supply(f"unix:{tmp_path / 's'}")


def line(item=ITEM, quantity=10, which=0):
    return {"stock_number": offers_for(item)[which].stock_number, "item": item, "quantity": quantity}


def scarce():
    """An item of which there is something, and little."""
    from ravine.core.shelf.items import Item, sizes

    for family, size in sizes():
        for length in family.lengths(size)[:30] or (None,):
            item = Item(family, size, length).id
            for which, offer in enumerate(offers_for(item)):
                if 0 < offer.stock < 12:
                    return item, which, offer.stock
    raise AssertionError("nothing is scarce")


def test_a_stock_number_and_a_maker_lead_to_their_items(supply):
    offer = offers_for(ITEM)[0]
    assert ITEM in supply.find(offer.stock_number.lower(), 40)
    found = supply.find(f"{offer.maker} nut", 5)
    assert len(found) == 5
    assert all(any(o.maker == offer.maker for o in offers_for(i)) and i.startswith("iso4032") for i in found)
    assert supply.find("ZZ-123456", 5) == []


def test_offers_are_the_same_every_time_and_cheaper_by_the_hundred(supply):
    found = supply.offers([ITEM, "iso15-8x22x7", "no-such"])
    assert found == supply.offers([ITEM, "iso15-8x22x7", "no-such"])
    assert found["no-such"] == []
    for offer in found[ITEM]:
        prices = [price for _, price in offer["prices"]]
        assert prices == sorted(prices, reverse=True)
        assert offer["name"] == "Socket head screw ISO 4762 M5 × 16"
    assert len({o["stock_number"] for o in found[ITEM]}) == len(found[ITEM])


def test_an_order_goes_out_once_however_often_it_is_sent(designs, boss, shop, supply):
    first = send(designs, boss, supply, "a" * 12, [line()])
    again = send(designs, boss, supply, "a" * 12, [line()])
    assert first == again
    assert (first.state, first.answer["number"]) == ("confirmed", "A-1001")
    assert len(shop.data["orders"]) == 1
    with pytest.raises(EditError, match="another order went out under this key"):
        send(designs, boss, supply, "a" * 12, [line(quantity=11)])
    answers = []

    def click():
        from ravine.store.tables import database

        with database.connection_context():
            answers.append(send(designs, boss, supply, "b" * 12, [line()]))

    clicks = [threading.Thread(target=click) for _ in range(6)]
    for c in clicks:
        c.start()
    for c in clicks:
        c.join()
    assert len(shop.data["orders"]) == 2, "six clicks at once are one order"
    assert {a.answer.get("number") for a in answers if a.answer} == {"A-1002"}


def test_what_is_not_there_follows_and_the_stock_goes_down(designs, boss, shop, supply):
    item, which, stock = scarce()
    order = send(designs, boss, supply, "c" * 12, [line(item, stock + 5, which)])
    (told,) = order.answer["lines"]
    assert (order.state, told["confirmed"], told["open"]) == ("partly confirmed", stock, 5)
    assert supply.offers([item])[item][which]["stock"] == 0
    nothing = send(designs, boss, supply, "d" * 12, [line(item, 1, which)])
    assert nothing.answer["lines"][0]["confirmed"] == 0
    assert [o.key for o in orders_of(boss)] == ["d" * 12, "c" * 12]


def test_an_answer_that_was_lost_is_asked_for_again(designs, boss, shop, supply, monkeypatch):
    """It arrived, and nobody heard of it."""
    real = Supply._ask

    def deaf(self, *what):
        real(self, *what)
        raise SupplierAway("the supplier does not answer")

    monkeypatch.setattr(Supply, "_ask", deaf)
    order = send(designs, boss, supply, "e" * 12, [line()])
    assert (order.state, order.answer) == ("unknown", {})
    assert "nothing is ordered twice" in order.words
    monkeypatch.setattr(Supply, "_ask", real)
    assert send_again(designs, boss, supply, "e" * 12).answer["number"] == "A-1001"
    assert len(shop.data["orders"]) == 1


def test_killed_between_sending_and_keeping(designs, boss, shop, supply):
    """The row says that it was being sent; its key has it confirmed, not ordered once more."""
    supply.order("f" * 12, [line()])
    Order.create(owner=designs.owner, design=boss, key="f" * 12, lines=json.dumps([line()]), state="sending")
    assert send_again(designs, boss, supply, "f" * 12).state == "confirmed"
    assert len(shop.data["orders"]) == 1


def test_away_out_of_service_and_refused(designs, boss, shop, supply, client, tmp_path):
    shop.switch(True)
    with pytest.raises(SupplierAway, match="out of service"):
        supply.offers([ITEM])
    assert send(designs, boss, supply, "g" * 12, [line()]).state == "unknown"
    shop.switch(False)
    assert send_again(designs, boss, supply, "g" * 12).state == "confirmed"
    with pytest.raises(SupplierAway, match="does not answer"):
        Supply(f"unix:{tmp_path / 'nobody'}").offers([ITEM])
    with pytest.raises(RavineError, match="refused: there is no X-1"):
        send(designs, boss, supply, "h" * 12, [{**line(), "stock_number": "X-1"}])
    for lines in ([], "all", [{"item": ITEM}], [{**line(), "quantity": 0}], [{**line(), "quantity": True}]):
        with pytest.raises(EditError):
            send(designs, boss, supply, "i" * 12, lines)
    with pytest.raises(EditError, match="there is no such order"):
        send_again(designs, boss, supply, "nobody-asked")
    now = designs.get(boss.id)
    designs.edit(now, now.head, "take from the shelf", {"item": ITEM})
    answer = client.ask("GET", f"/m/{boss.id}/offers?lot=1&spares=0")
    assert answer.get_json() == {"away": "the supplier does not answer", "rows": {}}
    assert client.ask("GET", f"/m/{boss.id}/bill").status_code == 200, "the bill itself needs no supplier"


def test_its_books_outlive_it(tmp_path):
    script = [sys.executable, "-m", "ravine.supplier", str(tmp_path / "s"), str(tmp_path / "books")]
    supply = Supply(f"unix:{tmp_path / 's'}")
    numbers = []
    for key in ("j" * 12, "j" * 12, "k" * 12):
        process = subprocess.Popen(script)
        try:
            numbers.append(_until(lambda key=key: supply.order(key, [line()]))["number"])
        finally:
            process.kill()
            process.wait()
    assert numbers == ["A-1001", "A-1001", "A-1002"]
    assert not list((tmp_path / "books").glob("*.new"))
    assert Books(tmp_path / "books").data["taken"][line()["stock_number"]] in (10, 20)


def _until(act, seconds=20):
    end = time.monotonic() + seconds
    while True:
        try:
            return act()
        except SupplierAway:
            if time.monotonic() > end:
                raise
            time.sleep(0.05)
