"""The bill of materials: quantities against counting the tree, numbers that stay, files that others read."""

import csv
import io
import json
import re
import subprocess

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from ravine.core import EditError, Model
from ravine.core.bill.files import CHOSEN, written
from ravine.core.bill.lots import Lot, needs
from ravine.core.bill.rows import bill_rows, totals
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.model.snapshot import Node, Snapshot
from ravine.core.operations.work import Work
from ravine.core.rigid import IDENTITY
from ravine.core.studies import study_of
from tests.core.test_shelf import lid_hole, stack


@pytest.fixture
def station(tmp_path):
    """Two like units of a block and two pins, a third pin beside them, and a group of another name."""
    parts = [WritePart("Block", build.box(10, 10, 10), None, {}), WritePart("Rod", build.cylinder(2, 20), None, {})]

    rod = WriteNode("Rod", IDENTITY, 1, [])

    def unit():
        return WriteNode("Unit", IDENTITY, None, [WriteNode("Block", IDENTITY, 0, []), rod, rod])

    tree = [WriteNode("Station", IDENTITY, None, [unit(), unit(), rod])]
    path = tmp_path / "station.step"
    path.write_bytes(step.write(tree, parts, "station"))
    model = Model()
    model.do("import", path=str(path))
    return model


def test_flat_and_tree(station):
    model = station
    model.do("set material", parts=["Block"], material="brass")
    flat = model.bill()
    assert [(r.item, r.name, r.quantity) for r in flat] == [("1", "Block", 2), ("2", "Rod", 5)]
    assert flat[0].mass == pytest.approx(8.5e-3)
    assert [r.missing for r in flat] == [(), ("material",)]
    tree = model.bill("tree")
    assert [(r.item, r.level, r.name, r.quantity) for r in tree] == [
        ("1", 0, "Station", 1), ("1.1", 1, "Unit", 2), ("1.1.1", 2, "Block", 1), ("1.1.2", 2, "Rod", 2),
        ("1.2", 1, "Rod", 1),
    ]  # fmt: skip
    found = totals(flat)
    assert (found.mass, found.without_mass) == (pytest.approx(17e-3), 5)
    with pytest.raises(EditError, match="flat or tree, not “deep”"):
        model.bill("deep")


@given(st.recursive(st.integers(0, 3), lambda inner: st.lists(inner, min_size=1, max_size=4), max_leaves=25))
def test_quantities_are_what_counting_every_path_gives(shape):
    """shape: a tree of numbers of bodies."""
    full = Model()
    base = Snapshot()
    nodes, bodies, count = {}, {}, [0]

    def add(part):
        count[0] += 1
        own = count[0]
        if isinstance(part, int):
            bodies[100 + part] = _body(100 + part)
            nodes[own] = Node(own, f"P{part}", IDENTITY, (), 100 + part)
        else:
            nodes[own] = Node(own, "G", IDENTITY, tuple(add(p) for p in part))
        return own

    root = add(shape)
    snapshot = Snapshot(units=base.units, roots=(root,), nodes=nodes, bodies=bodies, next_id=1000)
    masses = dict.fromkeys(nodes, 1.0)
    leaves = sum(n.body is not None for n in nodes.values())
    assert sum(r.quantity for r in bill_rows(snapshot, masses)) == leaves
    tree = bill_rows(snapshot, masses, "tree")
    factors, whole = [], 0
    for row in tree:
        factors = [*factors[: row.level], row.quantity]
        product = 1
        for f in factors:
            product *= f
        whole += product if row.body else 0
    assert whole == leaves, "quantities along each way multiply to the number of places"
    assert full.bill() == []


def _body(number):
    from ravine.core.model.snapshot import Body

    return Body(number, f"P{number}", "solid", "x", (number + 1000,))


def test_numbers_stay_once_they_are_kept(station, tmp_path):
    model = station
    model.do("number parts")
    model.do("take from the shelf", item="iso4762-m5x16")
    model.do("delete body", parts=["Block"])
    model.do("take from the shelf", item="iso7089-m5")
    assert [(r.item, r.name) for r in model.bill()] == [("2", "Rod"), ("3", "ISO 4762 M5 × 16"), ("4", "ISO 7089 M5")]


def test_what_is_said_of_parts(station):
    model = station
    change = model.do("set part data", parts=["Rod"], what="stock_number", value="K-2207")
    assert change.sentence.endswith("the stock number K-2207")
    model.do("set part data", parts=["Rod"], what="source", value="bought")
    model.do("set part data", parts=["Rod"], what="price", value="0,35")
    row = model.bill()[1]
    assert (row.stock_number, row.source, row.price) == ("K-2207", "bought", 0.35)
    assert totals(model.bill()).price == pytest.approx(5 * 0.35)
    model.do("set part data", parts=["Rod"], what="price", value="")
    assert model.bill()[1].price is None
    for what, value, words in [
        ("price", "cheap", "a price is a number"),
        ("source", "stolen", "made, bought, reference"),
    ]:
        with pytest.raises(EditError, match=words):
            model.do("set part data", parts=["Rod"], what=what, value=value)
    model.do("set part data", parts=["Rod"], what="source", value="reference")
    assert totals(model.bill()).without_mass == 2, "what is for reference only does not count"


def test_files_that_others_read(tmp_path):
    model = stack(tmp_path)
    model.do("take from the shelf", item="iso4762", on=[lid_hole(model)], holes="alike")
    model.do("rename", part="Lid", to="=Lid")
    rows = model.bill()
    read = list(csv.reader(io.StringIO(written("csv", rows, "Box").decode("utf-8-sig"))))
    assert read[0][:4] == ["Item", "Name", "Description", "Qty"]
    assert read[1][1] == "'=Lid", "no program takes a name for a formula"
    assert read[3][2:4] == ["Socket head screw ISO 4762 M5 × 12", "4"]
    sheet = load_workbook(io.BytesIO(written("xlsx", rows, "Box"))).active
    assert [c.value for c in sheet[4]][1:4] == ["ISO 4762 M5 × 12", "Socket head screw ISO 4762 M5 × 12", 4]
    assert (sheet["B2"].value, sheet["B2"].data_type) == ("=Lid", "s")
    told = json.loads(written("json", rows, "Box"))
    assert told["totals"]["without_mass"] == 2
    path = tmp_path / "bill.pdf"
    path.write_bytes(written("pdf", rows * 30, "Schrank für Größe Ø 5"))
    subprocess.run(["qpdf", "--check", path], check=True, capture_output=True)
    text = subprocess.run(["pdftotext", "-layout", path, "-"], capture_output=True, text=True, check=True).stdout
    assert "Schrank für Größe Ø 5" in text
    assert text.count("Socket head screw ISO 4762 M5 × 12") == 30
    assert "sheet 4 of 4" in text
    fonts = subprocess.run(["pdffonts", path], capture_output=True, text=True, check=True).stdout.splitlines()[2:]
    assert len(fonts) == 2
    assert all(" yes yes yes " in row for row in fonts), "embedded, cut down, and with its letters"
    assert written("pdf", rows, "Box") == written("pdf", rows, "Box")
    with pytest.raises(EditError, match="csv, xlsx, pdf, json"):
        written("doc", rows, "Box")


def test_a_lot_needs_what_counting_the_tree_needs_and_costs_what_its_prices_say(station):
    model = station
    rod = model.bill()[1].body
    model.do("set part data", parts=["Rod"], what="source", value="bought")
    model.do("set part data", parts=["Block"], what="price", value="2.5")
    flat, tree = model.bill(), model.bill("tree")
    lot = Lot(7, 10, {rod: 0.4})
    assert [n.pieces for n in needs(flat, lot)] == [14, 39], "spares of what is bought only: 5 × 7 × 1.1, rounded up"
    # 2 rods in each of 2 units, and one beside them: 28 and 7, each with its own spares
    assert [n.pieces for n in needs(tree, lot)] == [None, None, 14, 31, 8]
    assert [n.total for n in needs(flat, lot)] == [pytest.approx(35.0), pytest.approx(15.6)]
    plain = Lot(7)
    assert sum(n.pieces or 0 for n in needs(tree, plain)) == sum(n.pieces for n in needs(flat, plain)) == 49
    assert needs(flat, plain)[1].total is None, "nobody has said what a rod costs"
    model.do("set part data", parts=["Rod"], what="source", value="reference")
    assert needs(model.bill(), lot)[1].pieces is None


@pytest.mark.parametrize(("count", "spares"), [(0, 0), (-1, 0), (100_001, 0), (1, -1), (1, 1001)])
def test_a_lot_has_bounds(count, spares):
    with pytest.raises(EditError, match="a lot is 1 to 100,000"):
        Lot(count, spares)


def told_by(*command):
    return subprocess.run(command, capture_output=True, text=True, check=True).stdout


def test_files_have_the_columns_and_the_lot_that_were_asked_for(station, tmp_path):
    rows = station.bill("tree")
    prices = {r.body: 1.25 for r in rows if r.body}
    read = [list(csv.reader(io.StringIO(written("csv", rows, "Box", ["note"], Lot(3, 0, prices)).decode("utf-8-sig"))))]
    head, *lines = read[0]
    assert head == ["Item", "Name", "Description", "Qty", "Source", "Material", "Mass, kg", "Note", "For the lot",
                    "Price each", "Total"]  # fmt: skip
    assert [line[-3:] for line in lines] == [["", "", ""], ["", "", ""], ["6", "1.25", "7.5"], ["12", "1.25", "15.0"],
                                             ["3", "1.25", "3.75"]]  # fmt: skip
    sheet = load_workbook(io.BytesIO(written("xlsx", rows, "Box", [], Lot(3, 0, prices)))).active
    assert [c.value for c in sheet[4]][-3:] == [6, 1.25, 7.5]
    told = json.loads(written("json", rows, "Box", None, Lot(3, 0, prices)))
    assert told["lot"]["total"] == 26.25
    path = tmp_path / "bill.pdf"
    for columns in ([], list(CHOSEN)):
        path.write_bytes(written("pdf", rows, "Box", columns, Lot(3, 5, prices)))
        text = told_by("pdftotext", "-layout", str(path), "-")
        assert "For 3 with 5 % to spare: 26.25" in text, "nothing here is bought, so nothing is spare"
        assert ("Process" in text) == bool(columns)
        sizes = told_by("pdfinfo", str(path))
        assert "841.89 x 595.276" in sizes
        box = told_by("pdftotext", "-bbox", str(path), "-")
        assert max(float(x) for x in re.findall(r'xMax="([0-9.]+)"', box)) < 841.89 - 20, "nothing runs off the sheet"
    with pytest.raises(EditError, match="a bill has the columns part_number"):
        written("csv", rows, "Box", ["weight"])


@pytest.mark.parametrize(
    "lot", [{"count": "many"}, [1], {"spares": 1}, {"count": 1, "prices": [1]}, {"count": float("inf")}]
)
def test_a_lot_that_is_none_is_refused_in_words(station, lot):
    with pytest.raises(EditError, match="a lot comes as"):
        study_of("bill file", {"lot": lot}, Work(station.snapshot, station.geometry))
