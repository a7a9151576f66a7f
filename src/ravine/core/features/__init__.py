"""What the faces of a plain solid mean: holes, slots, pockets, steps, grooves, bosses, ribs, rounds, chamfers, clusters
of these, and repeats of any of them, read from the geometry alone."""
