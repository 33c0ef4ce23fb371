"""Weirant: French drains and curtain drains, planned, checked and kept."""

__version__ = "0.21.4"
