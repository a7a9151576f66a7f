"""Cutting a model open by a plane: outlines for the view, exact curves and areas, widths of gaps and walls."""
