"""The print service's stand-in: its own look at meshes, quotes, orders that go out once, failing at every step."""

import numpy as np
import pytest
import trimesh

from ravine.core import RavineError
from ravine.core.formats import stl
from ravine.printshop.__main__ import serve
from ravine.printshop.books import CHOICES
from ravine.service.orders import orders_of, send, send_again
from ravine.service.supply import PrintShop, SupplierAway

BOX = stl.write(np.asarray(trimesh.creation.box((20, 30, 40)).triangles) + np.array([10, 15, 20]))


@pytest.fixture
def books(served):
    return served(serve)


@pytest.fixture
def shop(books, tmp_path):
    return PrintShop(f"unix:{tmp_path / 's'}")


def test_it_looks_at_the_mesh_itself(shop):
    found = shop.upload(BOX)
    assert found["size"] == pytest.approx([20, 30, 40])
    assert found["volume"] == pytest.approx(24000)
    assert found["problems"] == []
    assert shop.upload(BOX)["upload"] == found["upload"], "the same mesh is one upload"
    holed = stl.write(np.asarray(trimesh.creation.box((1, 1, 1)).triangles)[1:])
    broken = shop.upload(holed)
    assert broken["problems"] == ["the mesh is not closed"]
    with pytest.raises(RavineError, match="cannot be printed: the mesh is not closed"):
        shop.quotes(broken["upload"], 1)
    assert shop.upload(b"no mesh at all")["problems"] == ["the file is no binary STL"]
    turned = stl.write(np.asarray(trimesh.creation.box((1, 1, 1)).triangles)[:, ::-1])
    assert shop.upload(turned)["problems"] == ["the mesh is inside out or empty"]


def test_quotes_fall_with_the_number_and_leave_out_what_is_too_small(shop):
    upload = shop.upload(BOX)["upload"]
    one, many = shop.quotes(upload, 1), shop.quotes(upload, 100)
    assert {q["choice"] for q in one} == {c.key for c in CHOICES}
    assert all(b["price"] < a["price"] for a, b in zip(one, many, strict=True))
    petg = next(c for c in CHOICES if c.key == "petg")
    assert next(q for q in one if q["choice"] == "petg")["price"] == pytest.approx(
        petg.setup + petg.per * 24, abs=0.005
    )
    long = shop.upload(stl.write(np.asarray(trimesh.creation.box((400, 20, 20)).triangles)))["upload"]
    assert {q["choice"] for q in shop.quotes(long, 1)} == {"pa12-raw", "pa12-dyed"}
    with pytest.raises(RavineError, match="no such upload"):
        shop.quotes("0" * 24, 1)
    with pytest.raises(RavineError, match="from 1 to"):
        shop.quotes(upload, 0)


@pytest.mark.parametrize("step", ["uploads", "quotes", "orders"])
def test_it_may_fail_at_any_step(books, shop, step):
    upload = shop.upload(BOX)["upload"]
    books.switch(False, step)
    calls = {
        "uploads": lambda: shop.upload(BOX), "quotes": lambda: shop.quotes(upload, 1),
        "orders": lambda: shop.order("k" * 12, [{"stock_number": upload, "item": "petg", "quantity": 1}]),
    }  # fmt: skip
    for name, call in calls.items():
        if name == step:
            with pytest.raises(SupplierAway, match="the print service is out of service"):
                call()
        else:
            assert call()


def test_nothing_is_ordered_twice(books, shop, designs, monkeypatch):
    design = designs.create("Hood")
    lines = [{"stock_number": shop.upload(BOX)["upload"], "item": "petg", "quantity": 3}]
    real = PrintShop._ask

    def deaf(self, method, path, body):
        real(self, method, path, body)
        raise SupplierAway("the print service does not answer")

    monkeypatch.setattr(PrintShop, "_ask", deaf)
    lost = send(designs, design, shop, "order-0001", lines)
    assert lost.state == "unknown"
    monkeypatch.setattr(PrintShop, "_ask", real)
    found = send_again(designs, design, shop, "order-0001")
    assert found.state == "confirmed"
    assert send(designs, design, shop, "order-0001", lines).answer["number"] == found.answer["number"]
    assert len(books.data["orders"]) == 1
    assert found.answer["total"] == pytest.approx(3 * found.answer["lines"][0]["price"])
    assert [o.state for o in orders_of(design)] == ["confirmed"]
    books.data["orders"]["order-0001"]["at"] -= 100
    assert shop.standing("order-0001")["state"] == "finishing"


LINE = {"stock_number": "upload", "item": "petg", "quantity": 2}
NO_ORDERS = [
    ([], "an order has 1 to 50 lines"),
    ([LINE] * 51, "an order has 1 to 50 lines"),
    ("two", "an order has 1 to 50 lines"),
    ([7], "a line has a stock_number"),
    ([{**LINE, "quantity": "two"}], "a line has a stock_number"),
    ([{**LINE, "item": "marble"}], "there is no marble for this mesh"),
    ([{**LINE, "quantity": 0}], "from 1 to"),
    ([{**LINE, "stock_number": "0" * 24}], "there is no such upload"),
]


@pytest.mark.parametrize(("lines", "reason"), NO_ORDERS, ids=[r for _, r in NO_ORDERS])
def test_it_refuses_orders_that_it_cannot_fill(shop, books, lines, reason):
    upload = shop.upload(BOX)["upload"]
    asked = [{**line, "stock_number": upload} if isinstance(line, dict) and line["stock_number"] == "upload" else line
             for line in lines] if isinstance(lines, list) else lines  # fmt: skip
    with pytest.raises(RavineError, match=reason):
        shop._ask("POST", "/orders", {"key": "key-of-the-order", "lines": asked})
    assert books.data["orders"] == {}
    with pytest.raises(RavineError, match="a key of 8 to 64 letters"):
        shop._ask("POST", "/orders", {"key": "§", "lines": [{**LINE, "stock_number": upload}]})


def test_what_is_larger_than_every_machine_is_not_quoted(shop):
    upload = shop.upload(stl.write(np.asarray(trimesh.creation.box((900, 900, 900)).triangles)))["upload"]
    with pytest.raises(RavineError, match="larger than any of our machines"):
        shop.quotes(upload, 1)
