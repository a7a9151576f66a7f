"""Studies of how parts hold: begun, supported, loaded."""

from ..declared import load_family

load_family(__name__, __path__)
