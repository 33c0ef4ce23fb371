"""The one sheet of the window and its parts."""
