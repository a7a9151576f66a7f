"""A print service that ships with the application: an invented one, which another can take the place of."""
