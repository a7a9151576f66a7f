"""What counts as the same: one name and one reason each.  Lengths in mm, angles in rad, shares of one.

Limits that belong to one algorithm only stand beside it; what several rooms must agree on stands here.
"""

from __future__ import annotations

SAME_PLACE = 1e-7
"""What the kernel takes as one place (its own confusion); corners, borders and carriers are solved to it."""

TOUCHING = 1e-6
"""Parts and places this near are in touch: ten times SAME_PLACE, so that what was solved to it is never apart; steps
below it change nothing that could be seen or made."""

NOTHING = 1e-6
"""mm³ of matter that counts as none: a film of TOUCHING over a square millimetre."""

TANGENT = 2e-3
"""Between normals along an edge that is smooth; as measured on imported parts, whose kernels are that coarse."""

ONE_DIRECTION = 1e-9
"""1 − |cos| below which two directions are one, about 4.5e-5 rad: what turning a part in double precision leaves."""

AGREES = 1e-6
"""Share by which a volume or an area may miss what was worked out in another way; integration errs by less."""

ALIGNED = 1e-9
"""mm and rad by which two axes may differ and still be one already: nothing would change by lining them up."""
