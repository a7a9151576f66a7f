"""The model: immutable snapshots, the queries on them, and the journal that leads from one to the next."""
