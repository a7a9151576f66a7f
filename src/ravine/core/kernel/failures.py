"""What the kernel raises.  Its exceptions have no common base in the bindings."""

from __future__ import annotations

import OCP.Standard
import OCP.StdFail

KERNEL_FAILURES: tuple[type[Exception], ...] = tuple(
    found
    for module in (OCP.Standard, OCP.StdFail)
    for found in vars(module).values()
    if isinstance(found, type) and issubclass(found, Exception)
)


class SpoiledInput(Exception):
    """Merging went wrong and left the input shapes damaged; they must be read afresh from their bytes."""
