"""Strips: faces that keep one section along a straight way or around an axis.  What is done to their section is done
to all of it, so edits on strips are worked out flat and swept along.

A section plane has the coordinates (across, up): for a straight strip two directions square to its way, for a round
one the distance from the axis and the height along it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..kernel import build
from ..kernel.shapes import Shape
from ..rigid import Rigid
from .failure import LocalFailure
from .surfaces import Floats, Surface
from .topology import SolidTopology

EVEN = 1e-7  # mm by which things may leave one section


@dataclass(frozen=True)
class Line:
    """Where a carrier meets the section plane: points p with normal @ p = level; the normal looks out of the body."""

    normal: Floats
    level: float

    def meets(self, other: Line) -> Floats:
        system = np.stack([self.normal, other.normal])
        if abs(float(np.linalg.det(system))) < 1e-9:
            raise LocalFailure("its neighbours run side by side", [])
        found: Floats = np.linalg.solve(system, np.array([self.level, other.level]))
        return found


@dataclass(frozen=True)
class Way:
    """origin: a point of the section plane at `low`; across, up: unit vectors there.  Straight along `along` from 0
    to `length` mm, or around the axis through `origin` along `along` by `length` radians (closed: all around)."""

    origin: Floats
    across: Floats
    up: Floats
    along: Floats
    length: float
    turning: bool
    closed: bool = False

    def motion(self, at: float) -> Rigid:
        if self.turning:
            return Rigid.about(self.origin, self.along, at)
        return Rigid.slide(at * self.along)

    def point(self, flat: Floats, at: float = 0.0) -> Floats:
        spot = self.origin + flat[0] * self.across + flat[1] * self.up
        return self.motion(at).points(spot[None])[0]

    def flat(self, points: Floats) -> Floats:
        """(n, 2) of points (n, 3) anywhere along the way."""
        off = points - self.origin
        if not self.turning:
            return np.stack([off @ self.across, off @ self.up], axis=1)
        height = off @ self.up
        return np.stack([np.linalg.norm(off - height[:, None] * self.up, axis=1), height], axis=1)

    def line(self, surface: Surface, sign: float, face: int) -> Line:
        """Raises LocalFailure where the carrier does not run along the way or is curved across it."""
        pcurves = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
        if self.turning:
            pcurves = pcurves + np.array([10.0, 0.0])
        at_start = np.array([self.point(f) for f in pcurves])
        later = np.array([self.point(f, 0.37 * self.length) for f in pcurves])
        here, there = (sign * surface.distance(p)[0] for p in (at_start, later))
        slope = np.array([here[1] - here[0], here[2] - here[0]])
        if np.abs(here - there).max() > EVEN or abs(float(np.linalg.norm(slope)) - 1) > 1e-6:
            raise LocalFailure("a neighbour does not keep its section along it", [face])
        return Line(slope, float(slope @ pcurves[0] - here[0]))

    def solid(self, corners: Sequence[Floats], through: Sequence[Floats | None], low: float, high: float) -> Shape:
        """The section between two places along the way; `through` as the bulges of kernel.build.outline."""
        spots = [self.point(c, low).tolist() for c in corners]
        bulges = [None if b is None else self.point(b, low).tolist() for b in through]
        face = build.outline(spots, bulges)
        if self.turning:
            return build.revolve(face, self.origin.tolist(), self.along.tolist(), high - low)
        return build.extrude(face, ((high - low) * self.along).tolist())


def way_along(topology: SolidTopology, contacts: Sequence[int], face: int) -> Way:
    """The way of a strip from the edges along it: lines side by side, or circles about one axis."""
    curves = [topology.curve(e) for e in contacts]
    kinds = {c.kind for c, _, _ in curves}
    frames = [c.frame for c, _, _ in curves if c.frame is not None]
    if kinds == {"line"} and len(frames) == len(curves):
        along = frames[0].z
        if any(abs(float(f.z @ along)) < 1 - 1e-10 for f in frames):
            raise LocalFailure("its long edges do not run side by side", [face])
        points = np.concatenate([topology.samples(e) for e in contacts])
        reach = points @ along
        across = _square_to(along)
        origin = points[int(reach.argmin())]
        return Way(origin, across, np.cross(along, across), along, float(np.ptp(reach)), False)
    if kinds == {"circle"} and len(frames) == len(curves):
        return _way_around(topology, contacts, face)
    raise LocalFailure("its long edges are neither straight nor round", [face])


def _way_around(topology: SolidTopology, contacts: Sequence[int], face: int) -> Way:
    frame = topology.curve(contacts[0])[0].frame
    assert frame is not None
    axis = np.cross(frame.x, frame.y)
    for edge in contacts:
        other = topology.curve(edge)[0].frame
        assert other is not None
        off = other.origin - frame.origin
        if abs(float(np.cross(other.x, other.y) @ axis)) < 1 - 1e-10 or (
            float(np.linalg.norm(off - (off @ axis) * axis)) > EVEN
        ):
            raise LocalFailure("its long edges are not around one axis", [face])
    points = np.concatenate([topology.samples(e, 33) for e in contacts]) - frame.origin
    turns = np.sort(np.mod(np.arctan2(points @ frame.y, points @ frame.x), 2 * np.pi))
    gaps = np.diff(np.append(turns, turns[0] + 2 * np.pi))
    widest = int(gaps.argmax())
    closed = bool(gaps[widest] < 0.3)
    start = 0.0 if closed else float(turns[(widest + 1) % len(turns)])
    length = 2 * np.pi if closed else float(2 * np.pi - gaps[widest])
    across = np.cos(start) * frame.x + np.sin(start) * frame.y
    return Way(frame.origin, across, axis, axis, length, True, closed)


def _square_to(along: Floats) -> Floats:
    least = np.eye(3)[int(np.abs(along).argmin())]
    found = np.cross(along, least)
    return found / np.linalg.norm(found)
