"""Ground levels from the level book, the grade line under them, daylight and the cut sheet."""
