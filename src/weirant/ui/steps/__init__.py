"""The steps in trade order: the rail, their state in words, and the entry strip of each."""
