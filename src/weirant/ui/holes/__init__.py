"""Test holes: the log, tests with a stopwatch, and what all of it says of the soil."""
