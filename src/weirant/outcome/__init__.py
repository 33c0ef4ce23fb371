"""What was computed of a job: figures with their provenance, findings, quantities. Plain data, no computation."""
