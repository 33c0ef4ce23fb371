"""Sentences with gaps: ``{fact}``, and clauses in brackets that are said only where what they need is there."""

from __future__ import annotations

import re
from collections.abc import Callable

from weirant.records import dataclass

_CLAUSE = re.compile(r"\[(?:(?P<not>!?)(?P<when>\w+)\?)?(?P<text>[^\[\]]*)\]")
_GAP = re.compile(r"\{(\w+)\}")


@dataclass(frozen=True)
class _Clause:
    """Text with gaps between its pieces: ``pieces`` has one more than ``gaps``. Said where ``when`` is true (or not, if ``is_not``), or else where
    all gaps of an optional clause are filled.
    """

    pieces: tuple[str, ...]
    gaps: tuple[str, ...]
    is_optional: bool = False
    when: str = ""
    is_not: bool = False


@dataclass(frozen=True)
class Template:
    """A sentence with gaps, parsed once."""

    clauses: tuple[_Clause, ...]

    def filled(self, has: Callable[[str], bool], said: Callable[[str], str]) -> str:
        """The sentence: ``has`` tells whether a fact is there and true, ``said`` how it is said. Raises KeyError for a gap that nothing fills."""
        out = []
        for clause in self.clauses:
            if clause.when:
                if has(clause.when) == clause.is_not:
                    continue
            elif clause.is_optional and not all(has(gap) for gap in clause.gaps):
                continue
            out.append(clause.pieces[0])
            for gap, piece in zip(clause.gaps, clause.pieces[1:], strict=True):
                out += (said(gap), piece)
        return "".join(out)


def parsed(text: str) -> Template:
    """The template of a text."""
    clauses, at = [], 0
    for found in _CLAUSE.finditer(text):
        clauses += [_clause(text[at : found.start()]), _clause(found["text"], True, found["when"] or "", found["not"] == "!")]
        at = found.end()
    clauses.append(_clause(text[at:]))
    return Template(tuple(clause for clause in clauses if clause.pieces != ("",)))


def _clause(text: str, is_optional: bool = False, when: str = "", is_not: bool = False) -> _Clause:
    parts = _GAP.split(text)  # text, gap, text, gap, …, text
    return _Clause(tuple(parts[::2]), tuple(parts[1::2]), is_optional, when, is_not)
