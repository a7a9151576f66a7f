"""Every edit, one file each in the folder of its family.  Importing this package enters them all in the registry."""

from . import (
    assembly,
    bill,
    bodies,
    dimensions,
    drawing,
    edges,
    exchange,
    faces,
    features,
    joints,
    looks,
    meshes,
    printing,
    sharing,
    sheet,
    shelf,
    simulate,
    sketch,
    solids,
)  # fmt: skip
from .base import Edit, PickSummary
from .fields import Context
from .registry import find_edit, registry

__all__ = [
    "Context", "Edit", "PickSummary", "assembly", "bill", "bodies", "dimensions", "drawing", "edges", "exchange",
    "faces", "features", "find_edit", "joints", "looks", "meshes", "printing", "registry", "sharing", "sheet",
    "shelf", "simulate", "sketch", "solids",
]  # fmt: skip
