"""Meshes in views: their lines, and where sections cut them."""
