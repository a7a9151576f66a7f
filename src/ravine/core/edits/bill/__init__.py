"""What parts are in lists and orders."""

from ..declared import load_family

load_family(__name__, __path__)
