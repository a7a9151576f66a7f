"""What the faces of a plain solid mean: holes, slots, pockets, steps, grooves, bosses, ribs, rounds, chamfers, clusters
of these, and repeats of any of them, read from the geometry alone."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
