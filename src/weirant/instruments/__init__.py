"""Levels and satellite rovers on a serial line, and stand-ins that behave like them over a pseudo-terminal."""
