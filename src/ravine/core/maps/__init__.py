"""Figures over the whole surface of a body, to be shown as colours: thickness, draft, deviation, curvature."""
