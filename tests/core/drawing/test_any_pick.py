"""Whatever is picked for whatever is written: it is written, or refused in words; nothing else comes."""

import itertools

import pytest

from ravine.core import Model
from ravine.core.errors import EditError, UnknownId
from ravine.core.model.drawing_sheet import ITEM_KINDS
from ravine.core.model.records import DRAWINGS
from tests.samples import BASES, hole, on_paper

WORDS = {"note": {"text": "Break all edges"}, "thread": {"thread": "M8"}}
NOT_HERE = ("chamfer", "bolt circle", "bend table")  # this part has none
ODD = ("", "f999999", "nonsense", "e1@n999999")


@pytest.fixture(scope="module")
def paper(tmp_path_factory):
    return BASES["paper"](tmp_path_factory.mktemp("paper"))


@pytest.fixture(scope="module")
def picks(paper):
    """One of everything that can be picked on a part, and pairs and threes of them."""
    body = paper.bodies()[0]
    flat, round_ = paper.faces(kind="plane").largest().id, hole(paper)
    line, other = (paper.edges(kind="line", direction=d)[0].id for d in ((1, 0, 0), (0, 1, 0)))
    circle, spot = paper.edges(kind="circle")[0].id, paper.vertices(body)[0].id
    things = {"flat": flat, "round": round_, "line": line, "other": other, "circle": circle, "corner": spot,
              "part": paper.parts()[0].id}  # fmt: skip
    return [[], *([v] for v in things.values()), *map(list, itertools.combinations(things.values(), 2)),
            [line, other, spot], [circle, circle, circle], *([o] for o in ODD)]  # fmt: skip


@pytest.mark.parametrize("kind", ITEM_KINDS)
def test_it_is_written_or_refused_in_words(paper, picks, kind):
    (sheet,) = paper.snapshot.kept(DRAWINGS).values()
    written, from_above = 0, next(v.id for v in sheet.views.values() if v.eye == (0.0, 0.0, 1.0))
    for on, view in itertools.product(picks, (on_paper(paper, "view"), from_above)):
        model = Model(snapshot=paper.snapshot, geometry=paper.geometry)
        reason = None
        try:
            change = model.do("write on sheet", kind=kind, view=view, on=on, words=WORDS.get(kind, {}))
        except (EditError, UnknownId) as told:
            reason = getattr(told, "reason", str(told))
        if reason is not None:
            assert 15 < len(reason) < 400, (on, reason)
            assert model.snapshot is paper.snapshot
            continue
        written += 1
        (sheet,) = model.snapshot.kept(DRAWINGS).values()
        assert len(sheet.items) == 2, on
        (svg,) = model.do("save drawing", format="svg").files.values()
        assert svg.count(b"<path") + svg.count(b"<text") > 3
        assert not [w for w in change.warnings if "Traceback" in w]
    assert bool(written) is (kind not in NOT_HERE)


@pytest.mark.parametrize("kind", ITEM_KINDS)
def test_what_it_is_about_may_go_and_the_sheet_is_drawn_all_the_same(paper, picks, kind, tmp_path):
    """After the part is gone, what is written on it tells so; it breaks nothing."""
    view = on_paper(paper, "view")
    model = Model(snapshot=paper.snapshot, geometry=paper.geometry)
    for on in picks[1:8]:
        try:
            model.do("write on sheet", kind=kind, view=view, on=on)
            break
        except EditError:
            continue
    model.do("delete body", parts=[model.parts()[0].id])
    change = model.do("save drawing", format="pdf")
    (pdf,) = change.files.values()
    assert pdf.startswith(b"%PDF-")
    assert change.warnings, "what lost its part is told"
