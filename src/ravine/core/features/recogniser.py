"""All features of a solid."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from ..local.topology import SolidTopology
from .blends import find_blends
from .clusters import apart_from, find_recessed, together
from .feature import KINDS, Feature
from .holes import find_holes, find_turned_grooves
from .links import Links
from .recesses import find_recesses
from .rises import find_bosses, find_ribs

_known: WeakKeyDictionary[SolidTopology, list[Feature]] = WeakKeyDictionary()


def features_of(topology: SolidTopology) -> list[Feature]:
    """By kind, and within each from the largest to the smallest."""
    if topology not in _known:
        _known[topology] = _recognised(topology)
    return _known[topology]


def _recognised(topology: SolidTopology) -> list[Feature]:
    links = Links(topology)
    holes, grooves = find_holes(links)
    grooves += find_turned_grooves(links)
    taken = {f for feature in (*holes, *grooves) for f in feature.faces}
    bosses = find_bosses(links, taken)
    ribs = find_ribs(links, taken | {f for b in bosses for f in b.faces})
    recesses = find_recesses(links, taken | {f for b in bosses for f in b.faces}, ribs)
    sunk = together(links, find_recessed(links, taken, [*recesses, *bosses, *ribs]), recesses)
    pads = [b for b in bosses if b.kind != "cluster"]
    raised = together(links, [b for b in apart_from(sunk, bosses) if b.kind == "cluster"], pads)
    simple = apart_from([*sunk, *raised], [*recesses, *pads, *ribs, *find_blends(links)])
    rows = [*holes, *grooves, *simple, *sunk, *raised]
    return sorted(rows, key=lambda f: (KINDS.index(f.kind), f.form, [-v for v in f.sizes.values()], f.place))
