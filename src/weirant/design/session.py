"""What one document keeps from one assessment to the next, so that an edit works out again only what it can change."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

Given = TypeVar("Given")
Kept = dict[str, tuple[tuple[Any, ...], Any]]


class Session:
    """Results by name, each good as long as what it rests on is the very same. What an assessment did not ask for is dropped after it.

    A session that is made ``beside`` another looks there too and leaves it alone: a trial costs what it changes, and puts nothing out.
    """

    def __init__(self, beside: Session | None = None) -> None:
        self._beside = beside
        self._kept: Kept = {}
        self._asked: Kept = {}

    def once(self, name: str, on: tuple[Any, ...], make: Callable[[], Given], is_like: Callable[[Given, Given], bool] | None = None, *, of: tuple[str, ...] = ()) -> Given:
        """The last result under a name where what it rests on is the same: long lists and objects by identity, plain values by value. Also where what is
        made anew ``is_like`` it: then what rests on it by identity is not worked out again. What it is made ``of``, by name, is kept with it unasked.
        """
        last = None
        for kept in (self._kept, self._asked) if self._beside is None else (self._kept, self._asked, self._beside._kept):
            before = kept.get(name)
            if before is not None and _are_same(before[0], on):
                self._asked[name] = before
                self._asked |= {part: kept[part] for part in of}
                found: Given = before[1]
                return found
            last = last or before
        made = make()
        if is_like is not None and last is not None and is_like(last[1], made):
            made = last[1]
        self._asked[name] = (on, made)
        return made

    def again(self, name: str, make: Callable[[Given | None], Given]) -> Given:
        """What is made of the last result under a name, where there is one, and what it rests on now."""
        before = next((kept[name][1] for kept in (self._asked, self._kept, *([] if self._beside is None else [self._beside._kept])) if name in kept), None)
        self._asked[name] = ((), made := make(before))
        return made

    def rest(self) -> None:
        """An assessment is done: keep what it asked for."""
        self._kept, self._asked = self._asked, {}


def _are_same(before: tuple[Any, ...], on: tuple[Any, ...]) -> bool:
    if len(before) != len(on):
        return False
    for a, b in zip(before, on, strict=True):  # noqa: SIM110 – asked some hundred times with every step of a drag, where a generator costs as much again
        if a is not b and (isinstance(a, tuple) or a != b):
            return False
    return True
