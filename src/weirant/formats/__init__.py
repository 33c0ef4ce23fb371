"""Files: the job file, rod readings and cut sheets as CSV; reader and writer of each together."""
