"""What leaves as a whole: one page to look at, the package for a supplier."""

from ..declared import load_family

load_family(__name__, __path__)
