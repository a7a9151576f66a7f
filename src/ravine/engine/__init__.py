"""Runs the core in worker processes: a pool with deadlines, memory limits, a warm spare, caches and cancel.

The seam for other ways to run (a cluster) is `ravine.engine.client.Engine`: `call(task, args, …)`.
"""

PRELOADED = ["ravine.engine.preloaded"]  # modules that are loaded before workers are forked
