"""How parts look and what they are made of."""

from ..declared import load_family

load_family(__name__, __path__)
