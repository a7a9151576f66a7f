"""Measurements, each as a ratio to the bare kernel call or against its budget in docs/architecture.md, in one run."""
