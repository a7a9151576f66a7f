"""Room between parts: gaps, overlaps, and the fits of shafts in holes."""
