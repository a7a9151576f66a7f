"""Simulation of small linear displacements on second-order tetrahedra: arrays, no shapes and no people.

Lengths in mm, forces in N, stresses in MPa, temperatures in K, masses in tonnes (so that N = t mm/s²).
"""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
