"""Sheet metal: taken as sheet, flanged, ripped, bent, mended, cut on the flat."""

from ..declared import load_family

load_family(__name__, __path__)
