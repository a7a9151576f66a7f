"""Trials: parts of many families are edited, built once more at the sizes that the edit should give, and compared.

families: how the parts are built, and which edit leads to which sizes; variants: the same parts as other hands leave
them (cylinders in halves, all as splines, placed oddly, in inches, tiny, huge); judging: one trial and its verdict.
"""
