"""Plan, profile and section as primitives with meaning, in metres, without any Qt: drawn once, rendered many times."""
