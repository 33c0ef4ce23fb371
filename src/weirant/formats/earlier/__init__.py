"""Job files of earlier versions: how they were made, and the steps, one a version, that bring them to today's shape."""

from __future__ import annotations

from typing import Any

from weirant.formats.earlier.step_5 import with_identities
from weirant.formats.earlier.step_6 import as_network
from weirant.formats.earlier.step_7 import with_sections
from weirant.formats.earlier.step_8 import with_places
from weirant.formats.earlier.step_9 import with_what_is_carried
from weirant.formats.earlier.step_10 import with_basins
from weirant.formats.earlier.step_16 import with_tested_layers

Fields = dict[str, Any]
STEPS = {4: with_identities, 5: as_network, 6: with_sections, 7: with_places, 8: with_what_is_carried, 9: with_basins,
         15: with_tested_layers}  # from the version that is named to the next


def brought_up(job: Fields, version: int) -> Fields:
    """The fields of a job of a version, as they are read, in today's shape. Versions 1 to 3 only lack what the fourth has defaults for, 10 to 14 what the fifteenth has, 16 to 18 what
    today's has.
    """
    for number in range(max(version, 4), max(STEPS) + 1):
        job = STEPS[number](job) if number in STEPS else job
    return job
