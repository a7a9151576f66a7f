"""What a screen needs of a model: the scene, triangles as packets, pictures, and words about what is picked."""

from typing import TYPE_CHECKING

from ..lazy import modules_of

if not TYPE_CHECKING:
    __getattr__ = modules_of(__name__)
