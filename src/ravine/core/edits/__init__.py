"""Every edit, one file each in the folder of its family.  Importing this package enters them all in the registry."""

from . import assembly, bodies, edges, exchange, faces, looks, meshes, sketch, solids
from .base import Edit, EditError, PickSummary
from .fields import Context
from .registry import find_edit, registry, schema_of

__all__ = [
    "Context", "Edit", "EditError", "PickSummary", "assembly", "bodies", "edges", "exchange", "faces",
    "find_edit", "looks", "meshes", "registry", "schema_of", "sketch", "solids",
]  # fmt: skip
