"""What the trades keep in a snapshot besides bodies and the tree: sketches, patterns, named sets, and what comes later.

A trade is one line in `TRADES`: how one record is written and read, which blobs it needs, and which records are left
when bodies go.  Everything else (storing, addresses, pruning) follows for all of them alike.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from ..errors import RavineError
from ..sketch.entities import Sketch
from .accepted import Accepted
from .dimension import BodyDimension
from .drawing_sheet import DrawnSheet
from .explosion import Explosion
from .foot import Foot
from .joint import Joint
from .laid_bend import LaidBend
from .link import ModelLink
from .named_value import NamedValue
from .part_data import PartData
from .pattern import Pattern
from .print_data import PrintData
from .set_aside import SetAside
from .sheet_data import SheetData
from .simulation import Simulation
from .stand_in import StandIn
from .tolerance import SizeTolerance

R = TypeVar("R")


def _nothing(record: Any) -> Iterable[Any]:
    return ()


def _stays(record: Any, bodies: Mapping[int, Any]) -> bool:
    return True


@dataclass(frozen=True)
class Trade(Generic[R]):
    """name: under which its records are stored; write, read: one record as JSON data and back; blobs: addresses that a
    record needs; lives: whether a record is kept when only these bodies are left; places: in the tree, without any of
    which it goes."""

    name: str
    write: Callable[[R], Any]
    read: Callable[[Any], R]
    blobs: Callable[[R], Iterable[str]] = _nothing
    lives: Callable[[R, Mapping[int, Any]], bool] = _stays
    places: Callable[[R], Iterable[int]] = _nothing


SKETCHES: Trade[Sketch] = Trade(
    "sketches", Sketch.to_json, Sketch.from_json, lambda s: (s.picture.address,) if s.picture else ()
)
PATTERNS: Trade[Pattern] = Trade(
    "patterns", Pattern.to_json, Pattern.from_json, lives=lambda pattern, bodies: pattern.body in bodies
)
SETS: Trade[tuple[str, ...]] = Trade("sets", list, tuple)
DIMENSIONS: Trade[BodyDimension] = Trade(
    "dimensions", BodyDimension.to_json, BodyDimension.from_json, lives=BodyDimension.lives
)
FEET: Trade[Foot] = Trade("feet", Foot.to_json, Foot.from_json, Foot.blobs, Foot.lives)
VALUES: Trade[NamedValue] = Trade("values", NamedValue.to_json, NamedValue.from_json)
VARIANTS: Trade[dict[str, str]] = Trade("variants", dict, dict)  # rows of values by name, numbered
ASIDE: Trade[SetAside] = Trade("aside", SetAside.to_json, SetAside.from_json, SetAside.blobs, SetAside.lives)
JOINTS: Trade[Joint] = Trade("joints", Joint.to_json, Joint.from_json, lives=Joint.lives, places=lambda j: j.nodes)

PARTS: Trade[PartData] = Trade("parts", PartData.to_json, PartData.from_json, lives=PartData.lives)  # by body
ACCEPTED: Trade[Accepted] = Trade("accepted", Accepted.to_json, Accepted.from_json, places=lambda a: a.nodes)
LINKS: Trade[ModelLink] = Trade("links", ModelLink.to_json, ModelLink.from_json, places=lambda k: (k.node,))  # by group
EXPLOSIONS: Trade[Explosion] = Trade("explosions", Explosion.to_json, Explosion.from_json)  # by name
TOLERANCES: Trade[SizeTolerance] = Trade("tolerances", SizeTolerance.to_json, SizeTolerance.from_json)  # by name
STAND_INS: Trade[StandIn] = Trade(
    "stand-ins", StandIn.to_json, StandIn.from_json, lives=StandIn.lives
)  # by part number
PRINTS: Trade[PrintData] = Trade("prints", PrintData.to_json, PrintData.from_json, lives=PrintData.lives)  # by body
SHEETS: Trade[SheetData] = Trade("sheets", SheetData.to_json, SheetData.from_json, lives=SheetData.lives)  # by body
LAID_BENDS: Trade[LaidBend] = Trade("laid bends", LaidBend.to_json, LaidBend.from_json, lives=LaidBend.lives)  # by id
SIMULATIONS: Trade[Simulation] = Trade(
    "simulations", Simulation.to_json, Simulation.from_json, places=lambda s: s.nodes
)  # by name

DRAWINGS: Trade[DrawnSheet] = Trade("drawings", DrawnSheet.to_json, DrawnSheet.from_json)  # by id

_ALL = (
    SKETCHES,
    PATTERNS,
    SETS,
    DIMENSIONS,
    FEET,
    VALUES,
    VARIANTS,
    ASIDE,
    JOINTS,
    PARTS,
    ACCEPTED,
    LINKS,
    EXPLOSIONS,
    TOLERANCES,
    STAND_INS,
    SHEETS,
    LAID_BENDS,
    SIMULATIONS,
    PRINTS,
    DRAWINGS,
)
TRADES: dict[str, Trade[Any]] = {trade.name: trade for trade in _ALL}
Records = Mapping[str, Mapping[Any, Any]]


def written(records: Records) -> dict[str, list[list[Any]]]:
    """As JSON data: for each trade with records, pairs of key and record."""
    return {name: [[key, TRADES[name].write(r)] for key, r in rows.items()] for name, rows in records.items() if rows}


def read(data: Mapping[str, Any]) -> dict[str, dict[Any, Any]]:
    """Raises RavineError for a trade this version does not know, rather than losing what it holds."""
    unknown = sorted(set(data) - set(TRADES))
    if unknown:
        raise RavineError(
            f"this model holds {', '.join(unknown)}, which this version of Ravine does not know; open it with a newer "
            f"one"
        )
    return {name: {key: TRADES[name].read(r) for key, r in rows} for name, rows in data.items()}


def addresses(records: Records) -> set[str]:
    """Of all blobs that they need."""
    return {address for name, rows in records.items() for r in rows.values() for address in TRADES[name].blobs(r)}


def pruned(records: Records, bodies: Mapping[int, Any], nodes: Mapping[int, Any]) -> Records:
    """What is left of them when only these bodies and places in the tree are."""
    return {
        name: {key: r for key, r in rows.items()
               if TRADES[name].lives(r, bodies) and all(n in nodes for n in TRADES[name].places(r))}
        for name, rows in records.items()
    }  # fmt: skip
