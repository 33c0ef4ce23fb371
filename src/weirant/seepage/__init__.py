"""Water in the ground: the section simulator, the line model, and samples of what is not known.

Knows no job: a section, its soils and its rain are given as plain data in SI.
"""
