"""Sheet metal: how long a part with many bends takes, and how many generated parts read and unfold as their formulas
say, as they are and as other hands leave them."""

from __future__ import annotations

import math
import random
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from tests.core.test_sheet import bracket
from tests.parts import model_of, step_file
from tests.trials.variants import VARIANTS

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape, ShapeIndex
from ravine.core.local.topology import SolidTopology
from ravine.core.model.query import EdgeSet
from ravine.core.sheet.reading import read_sheet
from ravine.core.sheet.unfold import unfold

K = 0.44
SPLINED = VARIANTS["splines"].shape


def zigzag(bends: int, t: float = 1.0, r: float = 1.5, leg: float = 12.0, wide: float = 30.0) -> tuple[Shape, float]:
    """A profile bent up and down in turn, and its flat length."""
    at, way = (0.0, 0.0), 0.0
    left, right, middles_left, middles_right = [], [], [], []

    def side(place: tuple[float, float], turn: float, off: float) -> tuple[float, float]:
        return place[0] - off * math.sin(turn), place[1] + off * math.cos(turn)

    left.append(side(at, way, t)), right.append(side(at, way, 0.0))
    for k in range(bends + 1):
        at = (at[0] + leg * math.cos(way), at[1] + leg * math.sin(way))
        left.append(side(at, way, t)), right.append(side(at, way, 0.0))
        middles_left.append(None), middles_right.append(None)
        if k == bends:
            break
        # away from the straight line and back, so that the profile does not meet itself
        turn = math.pi / 2 if k % 4 in (0, 3) else -math.pi / 2
        centre = side(at, way, t + r if turn > 0 else -r)
        radii = (r, r + t) if turn > 0 else (r + t, r)
        start = way - math.copysign(math.pi / 2, turn)
        for rows, middles, radius in ((left, middles_left, radii[0]), (right, middles_right, radii[1])):
            spot = [(centre[0] + radius * math.cos(start + s * turn), centre[1] + radius * math.sin(start + s * turn))
                    for s in (0.5, 1.0)]  # fmt: skip
            middles.append(spot[0])
            rows.append(spot[1])
        way += turn
        at = side(right[-1], way, 0.0)
    ring = right + left[::-1]
    bulges = [*middles_right, None, *middles_left[::-1], None]
    face = build.outline(
        [(x, 0, z) for x, z in ring], [None if m is None else (m[0], 0, m[1]) for m in bulges]
    )  # fmt: skip
    length = (bends + 1) * leg + bends * math.pi / 2 * (r + K * t)
    return build.extrude(face, (0, wide, 0)), length


def timed_zigzag(bends: int) -> None:
    shape, length = zigzag(bends)
    reads, lays = [], []
    for _ in range(5):
        topology = SolidTopology(ShapeIndex(shape))
        began = time.perf_counter()
        reading = read_sheet(topology)
        reads.append(time.perf_counter() - began)
        began = time.perf_counter()
        flat = unfold(reading)
        lays.append(time.perf_counter() - began)
    off = abs(max(flat.size) - length) / length
    read, laid = (1000 * statistics.median(rows) for rows in (reads, lays))
    told = f"read in {read:.0f} ms, laid flat in {laid:.0f} ms; {len(flat.bends)} found, length off {off:.1e}"
    print(f"  {bends} bends: {told}")


def _part(folder: Path, rng: random.Random, number: int) -> tuple[Model, float]:
    """A plate with flanges of any kind on some of its edges, and the area of its flat by the formula."""
    t = rng.choice((0.8, 1.0, 1.5, 2.0, 3.0))
    x, y = rng.uniform(60, 160), rng.uniform(50, 120)
    model = model_of(folder, build.box(x, y, t), f"Part {number}")[0]
    area = x * y
    upper = EdgeSet(e for e in model.edges(kind="line") if abs(e.middle[2] - t) < 1e-6)
    ways = rng.sample([((1, 0, 0), y), ((-1, 0, 0), y), ((0, 1, 0), x), ((0, -1, 0), x)], rng.randint(1, 4))
    hemmed = False
    edges = [(upper.highest(way).id, long) for way, long in ways]
    for edge, long in edges:
        r = t * rng.uniform(0.6, 2.5)
        kind = rng.choice(("flange", "flange", "part", "hem", "step"))
        if kind == "hem" and hemmed:
            kind = "flange"  # two of them would lie in one another
        hemmed = hemmed or kind == "hem"
        length = rng.uniform(12, 30) + 3 * (r + t)
        if kind == "hem":
            model.do("flange", edges=[edge], shape="hem", length=length, radius=r, counted="tangent")
            area += long * (math.pi * (r + K * t) + length)
        elif kind == "step":
            rise = 2 * r + t + rng.uniform(2, 10)
            model.do("flange", edges=[edge], shape="step", length=rise, radius=r, beyond=length)
            area += long * (math.pi * (r + K * t) + rise - 2 * r - t + length)
        else:
            phi = math.radians(rng.uniform(30, 90))
            first = rng.uniform(2 * t, long / 4) if kind == "part" else 0.0
            model.do("flange", edges=[edge], length=length, radius=r, angle=math.degrees(phi), first=first,
                     counted="tangent")  # fmt: skip
            area += (long - first) * (phi * (r + K * t) + length) - (t * t if first else 0.0)
    return model, area


def _whole(model: Model, area: float) -> str:
    """Empty where it reads and unfolds as it should, else why not."""
    body = model.bodies()[0]
    try:
        found, sheet = model.flat(body), model.sheet(body)
    except EditError as error:
        return str(error)
    if sheet.faults:
        return sheet.faults[0].words
    if abs(found.area - area) > 1e-6 * area:
        return f"area off by {found.area / area - 1:.1e}"
    volume = model.measure(body).volume
    return "" if abs(found.whole.volume - volume) < 1e-6 * volume else "volume differs"


def measure_sheet(parts: int) -> None:
    for bends in (10, 60):
        timed_zigzag(bends)
    rng = random.Random(21)
    counts: dict[str, list[str]] = {"as made": [], "from STEP": [], "as splines": [], "in inches": []}
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for number in range(parts):
            model, area = _part(folder, rng, number)
            shape = model.geometry.solid(model.body(model.bodies()[0]).shape).shape
            counts["as made"].append(_whole(model, area))
            way = ("from STEP", "as splines", "in inches")[number % 3]
            again = Model(units="in" if way == "in inches" else "mm")
            file = step_file(folder / f"{number}.step", SPLINED(shape) if way == "as splines" else shape, "Part")
            again.do("import", path=str(file))
            inch = 25.4 if way == "in inches" else 1.0
            counts[way].append(_whole(again, area / inch**2) if inch == 1.0 else _inches(again, area))
    for way, rows in counts.items():
        good = sum(not r for r in rows)
        why = sorted({r for r in rows if r})[:3]
        print(f"  {way}: {good} of {len(rows)} read and unfolded" + (f"; {'; '.join(why)}" if why else ""))
    measure_faults(max(parts // 3, 10))


def measure_faults(parts: int) -> None:
    """Of each kind planted: how many are told, how many are sheet again once mended, and how many of these have the
    volume of the sound part (a tenth is what rips and bends of a box may take)."""
    rng = random.Random(22)
    with tempfile.TemporaryDirectory() as name:
        for kind, make, within in (
            ("thickness", _thinned, 1e-6),
            ("axis", _off_axis, 1e-6),
            ("corner", _never_ripped, 0.1),
        ):
            told = mended = sheet_again = 0
            for number in range(parts):
                model, sound, mend = make(Path(name), rng, number)
                body = model.bodies()[0]
                told += kind in {f.kind for f in model.sheet(body).faults}
                try:
                    mend(model)
                except EditError:
                    continue
                if not model.sheet(body).faults and _all_sheet(model):
                    sheet_again += 1
                    mended += abs(model.measure(body).volume - sound) < within * sound
            print(f"  planted {kind}: {told} of {parts} told, {sheet_again} sheet again, {mended} as large as before")


def _all_sheet(model: Model) -> bool:
    """Whether walls and bends account for all of it."""
    body = model.bodies()[0]
    volume = model.measure(body).volume
    return abs(model.flat(body).whole.volume - volume) < 1e-6 * volume


Mend = Callable[[Model], object]


def _mended(model: Model) -> object:
    return model.do("mend sheet", on=model.nodes())


def _thinned(folder: Path, rng: random.Random, number: int) -> tuple[Model, float, Mend]:
    """A wall of a plate with flanges, half a percent off."""
    while True:
        model, _ = _part(folder, rng, number)
        body = model.bodies()[0]
        flat = model.flat(body)
        walls = [w for w in model.sheet(body).walls if len(w.faces) == 2]
        wall = max(walls, key=lambda w: w.area) if len(walls) == 1 else rng.choice(walls)
        sound, thickness = model.measure(body).volume, flat.whole.reading.thickness
        try:
            model.do("push", faces=[wall.faces[1]], distance=rng.choice((-0.005, 0.005)) * thickness)
        except EditError:
            continue  # a hem or a step in its way
        return model, sound, _mended


def _off_axis(folder: Path, rng: random.Random, number: int) -> tuple[Model, float, Mend]:
    """An angle whose inner bend turns about another axis than the outer one."""
    t, r = rng.uniform(0.8, 3), rng.uniform(1.5, 5)
    off = rng.uniform(0.01, 0.04) * t * rng.choice((-1, 1))
    sound = model_of(folder, bracket(t, r), f"Sound {number}")[0]
    model = model_of(folder, bracket(t, r, inner=(off, -off)), f"Angle {number}")[0]
    return model, sound.measure(sound.bodies()[0]).volume, _mended


def _never_ripped(folder: Path, rng: random.Random, number: int) -> tuple[Model, float, Mend]:
    """A box open above, its corners sharp and whole; as sheet its uprights are ripped and its lower edges bent."""
    t, r, gap = rng.uniform(0.8, 2.5), rng.uniform(1, 3), 0.3
    x, y, z = rng.uniform(40, 120), rng.uniform(40, 120), rng.uniform(15, 50)
    shell = build.subtract(build.box(x, y, z), build.box(x - 2 * t, y - 2 * t, z, (t, t, t)))
    model = model_of(folder, shell, f"Box {number}")[0]

    def mend(box: Model) -> None:
        upright = [e.id for e in box.edges(kind="line", direction=(0, 0, 1)) if e.length > z - t / 2]
        box.do("rip", edges=upright, way="first", gap=gap)
        lower = [e.id for e in box.edges(kind="line") if abs(e.middle[2]) < 1e-6 and e.length > 20]
        box.do("bend edge", edges=lower, radius=r)

    # walls of a box, but for what its rips and its bends at the inner corners take and give
    return model, model.measure(model.bodies()[0]).volume, mend


def _inches(model: Model, area: float) -> str:
    """Areas of a model in inches are square inches."""
    body = model.bodies()[0]
    sheet = model.sheet(body)
    if sheet.faults:
        return sheet.faults[0].words
    off = abs(model.flat(body).area * 25.4**2 / area - 1)
    return "" if off < 1e-6 else f"area off by {off:.1e}"
