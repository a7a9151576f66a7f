"""What drawings and studies of strength refuse, and joints and dimensions on solids."""

from __future__ import annotations

import pytest

from tests.samples import edge, end_of_pin, hole, last_node, node, on_paper, side, top, top_of_first

from .table import Row, done, no, tried


def view(m):
    return on_paper(m, "view")


def item(m):
    return on_paper(m, "item")


def write(words, kind, /, *first, **values):
    return no("write on sheet", "paper", words, *first, **{"kind": kind, "view": view, **values})


def upright_edges(m):
    return [e.id for e in m.edges(kind="line", direction=(0, 0, 1))[:2]]


def rim(m):
    return m.edges(kind="circle").highest().id


def corner_point(m):
    return m.vertices(m.bodies()[0])[0].id


SHEETS = [
    no("begin sheet", "boss", "one of", size="A9", of="size"),
    no("begin sheet", "paper", "there is a sheet Sheet 1 already", called="Sheet 1", of="called"),
    no("begin sheet", "empty", "there is nothing to draw"),
    no("begin sheet", "boss", "letters", called="x" * 500, of="called"),
    no("set sheet", "boss", "there is no sheet yet", entry="number", value="1", of="sheet"),
    no("set sheet", "paper", "one of", size="A9", of="size"),
    no("set sheet", "paper", "one of", entry="colour", value="1", of="entry"),
    no(
        "set sheet",
        "paper",
        "there is a sheet Second already",
        done("begin sheet", called="Second"),
        sheet="Sheet 1",
        called="Second",
        of="called",
    ),
    no("drop sheet", "boss", "there is no sheet yet", of="sheet"),
    no("drop sheet", "paper", "there is no sheet", sheet="Nowhere", of="sheet"),
    no("propose sizes", "boss", "there is no sheet yet", of="sheet"),
    no(
        "propose sizes",
        "paper",
        "there is no view on this sheet yet",
        done("begin sheet", called="Bare", views="none"),
        sheet="Bare",
        of="sheet",
    ),
    no("save drawing", "boss", "there is no sheet yet", of="sheet"),
    no("save drawing", "paper", "one of", format="docx", of="format"),
]
VIEWS = [
    no("add view", "paper", "one of", direction="askew", of="direction"),
    no("add view", "pair", "pick one part, or a flat face of it", done("begin sheet"), direction="flat", of="parts"),
    no("take from the shelf", "boss", "say how long", item="0", on=hole, of="item"),
    no("add view", "paper", "one of", beside=view, side="inside", of="side"),
    no("add view", "paper", "nothing is drawn apart under the name", apart="Exploded", of="apart"),
    no("add view", "paper", "Sheet 1 has no view 999; it has", beside=999, of="beside"),
    no("add view", "paper", "scale", scale="0", of="scale"),
    no("cut view", "paper", "one of", view=view, toward="inside", of="toward"),
    no("cut view", "paper", "two corners or more", view=view, line=[[5, 5], [5, 5]], of="line"),
    no(
        "cut view",
        "paper",
        "a section is taken in a view",
        done("detail view", view=view, middle=[[0, 0]], radius="8"),
        view=lambda m: max(s for sheet in _sheets(m) for s in sheet.views),
        of="view",
    ),
    no("detail view", "paper", "radius", view=view, middle=[[0, 0]], radius="0", of="radius"),
    no(
        "detail view",
        "paper",
        "not from another detail",
        done("detail view", view=view, middle=[[0, 0]], radius="8"),
        middle=[[0, 0]],
        radius="2",
        view=lambda m: max(s for sheet in _sheets(m) for s in sheet.views),
        of="view",
    ),
    no("detail view", "paper", "still empty", view=view, of="middle"),
    no("set view", "paper", "scale", view=view, scale="1e-9", of="scale"),
    no("set view", "paper", "Sheet 1 has no view 999; it has", view=999),
    no("set view", "paper", "a break reaches from one place", view=view, along="x", low="10", high="4", of="high"),
    no("move on sheet", "paper", "has nothing with the number", things=[999], step=[[1, 1]], of="things"),
    no("move on sheet", "paper", "that lies beyond the paper", things=lambda m: [view(m)], step=[[9000, 0]], of="step"),
    no("move on sheet", "paper", "beyond a kilometre", things=lambda m: [view(m)], step=[[9e6, 0]], of="step"),
    no("drop from sheet", "paper", "has nothing with the number", things=[999], of="things"),
    no("set written", "paper", "has nothing written with the number", item=999, words={"text": "x"}, of="item"),
]
WRITTEN = [
    write("one of", "poem", of="kind"),
    write("between two straight edges", "angle", on=rim),
    write("the two are parallel", "angle", on=upright_edges),
    write("there is no tolerance of", "tolerance", on=edge, words={"characteristic": "prettiness", "value": "0.1"}),
    write("there is no odd weld here", "weld", on=edge, words={"joint": "odd"}),
    write("three round holes or more", "bolt circle", on=hole),
    write("pick the origin first", "ordinate", on=corner_point),
    write("written on nothing yet; pick what it is about", "balloon"),
    write("written on nothing yet", "hole"),
    write("written on nothing yet", "thread"),
    write("written on nothing yet", "distance"),
    write("is not round; a thread is on a shaft or in a hole", "thread", on=edge),
    write("is not round; a thread is on a shaft or in a hole", "thread", on=side),
    write("does not slope", "chamfer", on=edge),
    write("a bend table belongs to the view of a flat", "bend table"),
    write("this note says nothing", "note", words={}),
    write("Sheet 1 has no view 999", "note", view=999, words={"text": "x"}),
    write("words are texts by name", "note", words={f"n{k}": "x" for k in range(70)}),
]
STUDIES = [
    no("begin study", "boss", "say what it is made of first: Boss", parts=node, of="parts"),
    no("begin study", "studied", "there is a study Standing already", parts=node, called="Standing", of="called"),
    no("begin study", "mesh", "only solids are simulated", parts=node, of="parts"),
    no("drop study", "boss", "no study is begun yet", of="study"),
    no("drop study", "studied", "there is no study Lying; there is Standing", study="Lying", of="study"),
    no("hold", "studied", "still empty", of="on"),
    no("hold", "studied", "is not cylindrical", on=top, kind="cylindrical", of="on"),
    no("hold", "studied", "in which directions it is held", on=top, kind="displacement", of="x"),
    no("hold", "studied", "has Support 1 already", on=top, called="Support 1", of="called"),
    no("hold", "studied", "one of", on=top, kind="floating", of="kind"),
    no("load", "studied", "it has no direction yet", on=top, kind="force", of="x"),
    no("load", "studied", "pick the faces that it acts on", kind="force", z="-5 N", of="on"),
    no("load", "studied", "say how much: amount is missing", on=top, kind="pressure", of="amount"),
    no("load", "studied", "is no", on=top, kind="force", z="5 parsec", of="z"),
    no("load", "studied", "no study Lying", on=top, kind="force", z="5 N", study="Lying", of="study"),
    no("drop from study", "studied", "Standing has no Load 9; it has Support 1, Load 1", called="Load 9", of="called"),
    no("let touch", "studied", "pick two parts of the study", kind="sliding", parts=node, of="parts"),
    no("let touch", "studied", "one of", kind="welded", of="kind"),
    no("set elements", "studied", "size", size="0", of="size"),
]
JOINTS = [
    Row("join", "pair", "pick what it is joined to as well", {"of": end_of_pin, "kind": "parallel"}, field="to"),
    Row(
        "join",
        "joined",
        "there is a joint called J1 already",
        {"of": end_of_pin, "to": top_of_first, "called": "J1"},
        field="called",
    ),
    Row(
        "join",
        "pair",
        "a corner has no direction, so it is parallel to nothing",
        {"of": lambda m: m.vertices(m.bodies()[1])[0].id, "to": top_of_first, "kind": "parallel"},
        field="of",
    ),
    Row(
        "join",
        "pair",
        "a corner has no direction, so there is no angle to it",
        {"of": lambda m: m.vertices(m.bodies()[1])[0].id, "to": top_of_first, "kind": "angle", "angle": "30°"},
        field="of",
    ),
    Row(
        "join",
        "pair",
        "tangent are a round face and a flat one",
        {"of": end_of_pin, "to": top_of_first, "kind": "tangent"},
        field="of",
    ),
    Row("join", "pair", "one of", {"of": end_of_pin, "to": top_of_first, "kind": "glued"}, field="kind"),
    no("set joint", "joined", "there is no joint", joint="J9", distance="1"),
    no("rest joint", "joined", "there is no joint", joint="J9"),
    no("drop joint", "joined", "there is no joint", joint="J9"),
    no(
        "move free",
        "joined",
        "nothing would move; give how far",
        part=lambda m: m.nodes("Pin"),
        motion="slide",
        distance="0",
        of="distance",
    ),
    no("move free", "joined", "locked", part=lambda m: m.nodes("Plate"), motion="slide", distance="4"),
]
DIMENSIONS = [
    no("add dimension", "boss", "still empty", of="ends"),
    no("add dimension", "boss", "the two are parallel, so there is no angle", way="angle",
       ends=lambda m: [f.id for f in m.faces(kind="plane", normal=(1, 0, 0))[:1]] + [
           f.id for f in m.faces(kind="plane", normal=(-1, 0, 0))[:1]]),
    no("add dimension", "boss", "an angle is that between two flat faces", way="angle", ends=lambda m: [hole(m),
       side(m)]),
    no("drive", "dimensioned", "there is no dimension breadth; there is reach", dimension="breadth", value="3"),
    no("drive", "dimensioned", "still empty", dimension="reach", of="value"),
    no("set value", "dimensioned", "leads back to itself", called="wall", value="wall * 2"),
    no("set tolerance", "dimensioned", "no value is called “breadth”; there is reach, wall", called="breadth",
       text="±0.1"),
    no("drop dimension", "dimensioned", "there is no dimension breadth", dimension="breadth"),
    no("forget value", "dimensioned", "no value is called “breadth”", called="breadth"),
    no("feature size", "boss", "one of", faces=hole, size="depth of the web", value="3", of="size"),
    no("set aside", "drawn", "belongs to no feature that could be set aside", faces=top, of="faces"),
    no("put back", "without hole", "nothing that is set aside is called “hole-9”; there is hole-1", what=["hole-9"]),
    no("forget aside", "without hole", "nothing that is set aside is called “hole-9”", what=["hole-9"]),
    no("lift out", "drawn", "belongs to no feature that could be lifted out", faces=top),
    no("recount", "pattern", "its step is a length", face=hole, count=3, angle="10°", of="angle"),
    no("pattern", "boss", "the step between the rows is still empty", faces=hole, count=1, along="x", step="6", rows=2,
       of="pitch"),
    no("plant", "pair", "takes at most 1 part; 2 are picked", what=lambda m: m.nodes()[:2],
       face=top_of_first),
    no("gather", "apart", "nothing is drawn apart under the name", called="Other", of="called"),
    no("stand in", "board", "pick one part, not a group", component=lambda m: m.nodes("U1 SO14"),
       by=lambda m: f"n{m.snapshot.roots[0]}", of="by"),
    no("number parts", "empty", "there is no part to number"),
    no("package", "boss", "revision", parts=node, revision="x" * 999, of="revision"),
    no("save print", "pair", "one of", parts=last_node, format="txt", of="format"),
    no("set print", "boss", "one of", parts=node, machine="Resin printer", best="99", of="best"),
    no("teardrop", "boss", "this edit takes a round face", holes=top, of="holes"),
    no("teardrop", "boss", "a roof leans between 10° and 80°", holes=hole, angle="180°", of="angle"),
    no("teardrop", "boss", "stands upright, so it needs no roof", holes=hole, of="holes"),
]  # fmt: skip


def _sheets(m):
    from ravine.core.model.records import DRAWINGS

    return m.snapshot.kept(DRAWINGS).values()


@pytest.mark.parametrize("row", SHEETS + VIEWS + WRITTEN + STUDIES + JOINTS + DIMENSIONS, ids=str)
def test_refused(row: Row) -> None:
    tried(row)
