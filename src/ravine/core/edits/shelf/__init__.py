"""Parts from the shelf."""

from ..declared import load_family

load_family(__name__, __path__)
