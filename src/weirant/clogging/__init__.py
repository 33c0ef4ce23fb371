"""What fills and blinds a drain over the years: soil let go by the water that comes, and where it stays. Whole arrays of soils at once, no interface."""
