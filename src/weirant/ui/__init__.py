"""The window: views that are given the document, show it, and ask it for edits."""
