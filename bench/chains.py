"""Chains of edits on parts of every family: after each the part is the one built at these sizes, sound, its mesh
closed, and its volume the one that is told."""

from __future__ import annotations

import random
import tempfile
from collections import Counter
from pathlib import Path

import trimesh
from tests.trials.judging import FAMILIES, Part

from ravine.core.kernel.flat_mesh import mesh_for_view
from ravine.core.kernel.tessellate import deflection_of, whole_mesh
from ravine.core.kernel.volumes import volume_properties

from .pushing import spread

LONG = 15  # edits of one chain
DRIFT = 1e-9  # share of the volume


def measure_chains(edits: int) -> None:
    """edits: done in all, refused ones included."""
    counts: Counter[str] = Counter()
    times: list[float] = []
    seed = 0
    while counts.total() < edits:
        family = list(FAMILIES)[seed % len(FAMILIES)]
        with tempfile.TemporaryDirectory() as folder:
            _chain(Part(Path(folder), family, 100 + seed, "plain"), random.Random(seed), counts, times)
        seed += 1
    told = ", ".join(f"{n} {kind}" for kind, n in counts.most_common())
    print(f"  {counts.total()} edits in {seed} chains: {told}; {spread(times)}")


def _chain(part: Part, draw: random.Random, counts: Counter[str], times: list[float]) -> None:
    for _ in range(LONG):
        row = [t for t in part.trials if min(t.after.values()) > 0 and part.keeps_its_faces(t)]
        if not row:
            return
        trial = draw.choice(row)
        try:
            verdict = part.do(trial)
        except LookupError:  # what it is about has gone
            return
        times.append(verdict.seconds)
        kind = verdict.kind if verdict.kind != "right" else _looked_over(part)
        counts[kind] += 1
        if kind not in ("right", "refused"):
            print(f"    {part.family.name}: {trial.edit}, {trial}: {kind} at {part.sizes}")
            return


def _looked_over(part: Part) -> str:
    """What is wrong with a part that is the right one."""
    solid = part.model.geometry.solid(part.model.body(part.body).shape)
    if abs(volume_properties(solid.shape).amount / solid.volume_mm3 - 1) > DRIFT:
        return "volume drifted"
    mesh_for_view(solid.index, deflection_of(solid.index))
    return "right" if trimesh.Trimesh(*whole_mesh(solid.shape)).is_watertight else "mesh open"
