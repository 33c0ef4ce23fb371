"""From a job to its outcome: assembles ground, water, pipe, filter and earth, and runs the checks."""
