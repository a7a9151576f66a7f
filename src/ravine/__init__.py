"""Ravine: direct push-pull editing of 3D parts and assemblies."""

__version__ = "0.1.0"
