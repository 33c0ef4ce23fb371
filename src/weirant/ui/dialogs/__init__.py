"""Dialogs: why a number is what it is, all actions, recovery."""
