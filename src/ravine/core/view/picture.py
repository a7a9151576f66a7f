"""A small picture of a model for its card: a depth-buffered drawing with inked edges, made without a screen."""

from __future__ import annotations

import io
import math

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, edge_polyline, face_mesh
from ..model.finishes import colour_of
from ..model.geometry import GeometryStore, Solid
from ..model.snapshot import Snapshot
from .packet import facet_mesh

CLAY = (0x9F, 0xA5, 0xA2)
INK = (0x1E, 0x2A, 0x2F)
SCALE = 2  # drawn at twice the size and averaged down

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


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

    def triangles(self, corners: Floats, colours: Floats) -> None:
        """corners (n, 3, 3): x, y in pixels, z towards the eye; colours (n, 3): 0…255."""
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
        self._paint(row[span] * self.width + column, depth, colours, tri)

    def _paint(self, pixels: Ints, depth: Floats, colours: Floats, owner: Ints) -> None:
        order = np.argsort(depth)  # later writes win: the nearest last
        nearest = np.full(len(self.depth), -1)
        nearest[pixels[order]] = order
        hit = np.nonzero(nearest >= 0)[0]
        chosen = nearest[hit]
        self.depth[hit] = depth[chosen]
        self.colour[hit, :3] = colours[owner[chosen]]
        self.colour[hit, 3] = 255

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
    view = _view()
    faces: list[tuple[Floats, NDArray, Floats, Floats]] = []
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
        finishes = [colour_of(found.body.face_finishes.get(f, found.body.finish)) for f in found.body.faces]
        for one, finish in zip(meshes, finishes, strict=True):
            world = one.points @ matrix[:, :3].T + matrix[:, 3]
            faces.append((world @ view.T, one.triangles, one.normals @ matrix[:, :3].T @ view.T, _rgb(finish)))
        lines += [(line @ matrix[:, :3].T + matrix[:, 3]) @ view.T for line in drawn if len(line) > 1]
    canvas = _Canvas(width * SCALE, height * SCALE)
    if faces:
        _draw(canvas, faces, lines)
    pixels = canvas.colour.reshape(canvas.height, canvas.width, 4)
    image = Image.fromarray(pixels, "RGBA").resize((width, height), Image.Resampling.BOX)
    stream = io.BytesIO()
    image.save(stream, "PNG", optimize=True)
    return stream.getvalue()


def _draw(canvas: _Canvas, faces: list, lines: list[Floats]) -> None:
    everything = np.concatenate([points for points, _, _, _ in faces if len(points)])
    low, high = everything.min(axis=0), everything.max(axis=0)
    span = np.maximum(high - low, 1e-9)
    scale = 0.88 * min(canvas.width / span[0], canvas.height / span[1])
    centre = (low + high) / 2

    def to_pixels(points: Floats) -> Floats:
        pixels = (points - centre) * scale
        return np.stack([pixels[:, 0] + canvas.width / 2, canvas.height / 2 - pixels[:, 1], pixels[:, 2]], axis=1)

    light = np.array([-0.35, 0.55, 0.76])
    corners, colours = [], []
    for points, triangles, normals, colour in faces:
        shade = 0.52 + 0.5 * np.clip(normals @ light, 0.0, 1.0)
        corners.append(to_pixels(points)[triangles])
        colours.append(np.clip(shade[triangles].mean(axis=1)[:, None] * colour, 0, 255))
    canvas.triangles(np.concatenate(corners), np.concatenate(colours))
    if lines:
        ends = np.concatenate([np.stack([line[:-1], line[1:]], axis=1) for line in map(to_pixels, lines)])
        canvas.segments(ends, 0.01 * scale * float(span.max()))
