"""Features of solids: their sizes, lifted out, planted."""

from ..declared import load_family

load_family(__name__, __path__)
