"""The angle between two lines."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ...errors import EditError
from ...local.surfaces import Floats
from ..anchors import crossing_of
from ..lettering import HEIGHT, Run, below_base, upright, width_of_runs, write_runs
from .base import ABOVE, EXTENSION, Setting, Told, draws


@draws("angle")
def angle(setting: Setting) -> Told:
    """Of the sector in which it stands."""
    seen = setting.seen
    if len(seen) != 2 or any(s.kind != "line" for s in seen):
        raise EditError("an angle is that between two straight edges, or flat faces seen from their edges")
    for one in seen:
        if not one.level:
            raise EditError(f"{one.reference} runs into the paper in this view, so the angle is not seen as it is; "
                            "measure it in a view that both lie parallel to", [one.reference])  # fmt: skip
    apex = setting.paper(crossing_of(*seen))
    off = setting.at - apex
    reach = float(np.hypot(*off))
    toward = math.atan2(off[1], off[0])
    leans = sorted(
        {round(math.atan2(way[1], way[0]) % (2 * math.pi), 12) for s in seen for way in (s.way, -s.way)}
    )  # the four arms around the apex
    after = [(lean - toward) % (2 * math.pi) for lean in leans]
    high = leans[int(np.argmin(after))]
    low = leans[int(np.argmax(after))]
    value = (high - low) % (2 * math.pi)
    runs = [Run(_degrees(value))]
    pen = setting.pen
    if reach < 1e-6:
        return Told(value, (value,), runs[0].text)
    pen.arc(apex, reach, low, low + value)
    lines: list[Floats] = []
    for lean, sign in ((low, -1.0), (low + value, 1.0)):
        arm = np.array([math.cos(lean), math.sin(lean)])
        tip = apex + reach * arm
        along = sign * np.array([-arm[1], arm[0]])
        back = along * math.cos(1.5 / reach) + arm * math.sin(1.5 / reach) if reach > 3 else along
        pen.arrow(tip, back / np.hypot(*back))
        ends = [setting.paper(e) for s in seen if s.ends is not None for e in s.ends
                if abs(float((setting.paper(e) - apex) @ np.array([-arm[1], arm[0]]))) < 0.05]  # fmt: skip
        reached = max((float((e - apex) @ arm) for e in ends), default=0.0)
        least = min((float((e - apex) @ arm) for e in ends), default=0.0)
        if reached < reach or least > reach:
            start = min(max(reached, 0.0), reach) if reached < reach else least
            lines.append(arm)
            pen.line(apex + start * arm, tip + EXTENSION * arm * (1 if reached < reach else -1))
    middle = low + value / 2 if value * reach > width_of_runs(runs) else toward
    lean = upright(middle + math.pi / 2)
    up = np.array([-math.sin(lean), math.cos(lean)])
    place = apex + reach * np.array([math.cos(middle), math.sin(middle)])
    write_runs(pen, runs, place + (ABOVE + below_base(runs)) * up, "middle", lean)
    return Told(
        value, (value,), runs[0].text, lambda space: _native(setting, space, apex, reach, (low, value), runs[0].text)
    )


def _degrees(rad: float) -> str:
    return f"{math.degrees(rad):.2f}".rstrip("0").rstrip(".") + "°"


def _native(setting: Setting, space: Any, apex: Floats, reach: float, sector: tuple[float, float], text: str) -> None:
    ends = [apex + reach * np.array([math.cos(t), math.sin(t)]) for t in (sector[0], sector[0] + sector[1])]
    space.add_angular_dim_3p(
        base=setting.at.tolist(), center=apex.tolist(), p1=ends[0].tolist(), p2=ends[1].tolist(), text=text,
        dimstyle="ISO129", dxfattribs={"layer": "dimensions"},
    ).render()  # fmt: skip


__all__ = ["HEIGHT", "angle"]
