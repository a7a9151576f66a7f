"""Check-up and mending: what is wrong with a body, and putting it right in place."""
