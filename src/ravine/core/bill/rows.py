"""Rows of the bill: quantities from the tree, item numbers that stay, what was said of each part, what is missing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..errors import EditError
from ..model.part_data import PartData
from ..model.records import PARTS
from ..model.snapshot import Body, Snapshot, text_id
from ..shelf.items import item_of

LEVELS = ("flat", "tree")
TEXTS = ("part_number", "stock_number", "maker", "material", "finish", "process", "note")


@dataclass(frozen=True)
class BillRow:
    """item: its number, as 3 or 2.1 in the tree; name: of part or group; what: in words of the standard, for what is
    from the shelf; quantity: in all, or in the group above; nodes: ids of its places; body: its id, empty for a group;
    mass: kg of one, price: of one, None while it is not known; missing: what a reader would ask for."""

    item: str
    level: int
    name: str
    what: str
    quantity: int
    nodes: tuple[str, ...]
    body: str
    source: str
    part_number: str
    stock_number: str
    maker: str
    material: str
    finish: str
    process: str
    note: str
    mass: float | None
    price: float | None
    missing: tuple[str, ...]


def numbers_of(snapshot: Snapshot) -> dict[int, int]:
    """Item number by body: the kept ones, then what follows in the order in which the parts came."""
    kept = {b: d.number for b, d in snapshot.kept(PARTS).items() if d.number is not None and b in snapshot.bodies}
    free = max(kept.values(), default=0)
    for number in sorted(snapshot.bodies):
        if number not in kept:
            free += 1
            kept[number] = free
    return kept


def bill_rows(snapshot: Snapshot, masses: Mapping[int, float | None], level: str = "flat") -> list[BillRow]:
    """masses: kg by place in the tree.  Raises EditError for another level."""
    if level not in LEVELS:
        raise EditError(f"a bill is {' or '.join(LEVELS)}, not “{str(level)[:20]}”", field="level")
    return _flat(snapshot, masses) if level == "flat" else _tree(snapshot, masses)


def _flat(snapshot: Snapshot, masses: Mapping[int, float | None]) -> list[BillRow]:
    places: dict[int, list[int]] = {}
    for node, _, _ in snapshot.walk():
        if node.body is not None:
            places.setdefault(node.body, []).append(node.id)
    numbers = numbers_of(snapshot)
    shown = sorted(places, key=lambda body: numbers[body])
    return [_row(snapshot, b, str(numbers[b]), 0, places[b], masses) for b in shown]


def _row(
    snapshot: Snapshot, number: int, item: str, level: int, nodes: list[int], masses: Mapping[int, float | None]
) -> BillRow:
    body = snapshot.bodies[number]
    data = snapshot.kept(PARTS).get(number, PartData(number))
    what = item_of(data.item).name if data.item else ""
    return BillRow(
        item, level, body.name, what, len(nodes), tuple(text_id("node", n) for n in nodes), text_id("body", number),
        data.source, data.part_number, data.stock_number, data.maker, body.material or "", data.finish, data.process,
        data.note, masses.get(nodes[0]), data.price, _missing(body, data),
    )  # fmt: skip


def _missing(body: Body, data: PartData) -> tuple[str, ...]:
    if data.source == "reference":
        return ()
    found = [] if body.material else ["material"]
    if data.source == "bought" and not data.stock_number:
        found.append("stock number")
    return tuple(found)


def _tree(snapshot: Snapshot, masses: Mapping[int, float | None]) -> list[BillRow]:
    rows: list[BillRow] = []

    def shape(number: int) -> tuple:
        """Alike are places of one body, and groups of one name with the same in them."""
        node = snapshot.nodes[number]
        if node.body is not None:
            return ("part", node.body)
        return ("group", node.name, tuple(sorted(shape(c) for c in node.children)))

    def visit(children: tuple[int, ...], above: str, level: int) -> None:
        alike: dict[tuple, list[int]] = {}
        for child in children:
            alike.setdefault(shape(child), []).append(child)
        for k, nodes in enumerate(alike.values(), 1):
            node, item = snapshot.nodes[nodes[0]], f"{above}{k}"
            if node.body is not None:
                rows.append(_row(snapshot, node.body, item, level, nodes, masses))
                continue
            ids = tuple(text_id("node", n) for n in nodes)
            said = dict.fromkeys(("what", *TEXTS), "")
            rows.append(
                BillRow(item=item, level=level, name=node.name, quantity=len(nodes), nodes=ids, body="", source="made",
                        mass=masses.get(nodes[0]), price=None, missing=(), **said)
            )  # fmt: skip
            visit(node.children, f"{item}.", level + 1)

    visit(snapshot.roots, "", 0)
    return rows


@dataclass(frozen=True)
class Totals:
    """Of what is made or bought: kg and money, each as far as it is known, and how many pieces it is not known of."""

    mass: float
    price: float
    without_mass: int
    without_price: int


def totals(rows: list[BillRow]) -> Totals:
    """Of a flat bill."""
    counted = [r for r in rows if r.source != "reference"]
    return Totals(
        sum(r.quantity * r.mass for r in counted if r.mass is not None),
        sum(r.quantity * r.price for r in counted if r.price is not None),
        sum(r.quantity for r in counted if r.mass is None),
        sum(r.quantity for r in counted if r.price is None and r.source == "bought"),
    )
