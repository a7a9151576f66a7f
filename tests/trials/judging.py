"""One trial: the edit done on the part brought in from a file, against the part built at the new sizes."""

from __future__ import annotations

import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Pnt
from OCP.GProp import GProp_GProps

from ravine.core import EditError, Model
from ravine.core.kernel.failures import KERNEL_FAILURES
from ravine.core.kernel.nearest import nearest
from ravine.core.kernel.shapes import Shape, parts_of
from tests.parts import model_of

from . import mixed, plates, rounds
from .family import FAMILIES, Point, Trial
from .variants import VARIANTS, Variant

__all__ = ["FAMILIES", "VARIANTS", "Part", "Verdict", "mixed", "plates", "rounds"]


@dataclass(frozen=True)
class Verdict:
    """kind: right, wrong, invalid or refused; off: share of the part's volume, or of its size; seconds: of the edit."""

    kind: str
    told: str = ""
    off: float = 0.0
    seconds: float = 0.0


class Part:
    """A part of a family at drawn sizes, in a variant, in a model."""

    def __init__(self, folder: Path, family: str, seed: int, variant: str) -> None:
        self.family, self.variant = FAMILIES[family], VARIANTS[variant]
        self.sizes = self.family.sizes(seed)
        self.model, self.body = model_of(folder, self.built(self.sizes), family, self.variant.units)
        self.trials = self.family.trials(self.sizes)

    def built(self, sizes: dict[str, float]) -> Shape:
        return self.variant.shape(self.family.make(**sizes))

    def target(self) -> Shape:
        """The part built at its sizes; with its own surfaces, which integrate exactly."""
        return self.variant.target(self.family.make(**self.sizes))

    def keeps_its_faces(self, trial: Trial) -> bool:
        """Whether the part has as many faces at the sizes after, and can be built at them."""
        try:
            before, after = (self.family.make(**sizes) for sizes in (self.sizes, {**self.sizes, **trial.after}))
        except (EditError, *KERNEL_FAILURES):
            return False
        return len(parts_of(before, "face")) == len(parts_of(after, "face"))

    def raw(self, trial: Trial) -> dict[str, Any]:
        """Values for its edit."""
        lengths = {key: self.variant.length(value) for key, value in trial.lengths.items()}
        picks = {key: [pick_at(self.model, self.body, self.variant, key, at) for at in points]
                 for key, points in trial.on.items()}  # fmt: skip
        return {**lengths, **trial.values, **picks}

    def do(self, trial: Trial) -> Verdict:
        """With a step in the model; the trials are those at the new sizes then."""
        raw, began = self.raw(trial), time.perf_counter()
        try:
            self.model.do_named(trial.edit, raw)
        except EditError as error:
            return Verdict("refused", error.reason, seconds=time.perf_counter() - began)
        seconds = time.perf_counter() - began
        self.sizes = {**self.sizes, **trial.after}
        self.trials = self.family.trials(self.sizes)
        bodies = [b for b in self.model.snapshot.bodies.values() if b.shape]
        found = self.model.geometry.solid(bodies[0].shape).shape
        if len(bodies) != 1 or not BRepCheck_Analyzer(found, True).IsValid():
            return Verdict("invalid", f"{len(bodies)} bodies", seconds=seconds)
        off = apart(found, self.target())
        return Verdict("wrong" if off > 1e-5 else "right", off=off, seconds=seconds)

    def tried(self, trial: Trial) -> Verdict:
        """And stepped back."""
        sizes, trials = self.sizes, self.trials
        verdict = self.do(trial)
        if verdict.kind != "refused":
            self.model.undo()
        self.sizes, self.trials = sizes, trials
        return verdict


def pick_at(model: Model, body: str, variant: Variant, field: str, at: Point) -> str:
    """The face (or, for `edges` and `axis`, rather the edge) that a point lies on."""
    spot = BRepBuilderAPI_MakeVertex(gp_Pnt(*map(float, variant.point(at)))).Vertex()
    shape = model.geometry.solid(model.body(body).shape).shape
    for kind in {"faces": ["face"], "edges": ["edge"]}.get(field, ["edge", "face"]):
        ids = (model.edges(body) if kind == "edge" else model.faces(body)).ids
        away = [(found[0] if (found := nearest(part, spot)) else np.inf) for part in parts_of(shape, kind)]
        best = int(np.argmin(away))
        if away[best] < 1e-4 * variant.factor:
            return ids[best]
    raise LookupError(f"nothing lies at {tuple(at)}: {min(away):.3g} mm off")


def _moments(shape: Shape) -> tuple[float, np.ndarray, np.ndarray]:
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, props, 1e-9)
    middle, tensor = props.CentreOfMass(), props.MatrixOfInertia()
    return (
        props.Mass(),
        np.array(middle.Coord()),
        np.array([[tensor.Value(i, j) for j in (1, 2, 3)] for i in (1, 2, 3)]),
    )


def apart(a: Shape, b: Shape) -> float:
    """How far two solids differ in volume, centre and inertia, each as a share of its own."""
    (m, c, i), (n, d, j) = _moments(a), _moments(b)
    size = abs(n) ** (1 / 3)
    return float(max(abs(m - n) / n, np.abs(c - d).max() / size, np.abs(i - j).max() / np.abs(j).max()))
