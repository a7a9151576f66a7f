"""A stand-in for a supplier of standard parts: a process of its own with an HTTP interface, invented makers, numbers,
prices and stock, and a switch that takes it out of service.  `python -m ravine.supplier SOCKET FOLDER`."""
