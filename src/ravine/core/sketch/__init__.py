"""Plane sketches: what is drawn (`entities`), what holds it (`constraints`), the solver, and the areas it closes.

entities.py   points and curves of a sketch as immutable values
constraints.py      constraints and dimensions: what each says in formulas
solver.py     from constraints to places; degrees of freedom, conflicts
flats.py      curves as places by a parameter, their crossings
areas.py      closed areas by arrangement of all curves
drawing.py    changes: add, erase, drag, trim, snap points together
"""
