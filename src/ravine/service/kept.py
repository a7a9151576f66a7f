"""Views and measures that a person keeps of a model.

data of a view: camera (target x, y, z mm; span mm; yaw, pitch rad; parallel), and where they were kept with it
section (six numbers), hidden (text ids), picked (text ids), look (surroundings of the finished look, empty for the
plain one) and picture (width, height in pixels, ground, how many once around). data of a pin: picked and label; or
plane, at and nodes.
"""

from __future__ import annotations

import json
import math
from typing import Any

from ravine.core import EditError, RavineError
from ravine.core.model.snapshot import split_id
from ravine.store.tables import Design, Kept

from .designs import clean_name

MOST = 200  # of a kind in one model
MOST_IDS = 20_000


def kept(design: Design, kind: str) -> list[Kept]:
    return list(
        Kept.select()
        .where((Kept.owner == design.owner_id) & (Kept.design == design) & (Kept.kind == kind))
        .order_by(Kept.id)
    )


def keep(owner: int, design: Design, kind: str, name: str | None, data: Any) -> Kept:
    """Raises EditError for what is neither."""
    checked = {"view": _view, "pin": _pin}[kind](data) if kind in ("view", "pin") else None
    if checked is None:
        raise EditError("a view or a pin can be kept")
    known = kept(design, kind)
    if len(known) >= MOST:
        raise EditError(f"{MOST} are kept already; drop one first")
    if not name:
        word = "Section" if kind == "view" and "camera" not in checked else kind.capitalize()
        used = {row.name for row in known}
        name = next(n for k in range(1, MOST + 2) if (n := f"{word} {k}") not in used)
    return Kept.create(owner=owner, design=design, kind=kind, name=clean_name(name), data=json.dumps(checked))


def find(owner: int, design: Design, number: int) -> Kept:
    found = Kept.get_or_none((Kept.owner == owner) & (Kept.design == design) & (Kept.id == number))
    if found is None:
        raise RavineError("this was dropped already")
    return found


def drop(owner: int, design: Design, number: int) -> None:
    find(owner, design, number).delete_instance()


def rename(row: Kept, name: str) -> None:
    row.name = clean_name(name)
    row.save()


def _numbers(raw: Any, count: int, what: str) -> list[float]:
    known = raw if isinstance(raw, list) and all(isinstance(v, int | float) for v in raw) else []
    if len(known) != count or not all(map(math.isfinite, known)):
        raise EditError(f"{what} takes {count} numbers")
    return [float(v) for v in known]


def _ids(raw: Any) -> list[str]:
    if not isinstance(raw, list) or len(raw) > MOST_IDS:
        raise EditError(f"a list of up to {MOST_IDS:,} ids belongs here")
    for ident in raw:
        split_id(ident)
    return list(raw)


def _view(data: Any) -> dict[str, Any]:
    if not isinstance(data, dict):
        raise EditError("a view is an object with a camera or a section")
    found: dict[str, Any] = {}
    if camera := data.get("camera"):
        if not isinstance(camera, dict):
            raise EditError("a camera has target, span, yaw and pitch")
        span, yaw, pitch = _numbers([camera.get("span"), camera.get("yaw"), camera.get("pitch")], 3, "a camera")
        target = _numbers(camera.get("target"), 3, "a camera's target")
        found["camera"] = {
            "target": target,
            "span": span,
            "yaw": yaw,
            "pitch": pitch,
            "parallel": bool(camera.get("parallel")),
        }
    if data.get("section"):
        found["section"] = _numbers(data["section"], 6, "a section")
    if isinstance(look := data.get("look"), str):
        found["look"] = look[:20]
    if picture := data.get("picture"):
        found["picture"] = _picture(picture)
    for part in ("hidden", "picked"):
        if part in data:
            found[part] = _ids(data[part])
    if "camera" not in found and "section" not in found:
        raise EditError("there is no section to keep; open one first")
    return found


def _picture(raw: Any) -> dict[str, Any]:
    if not isinstance(raw, dict):
        raise EditError("a picture has width, height, ground and turning")
    numbers = _numbers([raw.get(k) for k in ("width", "height", "turning")], 3, "a picture")
    return {
        **dict(zip(("width", "height", "turning"), map(int, numbers), strict=True)),
        "ground": str(raw.get("ground"))[:10],
    }


def _pin(data: Any) -> dict[str, Any]:
    if not isinstance(data, dict):
        raise EditError("a pin is an object with picked and label")
    if "plane" in data:
        return {"plane": _numbers(data["plane"], 6, "a section"), "at": _numbers(data.get("at"), 2, "a place in it"),
                "nodes": _ids(data.get("nodes"))[:2]}  # fmt: skip
    picked, label = _ids(data.get("picked")), data.get("label")
    if not picked or not isinstance(label, str) or len(label) > 60:
        raise EditError("pick what is to be measured, then pin one of its measures")
    return {"picked": picked, "label": label}
