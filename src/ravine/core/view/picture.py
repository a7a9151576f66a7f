"""A picture of a model for its card or a report: a depth-buffered drawing with inked edges, made without a screen."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, edge_polyline, face_mesh
from ..model.finishes import colour_of
from ..model.geometry import GeometryStore, Solid
from ..model.snapshot import Snapshot
from .packet import facet_mesh

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# what is told by colour is told by pattern too: of pixels x, y, whether one lies on a line of it
PATTERNS: dict[str, Callable[[Ints, Ints], NDArray[np.bool_]]] = {
    "diagonal": lambda x, y: (x + y) % 16 < 4,
    "back": lambda x, y: (x - y) % 16 < 4,
    "check": lambda x, y: (x % 14 < 3) | (y % 14 < 3),
}
CLAY = (0x9F, 0xA5, 0xA2)
INK = (0x1E, 0x2A, 0x2F)
SCALE = 2  # drawn at twice the size and averaged down


@dataclass(frozen=True)
class Tint:
    """Of a face, instead of its finish; pattern: of PATTERNS."""

    colour: str
    pattern: str


def _view() -> Floats:
    """Rows: right, up, towards the eye; from the front right, a little above."""
    turn, tilt = math.radians(-35.0), math.radians(28.0)
    eye = np.array([-math.sin(turn) * math.cos(tilt), -math.cos(turn) * math.cos(tilt), math.sin(tilt)])
    right = np.cross([0.0, 0.0, 1.0], eye)
    right /= np.linalg.norm(right)
    return np.array([right, np.cross(eye, right), eye])


class _Canvas:
    """A depth buffer filled by scan lines, for all triangles at once: first every row a triangle crosses, then
    every pixel of every row."""

    def __init__(self, width: int, height: int) -> None:
        self.width, self.height = width, height
        self.depth = np.full(width * height, -np.inf)
        self.colour = np.zeros((width * height, 4), np.uint8)

    def triangles(self, corners: Floats, colours: Floats, patterns: NDArray[np.str_]) -> None:
        """corners (n, 3, 3): x, y in pixels, z towards the eye; colours (n, 3): 0…255; patterns: names, or empty."""
        x, y, z = corners[:, :, 0], corners[:, :, 1], corners[:, :, 2]
        of, row = _spread(y.min(axis=1), y.max(axis=1), self.height)
        level = row + 0.5
        left, right = np.full(len(of), np.inf), np.full(len(of), -np.inf)
        for a, b in ((0, 1), (1, 2), (2, 0)):
            ya, yb = y[of, a], y[of, b]
            crosses = (np.minimum(ya, yb) <= level) & (level <= np.maximum(ya, yb)) & (ya != yb)
            with np.errstate(divide="ignore", invalid="ignore"):
                at = x[of, a] + (level - ya) * (x[of, b] - x[of, a]) / (yb - ya)
            left = np.where(crosses, np.minimum(left, at), left)
            right = np.where(crosses, np.maximum(right, at), right)
        span, column = _spread(left, right, self.width)
        tri = of[span]
        area = (x[:, 1] - x[:, 0]) * (y[:, 2] - y[:, 0]) - (y[:, 1] - y[:, 0]) * (x[:, 2] - x[:, 0])
        area = np.where(np.abs(area) < 1e-9, np.inf, area)
        rise_x = ((z[:, 1] - z[:, 0]) * (y[:, 2] - y[:, 0]) - (z[:, 2] - z[:, 0]) * (y[:, 1] - y[:, 0])) / area
        rise_y = ((x[:, 1] - x[:, 0]) * (z[:, 2] - z[:, 0]) - (x[:, 2] - x[:, 0]) * (z[:, 1] - z[:, 0])) / area
        depth = z[tri, 0] + rise_x[tri] * (column + 0.5 - x[tri, 0]) + rise_y[tri] * (level[span] - y[tri, 0])
        self._paint(row[span] * self.width + column, depth, colours, patterns, tri)

    def _paint(
        self, pixels: Ints, depth: Floats, colours: Floats, patterns: NDArray[np.str_], owner: Ints
    ) -> None:  # fmt: skip
        order = np.argsort(depth)  # later writes win: the nearest last
        nearest = np.full(len(self.depth), -1)
        nearest[pixels[order]] = order
        hit = np.nonzero(nearest >= 0)[0]
        chosen = nearest[hit]
        self.depth[hit] = depth[chosen]
        self.colour[hit, :3] = colours[owner[chosen]]
        self.colour[hit, 3] = 255
        here = patterns[owner[chosen]]
        for name, lies_on in PATTERNS.items():
            of = hit[here == name]
            marked = of[lies_on(of % self.width, of // self.width)]
            self.colour[marked, :3] = (0.45 * self.colour[marked, :3]).astype(np.uint8)

    def segments(self, ends: Floats, nearer: float) -> None:
        """ends (n, 2, 3), drawn in ink where nothing lies more than `nearer` in front."""
        counts = np.ceil(np.abs(ends[:, 0, :2] - ends[:, 1, :2]).max(axis=1)).astype(np.int64) + 2
        of = np.repeat(np.arange(len(ends)), counts)
        step = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)
        share = (step / (counts[of] - 1))[:, None]
        dots = ends[of, 0] * (1 - share) + ends[of, 1] * share
        for beside in (0, 1):
            x, y = dots[:, 0].astype(np.int64) + beside, dots[:, 1].astype(np.int64)
            inside = (x >= 0) & (y >= 0) & (x < self.width) & (y < self.height)
            pixels = y[inside] * self.width + x[inside]
            seen = dots[inside, 2] + nearer >= self.depth[pixels]
            self.colour[pixels[seen]] = (*INK, 255)


def _spread(low: Floats, high: Floats, limit: int) -> tuple[Ints, Ints]:
    """For intervals [low, high]: (number of the interval, cell) for every cell whose middle lies inside."""
    first = np.clip(np.ceil(np.clip(low, -1, limit + 1) - 0.5), 0, limit).astype(np.int64)
    last = np.clip(np.floor(np.clip(high, -1, limit + 1) - 0.5), -1, limit - 1).astype(np.int64)
    counts = np.maximum(last - first + 1, 0)
    of = np.repeat(np.arange(len(low)), counts)
    return of, first[of] + np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)


def _rgb(finish: str | None) -> Floats:
    if finish is None:
        return np.array(CLAY, float)
    return np.array([int(finish[i : i + 2], 16) for i in (1, 3, 5)], float)


def picture(snapshot: Snapshot, geometry: GeometryStore, width: int = 480, height: int = 300) -> bytes:
    """PNG with a clear ground; an empty model gives an empty picture."""
    return pictures([(snapshot, {})], geometry, width, height)[0]


def pictures(
    states: Sequence[tuple[Snapshot, Mapping[int, Tint]]], geometry: GeometryStore, width: int, height: int
) -> list[bytes]:
    """Several states, each with tints by face, from one eye at one scale."""
    drawn = [_gathered(snapshot, geometry, tints) for snapshot, tints in states]
    every = [f.points for faces, _ in drawn for f in faces if len(f.points)]
    places = np.concatenate(every) if every else np.zeros((1, 3))
    frame = places.min(axis=0), places.max(axis=0)
    found = []
    for faces, lines in drawn:
        canvas = _Canvas(width * SCALE, height * SCALE)
        if faces:
            _draw(canvas, faces, lines, frame)
        pixels = canvas.colour.reshape(canvas.height, canvas.width, 4)
        image = Image.fromarray(pixels, "RGBA").resize((width, height), Image.Resampling.BOX)
        stream = io.BytesIO()
        image.save(stream, "PNG", optimize=True)
        found.append(stream.getvalue())
    return found


def _gathered(
    snapshot: Snapshot, geometry: GeometryStore, tints: Mapping[int, Tint]
) -> tuple[list[_Face], list[Floats]]:  # fmt: skip
    """Faces and edges in the picture's directions."""
    view = _view()
    faces: list[_Face] = []
    lines: list[Floats] = []
    for found in snapshot.occurrences():
        shape = geometry.get(found.body.shape)
        matrix = found.matrix.matrix
        if isinstance(shape, Solid):
            fineness = deflection_of(shape.index)
            mesh_for_view(shape.index, fineness)
            meshes = [face_mesh(f) for f in shape.index.all("face")]
            drawn = [edge_polyline(e, shape.index, i, fineness) for i, e in enumerate(shape.index.all("edge"))]
        else:
            meshes, drawn = [facet_mesh(shape)], []
        for one, face in zip(meshes, found.body.faces, strict=True):
            world = one.points @ matrix[:, :3].T + matrix[:, 3]
            tint = tints.get(face)
            finish = tint.colour if tint else colour_of(found.body.face_finishes.get(face, found.body.finish))
            faces.append(_Face(world @ view.T, one.triangles, one.normals @ matrix[:, :3].T @ view.T, _rgb(finish),
                               tint.pattern if tint else ""))  # fmt: skip
        lines += [(line @ matrix[:, :3].T + matrix[:, 3]) @ view.T for line in drawn if len(line) > 1]
    return faces, lines


@dataclass(frozen=True, eq=False)
class _Face:
    """points, normals (n, 3): in the picture's directions."""

    points: Floats
    triangles: NDArray
    normals: Floats
    colour: Floats
    pattern: str


def _draw(
    canvas: _Canvas, faces: list[_Face], lines: list[Floats], frame: tuple[Floats, Floats]
) -> None:  # fmt: skip
    low, high = frame
    span = np.maximum(high - low, 1e-9)
    scale = 0.88 * min(canvas.width / span[0], canvas.height / span[1])
    centre = (low + high) / 2

    def to_pixels(points: Floats) -> Floats:
        pixels = (points - centre) * scale
        return np.stack([pixels[:, 0] + canvas.width / 2, canvas.height / 2 - pixels[:, 1], pixels[:, 2]], axis=1)

    light = np.array([-0.35, 0.55, 0.76])
    corners, colours, patterns = [], [], []
    for face in faces:
        shade = 0.52 + 0.5 * np.clip(face.normals @ light, 0.0, 1.0)
        corners.append(to_pixels(face.points)[face.triangles])
        colours.append(np.clip(shade[face.triangles].mean(axis=1)[:, None] * face.colour, 0, 255))
        patterns.append(np.full(len(face.triangles), face.pattern))
    canvas.triangles(np.concatenate(corners), np.concatenate(colours), np.concatenate(patterns))
    if lines:
        ends = np.concatenate([np.stack([line[:-1], line[1:]], axis=1) for line in map(to_pixels, lines)])
        canvas.segments(ends, 0.01 * scale * float(span.max()))
