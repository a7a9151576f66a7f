"""Drawings: views of the model as lines that know their edge, what is written on them, and sheets of paper."""
