"""Sieves called by their number instead of their opening."""

from __future__ import annotations

import re

# openings m of the sieves of the alternative designation, ASTM E11 (recalled)
NUMBERED = {4: 4.75e-3, 5: 4.0e-3, 6: 3.35e-3, 7: 2.8e-3, 8: 2.36e-3, 10: 2.0e-3, 12: 1.7e-3, 14: 1.4e-3, 16: 1.18e-3, 18: 1.0e-3, 20: 850e-6, 25: 710e-6, 30: 600e-6, 35: 500e-6,
            40: 425e-6, 45: 355e-6, 50: 300e-6, 60: 250e-6, 70: 212e-6, 80: 180e-6, 100: 150e-6, 120: 125e-6, 140: 106e-6, 170: 90e-6, 200: 75e-6, 230: 63e-6, 270: 53e-6,
            325: 45e-6, 400: 38e-6}  # fmt: skip
_NUMBER = re.compile(r"(?:no\.?|nr\.?|#)\s*(\d+)", re.IGNORECASE)


def sieve_opening(text: str) -> float | None:
    """The opening m of a sieve such as ``No. 200`` or ``#40``; None for what is no number of a sieve."""
    found = _NUMBER.fullmatch(text.strip())
    return NUMBERED.get(int(found[1])) if found else None
