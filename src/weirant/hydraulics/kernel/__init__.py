"""Compiled loops of the routing of storms through pipes."""
