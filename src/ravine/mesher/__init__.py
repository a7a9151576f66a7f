"""Fills solids with tetrahedra, in a process of its own: its geometry library must not meet ours in one."""
