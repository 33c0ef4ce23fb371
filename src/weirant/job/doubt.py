"""Why a figure is not known for sure: a code, what it is about, and what was refused where something was."""

from __future__ import annotations

from weirant.records import dataclass


@dataclass(frozen=True)
class Doubt:
    """What must be measured before a figure is known, or why the way that water takes is not decided; ``subject`` is an identity, ``detail`` a refusal."""

    code: str
    subject: str = ""
    detail: str = ""
