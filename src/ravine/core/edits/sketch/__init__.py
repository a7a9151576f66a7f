"""What is drawn in a sketch."""

from ..declared import load_family

load_family(__name__, __path__)
