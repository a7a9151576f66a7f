"""The pages: Flask, Jinja fragments swapped by htmx, and a canvas fed with packets."""
