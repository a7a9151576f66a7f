"""Planted damage: how much of it is found, and how much mended to a sound solid of the right volume."""

from __future__ import annotations

import random
import time
from collections import Counter
from collections.abc import Callable

from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.damage import DAMAGES, mixed
from ravine.core.kernel.shapes import Shape, parts_of
from ravine.core.kernel.volumes import volume_properties
from ravine.core.mending.checkup import flaws_of
from ravine.core.mending.findings import KINDS
from ravine.core.mending.ladder import mended

RIGHT = 1e-3  # of the volume
MANY = ("gap", "loose border", "split face", "coarse tolerance")  # where one damage makes several findings


def parts() -> dict[str, Callable[[], Shape]]:
    """Sound solids of different kinds."""
    from ravine.demo.logger_housing import logger_lid
    from ravine.demo.mast_clamp import mast_clamp

    def drilled() -> Shape:
        return build.subtract(build.box(40, 30, 20), build.cylinder(5, 22, (20, 15, -1)))

    def rounded() -> Shape:
        return build.fillet(build.box(50, 40, 15), 4, lambda e: abs((e.direction or (0, 0, 0))[2]) > 0.9)

    def boss() -> Shape:
        plate = build.unite(build.box(60, 40, 10), build.cylinder(10, 12, (30, 20, 10)))
        return build.subtract(plate, build.cylinder(4, 30, (30, 20, -1)), build.cone(3, 6, 5, (10, 10, 5)))

    def stepped() -> Shape:
        return build.unite(build.cylinder(20, 10), build.cylinder(12, 30), build.cone(12, 6, 8, (0, 0, 30)))

    return {"drilled": drilled, "rounded": rounded, "boss": boss, "stepped": stepped, "lid": logger_lid,
            "clamp": mast_clamp}  # fmt: skip


def measure_mending(tries: int = 6) -> None:
    """Single damages, `tries` of each kind on each part."""
    score: Counter[str] = Counter()
    total: Counter[str] = Counter()
    noticed: Counter[str] = Counter()
    for name, make in parts().items():
        part = make()
        volume = volume_properties(part).amount
        began = time.perf_counter()
        alarms = [f.code for f in flaws_of(part) if not KINDS[f.code].note]
        if alarms or mended(part).done:
            print(f"{name}: false alarm {Counter(alarms)} {mended(part).done}")
        for kind, hurt in DAMAGES.items():
            for number in range(tries):
                harmed = hurt(part, random.Random(1000 * number + 7))
                if harmed is None:
                    continue
                seen = sum(f.count for f in flaws_of(harmed.shape) if f.code == harmed.planted.code)
                hit = seen >= 1 if harmed.planted.code in MANY else seen == harmed.planted.count
                noticed[kind] += hit
                if not hit:
                    print(f"  {name} {kind} #{number}: found {Counter(f.code for f in flaws_of(harmed.shape))}")
                found = mended(harmed.shape)
                total[kind] += 1
                sound = bool(parts_of(found.shape, "solid")) and fault(found.shape) is None
                right = sound and abs(volume_properties(found.shape).amount - volume) < RIGHT * volume
                score[kind] += right
                if not right:
                    amount = volume_properties(found.shape).amount if sound else 0.0
                    print(f"  {name} {kind} #{number}: {found.trouble or 'wrong volume'} {found.done} "
                          f"{amount / volume - 1:+.4f}")  # fmt: skip
        for number in range(2 * tries):
            shape, planted = mixed(part, random.Random(77 * number + 1))
            found = mended(shape)
            total["mixed"] += 1
            sound = bool(parts_of(found.shape, "solid")) and fault(found.shape) is None
            right = sound and abs(volume_properties(found.shape).amount - volume) < RIGHT * volume
            score["mixed"] += right
            if not right:
                print(f"  {name} mixed #{number}: {found.trouble or 'wrong volume'} "
                      f"{[p.code for p in planted]} {found.done}")  # fmt: skip
        print(f"{name}: {len(parts_of(part, 'face'))} faces, {time.perf_counter() - began:.1f} s")
    for kind in DAMAGES:
        print(f"{kind}: {noticed[kind]} found and {score[kind]} mended of {total[kind]}")
    single, seen, of = (sum(c[k] for k in DAMAGES) for c in (score, noticed, total))
    print(f"single damages: {seen / of:.1%} found (aim 99 %), {single / of:.1%} mended (aim 95 %) of {of}")
    print(f"mixed damages: {score['mixed']} of {total['mixed']} mended "
          f"({score['mixed'] / total['mixed']:.1%}, aim 85 %)")  # fmt: skip
