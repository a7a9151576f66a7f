"""Every edit once, on a model where it does something: what the contract of all edits is tried on."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import trimesh

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.damage import drop_faces
from ravine.core.model.query import EdgeSet
from ravine.core.model.records import DRAWINGS, LINKS
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import area_id
from ravine.core.model.trimesh_body import TriangleMesh

from .parts import boss_block, mesh_model, model_of, step_file


@dataclass(frozen=True)
class Sample:
    """base: which model; values: raw values for a copy of it."""

    base: str
    values: Callable[[Model], dict[str, Any]]


BOARD = """.HEADER
BOARD_FILE 3.0 Sample 2026/11/02 1
Logger MM
.END_HEADER
.BOARD_OUTLINE MCAD
1.6
0 0 0 0
0 60 0 0
0 60 40 0
0 0 40 0
0 0 0 0
.END_BOARD_OUTLINE
.DRILLED_HOLES
3.2 4 4 NPTH BOARD MTG ECAD
3.2 56 36 NPTH BOARD MTG ECAD
.END_DRILLED_HOLES
.PLACEMENT
SO14 LVL-07 U1
30 20 0 0 TOP PLACED
SO14 LVL-07 U2
45 30 0 90 TOP PLACED
CAP CP-22 C4
45 10 0.2 0 BOTTOM PLACED
.END_PLACEMENT
.HEADER
LIBRARY_FILE 3.0 Sample 2026/11/02 1
.END_HEADER
.ELECTRICAL
SO14 LVL-07 MM 1.75
0 -4.3 -2 0
0 4.3 -2 0
0 4.3 2 0
0 -4.3 2 0
0 -4.3 -2 0
.END_ELECTRICAL
.ELECTRICAL
CAP CP-22 THOU 100
0 0 0 0
0 50 0 360
.END_ELECTRICAL
"""

# --- models ------------------------------------------------------------------------------------------------------


def _boss(folder: Path) -> Model:
    return model_of(folder, boss_block(), "Boss")[0]


def _studied(folder: Path) -> Model:
    """A box of steel, held and loaded."""
    model = _boss(folder)
    model.do("set material", parts=model.nodes(), material="structural steel")
    study = model.study(parts=model.nodes(), called="Standing")
    study.fix([side(model)]).pressure([top(model)], 2)
    return model


def _on_paper(folder: Path) -> Model:
    """A boss on a block, from four sides on a sheet, with its width written."""
    model = _boss(folder)
    sheet = model.drawing(views="usual")
    sheet.dimension(sheet.views[0], [edge(model)], at=(0, -40))
    return model


def on_paper(model: Model, what: str) -> int:
    """The number of the first view, or of what is written."""
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    return min(sheet.views if what == "view" else sheet.items)


def _dimensioned(folder: Path) -> Model:
    model = _boss(folder)
    model.do("add dimension", ends=[hole(model), side(model)], called="reach")
    model.do("set value", name="wall", value="4 mm")
    return model


def _without_hole(folder: Path) -> Model:
    model = _boss(folder)
    model.do("set aside", faces=[hole(model)])
    return model


def _pair(folder: Path) -> Model:
    """A plate, a pin that stands in it, and a second pin apart."""
    model = model_of(folder, build.box(40, 30, 10), "Plate")[0]
    model.do("import", path=str(step_file(folder / "Pin.step", build.cylinder(4, 30, (20, 15, -5)), "Pin")))
    return model


def _grouped(folder: Path) -> Model:
    """Plate and pin in a group, and a copy of the pin beside it."""
    model = _pair(folder)
    model.do("move body", parts=model.nodes("Pin"), way="copy", distance="50 mm")
    model.do("group parts", parts=model.nodes()[:2], called="Both")
    return model


def _apart(folder: Path) -> Model:
    model = _pair(folder)
    model.do("spread", parts=model.nodes("Pin"), distance="20 mm")
    return model


def board_model(folder: Path) -> Model:
    """A board with a chip twice on it, and a can below."""
    model = Model()
    path = folder / "board.emn"
    path.write_text(BOARD)
    model.do("import", path=str(path))
    return model


def _tray(folder: Path) -> Model:
    """A plate of 1.5 mm with one flange."""
    model = model_of(folder, build.box(60, 40, 1.5), "Tray")[0]
    model.do("flange", edges=[rim(model, (1, 0, 0))], length="12 mm", radius="2 mm")
    return model


def _box(folder: Path) -> Model:
    """A box of 1.5 mm, open above, its corners sharp."""
    shell = build.subtract(build.box(60, 40, 20), build.box(57, 37, 30, (1.5, 1.5, 1.5)))
    return model_of(folder, shell, "Box")[0]


def foot(model: Model) -> str:
    """The lower outer edge of a box that lies furthest to the left."""
    return EdgeSet(e for e in model.edges(kind="line") if abs(e.middle[2]) < 1e-6).highest((-1, 0, 0)).id


def _laid_tray(folder: Path) -> Model:
    """With one bend laid flat."""
    model = _tray(folder)
    model.do("unbend", bends=[model.faces(kind="cylinder")[0].id])
    return model


def _rounded_tray(folder: Path) -> Model:
    model = _tray(folder)
    model.do("round", edges=[rim(model, (0, 1, 0))], size="0.5 mm")
    return model


def rim(model: Model, way: tuple[float, float, float] = (-1, 0, 0)) -> str:
    """The upper edge of a tray that lies furthest in a direction."""
    upper = [e for e in model.edges(kind="line") if abs(e.middle[2] - 1.5) < 1e-6]
    return EdgeSet(upper).highest(way).id


def _linked(folder: Path) -> Model:
    """The plate of another model, which has grown since."""
    other = model_of(folder, build.box(40, 30, 10), "Plate")[0]
    model = Model()
    model.link(other, "Plates")
    other.do("push", faces=[top_of_first(other)], distance="2 mm")
    model.geometry.put_state(other.snapshot)
    for body in other.snapshot.bodies.values():
        model.geometry.add_blob(body.shape, other.geometry.blob(body.shape))
    return model


def _newest(model: Model) -> dict[str, Any]:
    link = next(iter(model.snapshot.kept(LINKS).values()))
    (state,) = set(model.geometry.states) - {link.state}
    return {"model": link.model, "revision": 2, "title": "Plates", "state": state}


def _joined(folder: Path) -> Model:
    """The pin stands 2 mm before the plate."""
    model = _pair(folder)
    model.do("lock", parts=model.nodes("Plate"))
    ends = {"of": [end_of_pin(model)], "to": [top_of_first(model)]}
    model.do("join", **ends, kind="distance", distance="2 mm")
    return model


def _drawn(folder: Path) -> Model:
    """A block with a sketch on its top (a rectangle, a circle in it, an open line) and one upright beside it."""
    model = model_of(folder, build.box(60, 40, 10, (-30, -20, -10)), "Block")[0]
    model.do("sketch", plane="xy")
    model.do("draw", sketch=[sketch(model)], shape="rectangle", places="-20,-10 20,10")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="0,0", size="5")
    model.do("draw", sketch=[sketch(model)], shape="line", places="-28,-15 -24,15")
    model.do("draw", sketch=[sketch(model)], shape="line", places="26,-30 26,30", role="helper")
    return model


def _mesh(folder: Path) -> Model:
    box = trimesh.creation.box((20, 12, 8)).subdivide().subdivide()
    return mesh_model(folder, TriangleMesh(box.vertices, box.faces), "Scan")[0]


def _sheet(folder: Path) -> Model:
    """Two open surfaces side by side, pulled out of the edges of a block."""
    model = model_of(folder, build.box(20, 20, 20), "Block")[0]
    corner = [e for e in model.edges() if abs(e.middle[2] - 20) < 1e-6 and min(e.middle[:2]) < 1e-6]
    for found in corner:
        model.do("edges out", edges=[found.id], distance="15", along="z")
    return model


def _channel(folder: Path) -> Model:
    return model_of(folder, build.subtract(build.box(60, 20, 30, (0, -10, 0)), build.box(40, 22, 21, (10, -11, 10))),
                    "Channel")[0]  # fmt: skip


def _damaged(folder: Path) -> Model:
    return model_of(folder, drop_faces(build.box(20, 20, 20), random.Random(3)).shape, "Damaged")[0]


def _round(folder: Path) -> Model:
    """A block with one edge rounded."""
    model = model_of(folder, build.box(40, 20, 10), "Rounded")[0]
    model.do("round", edges=[model.edges(direction=(1, 0, 0)).highest().id], size="3")
    return model


def _pattern(folder: Path) -> Model:
    model = model_of(folder, build.subtract(build.box(80, 30, 10), build.cylinder(3, 12, (10, 15, -1))), "Row")[0]
    model.do("pattern", faces=[hole(model)], count=3, along="x", step="20")
    return model


def _divided(folder: Path) -> Model:
    model = _boss(folder)
    model.do("split face", faces=[top(model)], way="across", share="0.3")
    return model


def _pictured(folder: Path) -> Model:
    from PIL import Image

    model = Model()
    Image.new("RGB", (40, 20), "white").save(folder / "behind.png")
    model.do("import", path=str(folder / "behind.png"))
    return model


def _leaning(folder: Path) -> Model:
    """Two bores that should be on one axis and are not."""
    block = build.subtract(build.box(60, 40, 20), build.cylinder(5, 12, (20, 20, 10)),
                           build.cylinder(5, 12, (20.02, 20, -2)))  # fmt: skip
    return model_of(folder, block, "Bores")[0]


BASES: dict[str, Callable[[Path], Model]] = {
    "boss": _boss, "pair": _pair,
    "joined": _joined, "linked": _linked, "apart": _apart, "board": board_model, "tray": _tray, "box": _box,
    "rounded tray": _rounded_tray, "laid tray": _laid_tray,
    "grouped": _grouped, "drawn": _drawn, "mesh": _mesh, "sheet": _sheet, "round": _round,
    "pattern": _pattern, "divided": _divided, "pictured": _pictured, "leaning": _leaning, "channel": _channel,
    "damaged": _damaged, "dimensioned": _dimensioned, "without hole": _without_hole, "empty": lambda _: Model(),
    "studied": _studied,
    "paper": _on_paper,
}  # fmt: skip


# --- what is picked ----------------------------------------------------------------------------------------------


def top(model: Model) -> str:
    return model.faces(kind="plane", normal=(0, 0, 1)).highest().id


def end_of_pin(model: Model) -> str:
    return model.faces(model.bodies()[1], kind="plane").highest((0, 0, -1)).id


def top_of_first(model: Model) -> str:
    """Of the part that came in first."""
    return model.faces(model.bodies()[0], kind="plane", normal=(0, 0, 1)).highest().id


def side(model: Model) -> str:
    return model.faces(kind="plane", normal=(1, 0, 0)).highest((1, 0, 0)).id


def hole(model: Model) -> str:
    return min(model.faces(kind="cylinder"), key=lambda f: f.radius or 0).id


def edge(model: Model) -> str:
    return model.edges(kind="line", direction=(1, 0, 0)).highest((0, 1, 1)).id


def sketch(model: Model) -> str:
    return f"s{max(model.snapshot.sketches)}"


def curve(model: Model, kind: str, last: bool = False) -> str:
    found = [c for c in model.snapshot.sketches[max(model.snapshot.sketches)].curves.values() if c.kind == kind]
    return f"c{found[-1 if last else 0].id}"


def open_line(model: Model) -> str:
    of = model.snapshot.sketches[max(model.snapshot.sketches)]
    return next(f"c{c.id}" for c in of.curves.values() if c.kind == "line" and of.places(c)[0] == (-28.0, -15.0))


def corner(model: Model) -> str:
    of = model.snapshot.sketches[max(model.snapshot.sketches)]
    return next(f"p{n}" for n, at in of.points.items() if at == (20.0, 10.0))


def area(model: Model, which: Callable[..., Any] = max) -> str:
    of = model.snapshot.sketches[max(model.snapshot.sketches)]
    ring = which(regions_of_sketch(of), key=lambda r: r.amount)
    return area_id(of.id, ring.inside)


def _edit_of(base: str, **values: Any) -> Sample:
    """Values that are functions are asked of the model."""
    return Sample(base, lambda m: {k: v(m) if callable(v) else v for k, v in values.items()})


def node(model: Model) -> list[str]:
    return [model.parts()[0].id]


def last_node(model: Model) -> list[str]:
    return [model.parts()[-1].id]


def _lying(model: Model) -> dict[str, Any]:
    """The hole lies level once the part is printed on its side."""
    model.do("set print", parts=node(model), machine="Desk printer", down=[side(model)])
    return {"holes": [hole(model)]}


def _lofted(model: Model) -> dict[str, Any]:
    first = area(model, min)
    model.do("sketch", plane="xy", offset="30")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="0,0", size="8")
    return {"areas": [first, area(model)]}


def _swept(model: Model) -> dict[str, Any]:
    model.do("sketch", plane="xz")
    model.do("draw", sketch=[sketch(model)], shape="line", places="0,0 0,25")
    way = curve(model, "line")
    model.do("sketch", plane="xy")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="0,0", size="4")
    return {"areas": [area(model)], "along": [way]}


def _wound(model: Model) -> dict[str, Any]:
    model.do("sketch", plane="xz")
    model.do("draw", sketch=[sketch(model)], shape="line", places="0,-40 0,40", role="helper")
    axis = curve(model, "line")
    model.do("draw", sketch=[sketch(model)], shape="circle", places="15,20", size="1")
    return {"areas": [area(model)], "axis": [axis], "height": "9", "pitch": "3", "way": "apart"}


def _long_run(model: Model) -> dict[str, Any]:
    places = " ".join(f"{x / 10},{(x % 3) * 0.001 + 12}" for x in range(0, 60))
    model.do("draw", sketch=[sketch(model)], shape="line", places=places)
    of = model.snapshot.sketches[max(model.snapshot.sketches)]
    run = [c.id for c in of.curves.values() if c.kind == "line" and of.places(c)[0][1] > 11.5]
    return {"curves": [f"c{n}" for n in run], "deviation": "0.05"}


def _short(model: Model) -> dict[str, Any]:
    model.do("draw", sketch=[sketch(model)], shape="line", places="10,0 15,0")
    return {"curve": [curve(model, "line", last=True)], "at": "15,0"}


def _ribbed(model: Model) -> dict[str, Any]:
    model.do("sketch", plane="xz")
    model.do("draw", sketch=[sketch(model)], shape="line", places="10,25 30,10")
    return {"curve": [curve(model, "line")], "thickness": "2"}


def _filled(model: Model) -> dict[str, Any]:
    loop = [e.id for e in model.edges() if abs(e.middle[2] - 22) < 1e-6 and e.radius and abs(e.radius - 4) < 1e-6]
    return {"edges": loop}


def _round_face(model: Model) -> list[str]:
    return [model.faces(kind="cylinder")[0].id]


def _bores(model: Model) -> list[str]:
    return [f.id for f in model.faces(kind="cylinder")[:2]]


def _surface_nodes(model: Model) -> list[str]:
    return [p.id for p in model.parts(kind="surface")]


def _surface_face(model: Model) -> list[str]:
    return [model.faces(model.parts(kind="surface")[0].body)[0].id]


def _halves(model: Model) -> dict[str, Any]:
    """A second block like the first, whose face is split the same way, to be merged."""
    at = max(f.centroid[2] for f in model.faces(kind="plane", normal=(0, 0, 1)))
    pieces = [f for f in model.faces(kind="plane", normal=(0, 0, 1)) if abs(f.centroid[2] - at) < 1e-6]
    return {"parts": [f.id for f in pieces]}


SAMPLES: dict[str, Sample] = {
    "extrude": _edit_of("drawn", areas=lambda m: [area(m)], distance="8"),
    "revolve": _edit_of("drawn", areas=lambda m: [area(m)], axis=lambda m: [curve(m, "line", last=True)], angle="90°"),
    "draw": _edit_of("drawn", sketch=lambda m: [sketch(m)], shape="line", places="0,12 10,12"),
    "wind": Sample("empty", _wound),
    "push": _edit_of("boss", faces=lambda m: [top(m)], distance="3"),
    "loft": Sample("drawn", _lofted),
    "sweep": Sample("empty", _swept),
    "imprint": _edit_of("drawn", areas=lambda m: [area(m)]),
    "add dimension": _edit_of("boss", ends=lambda m: [hole(m), side(m)]),
    "tie": _edit_of("boss", ends=lambda m: [hole(m), side(m)]),
    "drive": _edit_of("dimensioned", dimension="reach", value="33"),
    "set value": _edit_of("dimensioned", name="reach", value="33"),
    "set values": _edit_of("dimensioned", rows="reach = 2*wall + 25 mm; wall = 3"),
    "keep variants": _edit_of("dimensioned", rows=[{"wall": "3"}, {"wall": "4", "reach": "wall*10"}]),
    "forget value": _edit_of("dimensioned", name="wall"),
    "place dimension": _edit_of("dimensioned", dimension="reach", off=[0, 0, 12.5]),
    "drop dimension": _edit_of("dimensioned", dimension="reach"),
    "feature size": _edit_of("boss", faces=lambda m: [hole(m)], size="diameter", value="9"),
    "set aside": _edit_of("boss", faces=lambda m: [hole(m)]),
    "put back": _edit_of("without hole", what="hole-1"),
    "forget aside": _edit_of("without hole", what="hole-1"),
    "plant": _edit_of("pair", what=last_node, face=lambda m: [top_of_first(m)], across="12", up="10"),
    "lift out": _edit_of("boss", faces=lambda m: [hole(m)]),
    "resize": _edit_of("boss", faces=lambda m: [hole(m)], size="9"),
    "dimension": _edit_of("drawn", on=lambda m: [curve(m, "circle")], kind="radius", size="6"),
    "move faces": _edit_of("boss", faces=lambda m: [hole(m)], along="x", distance="2"),
    "keep": _edit_of("drawn", on=lambda m: [open_line(m)], rule="upright"),
    "tilt": _edit_of("boss", faces=lambda m: [side(m)], angle="2°",
                     axis=lambda m: [m.edges(kind="line", direction=(0, 1, 0)).highest((1, 0, -1)).id]),
    "drag": _edit_of("drawn", what=lambda m: [corner(m)], to="24,12"),
    "round": _edit_of("boss", edges=lambda m: [edge(m)], size="1"),
    "extend": Sample("drawn", _short),
    "section curves": _edit_of("drawn", sketches=lambda m: [sketch(m)]),
    "round corners": _edit_of("drawn", corners=lambda m: [corner(m)], radius="2"),
    "split curve": _edit_of("drawn", curve=lambda m: [open_line(m)], at="-26,0"),
    "trim": _edit_of("drawn", curve=lambda m: [curve(m, "line")], at="0,-10"),
    "chamfer": _edit_of("boss", edges=lambda m: [edge(m)], size="1"),
    "set off": _edit_of("drawn", curve=lambda m: [curve(m, "circle")], distance="1"),
    "remove": _edit_of("boss", faces=lambda m: [hole(m)]),
    "copy curves": _edit_of("drawn", curves=lambda m: [open_line(m)], way="row", step="0,2", count=3),
    "recount": _edit_of("pattern", face=lambda m: [hole(m)], count=2),
    "slot": _edit_of("boss", faces=lambda m: [hole(m)], distance="4", along="x"),
    "move curves": _edit_of("drawn", curves=lambda m: [open_line(m)], step="1,1"),
    "pattern": _edit_of("boss", faces=lambda m: [hole(m)], count=1, along="x", step="6", rows=2, pitch="13"),
    "simplify curves": Sample("drawn", _long_run),
    "rib": Sample("channel", _ribbed),
    "pattern around": _edit_of("pattern", faces=lambda m: [hole(m)], count=2, angle="6°",
                               axis=lambda m: [m.edges(kind="line", direction=(0, 0, 1))[0].id]),
    "move body": _edit_of("pair", parts=node, along="x", distance="5"),
    "round over": Sample("drawn", lambda m: {"faces": [side(m)]}),
    "give back": _edit_of("round", face=_round_face, share="0.3"),
    "combine": _edit_of("pair", part=node, tools=last_node, way="cut"),
    "twist": _edit_of("drawn", face=lambda m: [top(m)], angle="10°"),
    "split": _edit_of("boss", parts=node, along="x", height="12"),
    "hollow": _edit_of("drawn", faces=lambda m: [top(m)], thickness="2"),
    "repeat parts": _edit_of("pair", parts=last_node, count=3, along="x", step="12"),
    "drill": _edit_of("drawn", face=lambda m: [top(m)], across="25", up="15", kind="clearance", screw="M3"),
    "picture": Sample("pictured", lambda m: {"sketch": [sketch(m)], "what": "fade", "strength": "40 %"}),
    "repeat parts around": _edit_of("pair", parts=last_node, count=3,
                                    axis=lambda m: [m.edges(kind="line", direction=(0, 0, 1))[0].id]),
    "mirror": _edit_of("boss", parts=node, along="x", height="0", result="apart"),
    "sketch": _edit_of("boss", on=lambda m: [top(m)]),
    "scale": _edit_of("boss", parts=node, factor="1.5"),
    "letter": _edit_of("drawn", face=lambda m: [top(m)], words="R7", height="6"),
    "thicken": _edit_of("boss", faces=lambda m: [side(m)], thickness="2", way="apart"),
    "split face": _edit_of("boss", faces=lambda m: [side(m)], way="across", share="0.4"),
    "merge": Sample("divided", _halves),
    "erase": _edit_of("drawn", what=lambda m: [open_line(m)]),
    "project": _edit_of("drawn", edges=lambda m: [edge(m)], sketch=lambda m: [sketch(m)]),
    "edges out": _edit_of("boss", edges=lambda m: [edge(m)], distance="5", along="z"),
    "fill": Sample("boss", _filled),
    "turn over": _edit_of("sheet", faces=_surface_face),
    "line up": _edit_of("leaning", faces=_bores),
    "set material": _edit_of("boss", parts=node, material="ABS"),
    "set finish": _edit_of("boss", parts=node, surface="oiled oak"),
    "set face finish": _edit_of("boss", faces=lambda m: [top(m)], surface="oiled oak"),
    "set finish colour": _edit_of("boss", parts=node, colour="#336699"),
    "set face finish colour": _edit_of("boss", faces=lambda m: [top(m)], colour="#336699"),
    "mesh to solid": _edit_of("mesh", parts=node),
    "recognise": _edit_of("mesh", parts=node),
    "rename": _edit_of("boss", part=node, to="Other name"),
    "mend": _edit_of("damaged", parts=node),
    "stitch": _edit_of("sheet", parts=_surface_nodes, tolerance="0.1"),
    "decimate": _edit_of("mesh", parts=node, share="50 %"),
    "smooth": _edit_of("mesh", parts=node, rounds=2),
    "lock": _edit_of("boss", parts=node),
    "group parts": _edit_of("pair", parts=lambda m: m.nodes(), called="Both"),
    "into group": _edit_of("grouped", parts=lambda m: m.nodes("Plate")),
    "make independent": _edit_of("grouped", parts=lambda m: m.nodes("Pin")[:1]),
    "accept finding": _edit_of("pair", note="a press fit", key=lambda m: f"overlap {' '.join(sorted(m.nodes()))}"),
    "set part data": _edit_of("boss", parts=node, what="part_number", value="R-100"),
    "number parts": _edit_of("boss"),
    "take from the shelf": _edit_of("boss", item="iso4762-m5x16", on=lambda m: [hole(m)]),
    "join": _edit_of("pair", of=lambda m: [end_of_pin(m)], to=lambda m: [top_of_first(m)]),
    "set joint": _edit_of("joined", joint="J1", distance="5 mm"),
    "rest joint": _edit_of("joined", joint="J1"),
    "drop joint": _edit_of("joined", joint="J1"),
    "move free": _edit_of("joined", part=lambda m: m.nodes("Pin"), motion="slide", distance="4 mm"),
    "set tolerance": _edit_of("dimensioned", called="reach", text="±0.1"),
    "stand in": _edit_of("board", component=lambda m: m.nodes("U1 SO14"), item="terminal-5.08x4"),
    "set print": _edit_of("boss", parts=node, machine="Resin printer", best="1"),
    "save print": _edit_of("boss", parts=node),
    "teardrop": Sample("boss", _lying),
    "package": _edit_of("boss", parts=node, revision="B"),
    "share": _edit_of("boss", parts=node, inside="outside"),
    "begin sheet": _edit_of("boss", parts=node, size="A4"),
    "set sheet": _edit_of("paper", entry="number", value="R-7"),
    "drop sheet": _edit_of("paper"),
    "propose sizes": _edit_of("paper"),
    "save drawing": _edit_of("paper", format="dxf"),
    "add view": _edit_of("paper", beside=lambda m: on_paper(m, "view"), side="right"),
    "cut view": _edit_of("paper", view=lambda m: on_paper(m, "view"), toward="left"),
    "detail view": _edit_of("paper", view=lambda m: on_paper(m, "view"), middle="0,0", radius="8 mm"),
    "set view": _edit_of("paper", view=lambda m: on_paper(m, "view"), scale="1/2", hidden="yes"),
    "move on sheet": _edit_of("paper", things=lambda m: [on_paper(m, "view")], step="5,-3"),
    "drop from sheet": _edit_of("paper", things=lambda m: [on_paper(m, "item")]),
    "write on sheet": _edit_of("paper", kind="hole", on=lambda m: [hole(m)], view=lambda m: on_paper(m, "view")),
    "set written": _edit_of("paper", item=lambda m: on_paper(m, "item"), words="tolerance=H7"),
    "begin study": _edit_of("studied", parts=node),
    "drop study": _edit_of("studied"),
    "drop from study": _edit_of("studied", called="Load 1"),
    "hold": _edit_of("studied", on=lambda m: [hole(m)], kind="cylindrical"),
    "load": _edit_of("studied", on=lambda m: [hole(m)], kind="bearing", x="50 N"),
    "let touch": _edit_of("studied", kind="sliding"),
    "set elements": _edit_of("studied", size="3 mm"),
    "make tube": _edit_of("empty", upper="90 mm"),
    "make transition": _edit_of("empty", height="70 mm"),
    "bend in steps": _edit_of("tray", bends=lambda m: [m.faces(kind="cylinder")[0].id], steps=4),
    "unbend": _edit_of("tray", bends=lambda m: [m.faces(kind="cylinder")[0].id]),
    "bend again": _edit_of("laid tray", on=lambda m: [f.id for f in m.faces(kind="plane") if f.normal[2] > 1 - 1e-9]),
    "set bend": _edit_of("tray", bends=lambda m: [m.faces(kind="cylinder")[0].id], radius="3 mm"),
    "slit": _edit_of("tray", ends=lambda m: [rim(m)]),
    "cover": _edit_of("boss", faces=lambda m: [side(m)], distance="1 mm"),
    "press": _edit_of("tray", face=lambda m: [m.faces(normal=(0, 0, 1)).largest().id], size="12 mm"),
    "cut flat": _edit_of("tray", on=node, at=[30, 20], size="6 mm"),
    "rip": _edit_of("box", edges=lambda m: [m.edges(kind="line", direction=(0, 0, 1)).longest().id]),
    "bend edge": _edit_of("box", edges=lambda m: [foot(m)], radius="2 mm"),
    "mend sheet": _edit_of("rounded tray", on=node),
    "save flat": _edit_of("tray", on=node),
    "make sheet": _edit_of("tray", on=node, rule="din 6935"),
    "flange": _edit_of("tray", edges=lambda m: [rim(m)], length="15 mm"),
    "spread": _edit_of("pair", parts=lambda m: m.nodes("Pin"), distance="20"),
    "gather": _edit_of("apart", called="Exploded"),
    "link in": _edit_of("linked", source=_newest),
    "take newer": _edit_of("linked", part=node, source=_newest),
    "cut link": _edit_of("linked", part=node),
    "name set": _edit_of("boss", things=lambda m: [top(m)], called="Tops"),
    "replace": _edit_of("pair", part=node, newer=last_node, near="1000"),
    "export": _edit_of("boss", parts=node, format="stl"),
    "save sketch": _edit_of("drawn", sketch=lambda m: [sketch(m)], format="svg"),
    "check up": _edit_of("boss", parts=node),
    "save section": _edit_of("boss", at="x 10"),
    "delete body": _edit_of("pair", parts=last_node),
}  # fmt: skip
