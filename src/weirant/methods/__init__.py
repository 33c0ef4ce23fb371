"""Published formulae as pure functions, one subject a file, and the registry that offers them by name."""
