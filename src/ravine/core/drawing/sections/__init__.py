"""Cut open: along which line, with what, and what of it is hatched."""
