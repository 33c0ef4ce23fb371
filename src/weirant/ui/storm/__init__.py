"""Watching a storm on the section: the page, its pictures and the work beside the interface."""
