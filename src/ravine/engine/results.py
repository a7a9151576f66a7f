"""What the tasks of an edit and its line give back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class BodyMesh:
    """body: its entry in the scene; packet: triangles against its former shape, None where that is unchanged."""

    body: dict[str, Any]
    packet: bytes | None


@dataclass(frozen=True)
class Stored:
    """An edit's new state: its address, the blobs it needs besides those that are stored already, the edit's name."""

    address: str
    blobs: Mapping[str, bytes]
    edit: str


@dataclass(frozen=True)
class Edited:
    """sentence, facts, warnings: as the journal keeps them; files: what an export wrote; numbers: mm of every length
    field; pieces: node, number and whether it is dropped; scene: where it changed; cut, width: of the section it is
    shown in; pins: kept measures of the result; stored: None of a preview, and where nothing changed."""

    sentence: str
    facts: list[dict[str, Any]]
    warnings: list[str]
    files: Mapping[str, bytes] = field(default_factory=dict)
    numbers: Mapping[str, float | None] = field(default_factory=dict)
    pieces: list[dict[str, Any]] = field(default_factory=list)
    meshes: list[BodyMesh] = field(default_factory=list)
    scene: dict[str, Any] | None = None
    cut: bytes | None = None
    width: dict[str, Any] | None = None
    pins: list[dict[str, Any]] | None = None
    stored: Stored | None = None


@dataclass(frozen=True)
class LineStart:
    """What the line opens with: for every field its text and its words; the handle; fields that say nothing; and those
    that are as usual and may stay folded."""

    texts: Mapping[str, str]
    words: Mapping[str, str]
    handle: dict[str, Any] | None
    idle: tuple[str, ...]
    folded: tuple[str, ...] = ()
