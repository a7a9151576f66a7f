"""What the pages and jobs do with models: load a state, have the engine work on it, keep the result."""
