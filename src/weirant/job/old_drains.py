"""Old drains that were opened: what was found in them, which run of the job they are, and their pictures."""

from __future__ import annotations

from weirant.job.answers import Answer
from weirant.job.fields import plain, quantity, several
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k

MOST_PICTURES = 50


@dataclass(frozen=True)
class OldDrain:
    """A drain that was opened: its ``age`` in years, its pipe's inner size m, the sediment m in it, the share of its openings that is shut, what was ``seen``
    of it by question, and pictures by the path of their file; ``run`` is the run of the job that it is, empty while it is none.
    """

    id: str = plain("identity of the old drain", "d1")
    name: str = plain("name of the old drain", tr("old drain"))
    run: str = plain("the run that it is", "")
    age: float | None = quantity("age in years", k.COUNT, at_least=0, at_most=500, default=None)
    size: float | None = quantity("inside of its pipe", k.SECTION, above=0, at_most=2, default=None)
    sediment: float | None = quantity("sediment in its pipe", k.SECTION, at_least=0, at_most=2, default=None)
    blocked: float | None = quantity("share of its openings that is shut", k.SHARE, at_least=0, at_most=1, default=None)
    seen: tuple[Answer, ...] = several("what was seen in it", ())
    pictures: tuple[str, ...] = several("pictures", (), most=MOST_PICTURES)
