"""The commands behind ./ravine."""
