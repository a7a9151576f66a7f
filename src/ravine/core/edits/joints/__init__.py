"""Joints between parts, and motion as they leave it free."""

from ..declared import load_family

load_family(__name__, __path__)
