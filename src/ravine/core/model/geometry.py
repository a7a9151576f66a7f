"""Geometry by content address: blobs, the shapes read from them, and what is worked out once per shape."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator, MutableMapping
from contextlib import contextmanager
from functools import cached_property
from typing import Any, TypeVar

from ..address import digest
from ..box import Box
from ..errors import EditError, RavineError, UnknownId
from ..kernel import serial
from ..kernel.properties import MassProperties, area_properties, bounding_box, rough_box
from ..kernel.rebuild import rooted
from ..kernel.shapes import Shape, ShapeIndex
from ..kernel.volumes import volume_between, volume_properties
from ..local.topology import SolidTopology
from .face_table import FaceTable
from .snapshot import Snapshot
from .trimesh_body import TriangleMesh


class Solid:
    """An exact shape with its index and properties, each made on first use, or taken over from a local edit."""

    def __init__(self, shape: Shape) -> None:
        self.shape = shape
        self.read_faces: Callable[[], FaceTable] = lambda: FaceTable.read(self.topology)

    @classmethod
    def reshaped(cls, topology: SolidTopology, volume: float) -> Solid:
        """After a local edit, which knows the new index and the volume (mm³)."""
        found = cls(topology.index.shape)
        found.__dict__.update(topology=topology, index=topology.index, volume_mm3=volume)
        return found

    def with_faces_changed(self, topology: SolidTopology, faces: frozenset[int], volume_change: float) -> Solid:
        """After a local edit of some faces: what was read of the others still holds.  volume_change: mm³."""
        found = Solid.reshaped(topology, self.volume_mm3 + volume_change)
        if "faces" in self.__dict__:
            table = self.faces
            found.read_faces = lambda: table.after(topology, faces)
        return found

    def took_from(self, before: Solid) -> None:
        """Faces shared with the solid before need not be read again."""
        if "faces" in before.__dict__ and "faces" not in self.__dict__:
            table, index = before.faces, before.index
            self.read_faces = lambda: table.carried(index, self.topology)

    @classmethod
    def weighed(cls, shape: Shape, volume: float) -> Solid:
        """With its volume (mm³), where that is known already."""
        found = cls(shape)
        found.__dict__["volume_mm3"] = volume
        return found

    @classmethod
    def mapped(cls, index: ShapeIndex) -> Solid:
        """Of a shape whose parts are mapped already."""
        found = cls(index.shape)
        found.__dict__["index"] = index
        return found

    def turned_into(self, shape: Shape) -> Solid:
        """A solid that kept many of this one's faces: its volume comes from the faces that came and went."""
        index = ShapeIndex(shape)
        gone = [f for f in self.index.all("face") if index.find("face", f) < 0]
        new = [f for f in index.all("face") if self.index.find("face", f) < 0]
        found = Solid.mapped(index)
        found.__dict__["volume_mm3"] = self.volume_mm3 + (volume_between(gone, new) if gone or new else 0.0)
        return found

    @cached_property
    def index(self) -> ShapeIndex:
        return ShapeIndex(self.shape)

    @cached_property
    def topology(self) -> SolidTopology:
        """What the local engine works on: the same solid in the same order, without placements inside."""
        return SolidTopology(rooted(self.index))

    @cached_property
    def faces(self) -> FaceTable:
        """What its faces are, as columns to search."""
        return self.read_faces()

    @cached_property
    def volume_mm3(self) -> float:
        return self.volume.amount

    @cached_property
    def volume(self) -> MassProperties:
        return volume_properties(self.shape)

    @cached_property
    def area(self) -> float:
        return abs(area_properties(self.shape).amount)

    @cached_property
    def rough_box(self) -> Box:
        return rough_box(self.shape)

    @cached_property
    def box(self) -> Box:
        return bounding_box(self.shape)


Geometry = Solid | TriangleMesh
T = TypeVar("T")
REMEMBERED = 8
UNFOLDED = 9  # times its bytes, what a shape takes at hand with its index, its triangles and what was read of it


class GeometryStore:
    """A bounded cache over a source of blobs.

    `put_shape` and `put_mesh` return the address; new blobs wait until whoever keeps them has called `take_fresh`.
    Within `drafts`, shapes get a passing name instead, which spares writing them out for a mere preview.
    """

    def __init__(
        self,
        source: Callable[[str], bytes] | None = None,
        limit: int = 400,
        states: MutableMapping[str, Snapshot] | None = None,
    ) -> None:
        self.states = {} if states is None else states
        self._source = source
        self._sizes: dict[str, int] = {}
        self._size = 0
        self._blobs: dict[str, bytes] = {}
        self._live: OrderedDict[str, Geometry] = OrderedDict()
        self._bytes: dict[str, bytes] = {}  # of the live shapes that have been written or read
        self._limit = limit
        self._drafts: list[str] = []
        self._count = 0  # of all drafts ever: a name is never given twice
        self.drafting = False
        self._remembered: dict[int, OrderedDict[Any, Any]] = {}

    def remembered(self, key: Any, make: Callable[[], T], most: int = REMEMBERED) -> T:
        """What was made for a key, the last few: for what is asked again and again of one state.  most: how many, of
        all that are kept so many at a time."""
        rows = self._remembered.setdefault(most, OrderedDict())
        if key not in rows:
            rows[key] = make()
            while len(rows) > most:
                rows.popitem(last=False)
        rows.move_to_end(key)
        return rows[key]

    def put_shape(self, shape: Shape) -> str:
        return self.put_solid(Solid(shape))

    def put_solid(self, solid: Solid) -> str:
        if self.drafting:
            self._count += 1
            address = f"draft {self._count}"
            self._drafts.append(address)
            self._keep(address, solid)
            return address
        blob = serial.to_bytes(solid.shape)
        address = digest(blob)
        self._blobs[address] = blob
        self._keep(address, solid, blob)
        return address

    @contextmanager
    def drafts(self, passing: bool = True) -> Iterator[None]:
        """While the block runs, shapes get passing names where `passing` says so; afterwards these are forgotten."""
        self.drafting = passing
        try:
            yield
        finally:
            self.drafting = False
            for address in self._drafts:
                self._forget(address)
            self._drafts.clear()

    def put_mesh(self, mesh: TriangleMesh) -> str:
        blob = mesh.to_bytes()
        address = digest(blob)
        self._blobs[address] = blob
        self._keep(address, mesh, blob)
        return address

    def put_picture(self, data: bytes) -> str:
        """Only kept: nothing in the core looks into it again."""
        address = digest(data)
        self._blobs[address] = data
        return address

    def add_blob(self, address: str, blob: bytes) -> None:
        if digest(blob) != address:
            raise RavineError("stored geometry does not match its address; the database is damaged")
        if address not in self._live:
            self._keep(address, self._read(blob), blob)

    def put_state(self, snapshot: Snapshot) -> str:
        """A state of another model, to be linked in."""
        address, _ = snapshot.stored()
        self.states[address] = snapshot
        return address

    def state(self, address: str) -> Snapshot:
        if address not in self.states:
            if self._source is None:
                raise UnknownId(f"there is no other state “{address[:20]}” here; states come in with put_state")
            self.states[address] = Snapshot.from_json(self._source(address).decode())
        return self.states[address]

    def has(self, address: str) -> bool:
        return address in self._live or address in self._blobs

    def get(self, address: str) -> Geometry:
        if address in self._live:
            self._live.move_to_end(address)
            return self._live[address]
        blob = self._blobs.get(address)
        if blob is None:
            if self._source is None:
                raise LookupError(address)
            blob = self._source(address)
        geometry = self._read(blob)
        self._keep(address, geometry, blob)
        return geometry

    def restore(self, address: str) -> None:
        """Read a shape afresh from its bytes, after an operation damaged the live one."""
        blob = self._bytes.get(address) or self._blobs.get(address)
        if blob is None:
            raise EditError("the kernel could not merge the faces of this preview; accepting it may still work")
        self._keep(address, self._read(blob), blob)

    def restore_all(self, addresses: Iterable[str]) -> None:
        """The same for every live shape among these that has been written, after it is not known which was damaged."""
        for address in set(addresses):
            if address in self._live and (address in self._bytes or address in self._blobs):
                self.restore(address)

    def solid(self, address: str) -> Solid:
        geometry = self.get(address)
        if not isinstance(geometry, Solid):
            raise TypeError(address)
        return geometry

    def blob(self, address: str) -> bytes:
        """As it was first written.  A live shape is not written again for it: operations and meshing leave notes in
        a shape (curves on planes, triangles), so its bytes would differ."""
        found = self._blobs.get(address) or self._bytes.get(address)
        if found is not None:
            return found
        if self._source is None:
            raise LookupError(address)
        return self._source(address)

    def take_fresh(self, wanted: set[str] | None = None) -> dict[str, bytes]:
        """Blobs made since the last call (only those in `wanted`, when given); the rest are forgotten."""
        fresh, self._blobs = self._blobs, {}
        return {a: b for a, b in fresh.items() if wanted is None or a in wanted}

    @staticmethod
    def _read(blob: bytes) -> Geometry:
        if blob.startswith(TriangleMesh.MAGIC):
            return TriangleMesh.from_bytes(blob)
        return Solid(serial.from_bytes(blob))

    def _keep(self, address: str, geometry: Geometry, blob: bytes | None = None) -> None:
        self._live[address] = geometry
        self._live.move_to_end(address)
        if blob is not None:
            self._bytes[address] = blob
        size = UNFOLDED * len(blob) if blob is not None else 0
        self._size += size - self._sizes.get(address, 0)
        self._sizes[address] = size
        while len(self._live) > self._limit:
            self._forget(next(iter(self._live)))

    def trim(self, most_bytes: int, but: set[str]) -> None:
        """Forget what was used longest ago, until the rest takes about as much memory as it may.  but: what stays,
        since it is asked for again at once."""
        for address in [a for a in self._live if a not in but]:
            if self._size <= most_bytes:
                break
            self._forget(address)

    def _forget(self, address: str) -> None:
        self._live.pop(address, None)
        self._bytes.pop(address, None)
        self._size -= self._sizes.pop(address, 0)
