"""A build against its catalogue: contexts, the interface of a stage, outcomes, the report."""
