"""The findings, worst first, always in sight."""
