"""Parts in their tree: placed, repeated, replaced, named, locked."""

from ..declared import load_family

load_family(__name__, __path__)
