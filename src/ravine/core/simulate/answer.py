"""A study solved: refined until its figures stand still where asked, and what has to be said about the result."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..errors import EditError
from ..kernel.queries import convexity
from ..model.geometry import GeometryStore
from ..model.simulation import Simulation
from ..model.snapshot import Snapshot
from .assemble import Progress, still
from .elements import Floats
from .loose import Loose, loose_motions
from .mesh import Mesh
from .modes import Mode, natural_modes
from .of_model import Part, Setup, setup_of
from .static import Solution, solve_static

RIM = 1.5  # elements from a sharp inner edge or a support's rim, within which a largest stress means nothing
GROWS = 0.15  # share by which a largest stress may grow from one refinement to the next
DOUBTFUL = 0.7  # of all doubt, on whose faces the mesh is refined
FINER, MILD = 0.55, 0.7  # of the size there: where it was asked for, and of what is refined by itself
QUICK_ROUNDS = 2  # more than the first
QUICK = 20_000  # unknowns, up to which another round is a matter of seconds
DOUBT = 0.1  # share of the stress, down to which a quick result is refined by itself


@dataclass(frozen=True)
class Round:
    """One of the refinements: unknowns, largest displacement (mm), largest von Mises stress (MPa), share in doubt."""

    unknowns: int
    moved: float
    stress: float
    error: float


@dataclass(eq=False)
class Answer:
    """margin (n,): yield strength over von Mises stress; warnings: codes with what they are about, in words."""

    study: Simulation
    setup: Setup
    solution: Solution
    rounds: list[Round]
    warnings: list[tuple[str, str]] = field(default_factory=list)

    @property
    def margin(self) -> Floats:
        limits = np.array([m.strength for m in self.setup.problem.materials])[self.setup.problem.mesh.body_of_node]
        return np.asarray(limits / np.maximum(self.solution.von_mises, 1e-9 * limits))

    @property
    def hottest(self) -> int:
        """Node of the largest von Mises stress."""
        return int(np.argmax(self.solution.von_mises))


def answered(
    snapshot: Snapshot, geometry: GeometryStore, study: Simulation, scale: float = 1.0, refine: int = 0,
    progress: Progress = still, settle: bool = False,
) -> Answer:  # fmt: skip
    """scale: of all element sizes; refine: how many times the mesh is made finer where the result is in doubt; settle:
    more often, where nobody chose a size, as long as that is quick and much is in doubt.  Raises EditError."""
    if not any(c.supports for c in study.conditions):
        raise EditError(f"{study.name} is not held anywhere; say where it is supported")
    if all(c.supports and not _drives(c.numbers) for c in study.conditions):
        raise EditError(f"{study.name} has no load")
    finer: dict[int, float] = {}
    rounds: list[Round] = []
    settle = settle and study.size is None and not study.finer
    most = max(refine, QUICK_ROUNDS if settle else 0)
    for turn in range(most + 1):
        low, span = turn / (most + 1), 1 / (most + 1)

        def told(f: float, w: str, low: float = low, span: float = span) -> None:
            progress(low + span * f, w)

        setup = setup_of(snapshot, geometry, study, scale, finer, told)
        told(0.45, cost(setup.problem.mesh.unknowns))
        solution = solve_static(setup.problem, setup.names, lambda f, w: told(0.45 + 0.55 * f, w))
        top = float(solution.von_mises.max())
        rounds.append(Round(setup.problem.mesh.unknowns, float(solution.lengths.max()), top, solution.error))
        if turn >= refine and (solution.error < DOUBT or setup.problem.mesh.unknowns > QUICK):
            break
        finer = _finer(setup, solution, finer, FINER if turn < refine else MILD)
    answer = Answer(study, setup, solution, rounds)
    answer.warnings = _warnings(answer)
    return answer


def cost(unknowns: int) -> str:
    """What solving will take, in words: measured on two cores, 13 s and 0.8 GB for 119 000 unknowns, time growing with
    their power of 1.38."""
    seconds = 13 * (unknowns / 119_000) ** 1.38
    took = f"{seconds:.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"
    if seconds < 2:
        took = "a moment"
    grouped = f"{unknowns:,}".replace(",", "\u202f")
    return f"{grouped} unknowns: about {took} and {0.3 + 4.4e-6 * unknowns:.1f} GB for each round"


def _drives(numbers: Mapping[str, float]) -> bool:
    return any(numbers.get(a) for a in "xyz") or "temperature" in numbers


def modes_of(
    snapshot: Snapshot, geometry: GeometryStore, study: Simulation, count: int, progress: Progress = still
) -> tuple[Setup, list[Mode]]:
    setup = setup_of(snapshot, geometry, study, progress=progress)
    return setup, natural_modes(setup.problem, count, setup.names, lambda f, w: progress(0.45 + 0.55 * f, w))


def loose_of(snapshot: Snapshot, geometry: GeometryStore, study: Simulation, progress: Progress = still
             ) -> tuple[Setup, list[Loose]]:  # fmt: skip
    """Motions that nothing holds, those first that the load pushes most."""
    setup = setup_of(snapshot, geometry, study, progress=progress)
    problem = setup.problem
    ties = [t for t in (t.where(t.touching) if t.opening else t for t in problem.ties) if len(t.areas)]
    found = loose_motions(problem.mesh, problem.held, ties, problem.load)
    return setup, sorted(found, key=lambda m: -m.push)


def _finer(setup: Setup, solution: Solution, before: Mapping[int, float], by: float) -> dict[int, float]:
    """by: share of the size there.  Sizes for the faces beside the elements that hold most of the doubt."""
    mesh = setup.problem.mesh
    share = np.zeros(int(mesh.faces.max()) + 1)
    size = np.full(len(share), np.inf)
    at_node = np.zeros(len(mesh.points))
    np.add.at(at_node, mesh.tets.ravel(), np.repeat(solution.doubt / 10, 10))
    near = np.full(len(mesh.points), np.inf)
    np.minimum.at(near, mesh.tets.ravel(), np.repeat(mesh.sizes, 10))
    np.add.at(share, mesh.faces, at_node[mesh.triangles].sum(axis=1))
    np.minimum.at(size, mesh.faces, near[mesh.triangles].mean(axis=1))
    order = np.argsort(-share)
    enough = int(np.searchsorted(np.cumsum(share[order]), DOUBTFUL * share.sum())) + 1
    found = dict(before)
    for face in order[:enough].tolist():
        found[face] = min(found.get(face, np.inf), by * float(size[face]))
    return found


# --- what has to be said -----------------------------------------------------------------------------------------


def _warnings(answer: Answer) -> list[tuple[str, str]]:
    mesh, solution = answer.setup.problem.mesh, answer.solution
    found: list[tuple[str, str]] = []
    node = answer.hottest
    part = answer.setup.parts[int(mesh.body_of_node[node])]
    near = RIM * float(mesh.sizes[(mesh.tets == node).any(axis=1)].mean())
    point = mesh.points[node]
    if _inner_edge(part, point, near):
        found.append(("sharp", "the largest stress lies at a sharp inner corner, where it grows without end as the "
                      "mesh gets finer; round the corner, or look beside it"))  # fmt: skip
    held = np.unique(np.concatenate([*answer.setup.problem.places.values(), np.zeros(0, np.int64)])).astype(int)
    if len(held) and float(np.linalg.norm(mesh.points[held] - point, axis=1).min()) < near:
        found.append(("rim", "the largest stress lies at a support, where it says little about the part"))
    if len(answer.rounds) > 1:
        last, before = answer.rounds[-1].stress, answer.rounds[-2].stress
        if last > before * (1 + GROWS):
            found.append(("grows", f"the largest stress grew by {100 * (last / before - 1):.0f} % at the last "
                          "refinement: it has not come to rest"))  # fmt: skip
    for k, other in enumerate(answer.setup.parts):
        thin = _few_across(mesh, k)
        if thin is not None:
            found.append(("thin", f"{other.place.node.name} has walls with about {thin:.1g} elements of their "
                          "thickness across them; take smaller elements"))  # fmt: skip
    found += [("soft", f"nothing holds it along a motion that no load pushes: {m.told(answer.setup.names)}")
              for m in solution.soft]  # fmt: skip
    if solution.unsettled:
        found.append(("unsettled", f"contacts still open or close at {solution.unsettled} places after "
                      f"{solution.rounds} rounds; what is near them is in doubt"))  # fmt: skip
    if float(solution.lengths.max()) > 0.1 * float(np.ptp(mesh.points, axis=0).max()):
        found.append(("large", "it moves by more than a tenth of its size; small displacements are assumed"))
    return found


def _few_across(mesh: Mesh, body: int) -> float | None:
    """Mean thickness (twice volume over surface) over element size, where it is less than a fifth."""
    own = mesh.bodies == body
    size = float(np.median(mesh.sizes[own]))
    triangles = mesh.triangles[mesh.body_of_node[mesh.triangles[:, 0]] == body]
    a, b, c = (mesh.points[triangles[:, k]] for k in range(3))
    area = float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)
    corners = mesh.points[mesh.tets[own][:, :4]]
    volume = float(np.abs(np.linalg.det(corners[:, 1:] - corners[:, :1])).sum() / 6)
    share = 2 * volume / area / size
    return share if share < 0.2 else None


def _inner_edge(part: Part, point: Floats, near: float) -> bool:
    """Whether a sharp edge at which matter turns in lies close by."""
    topology, back = part.topology, part.matrix.inverse
    here = np.array(back.point(point))
    for edge in range(topology.index.count("edge")):
        if topology.meeting(edge) != "sharp":
            continue
        points = topology.samples(edge, 17)
        if float(np.linalg.norm(points - here, axis=1).min()) > near + _step(points):
            continue
        if convexity(topology.index, edge) == "concave":
            return True
    return False


def _step(points: Floats) -> float:
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).max()) / 2
