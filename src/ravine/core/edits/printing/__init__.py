"""How parts are printed."""

from ..declared import load_family

load_family(__name__, __path__)
