"""Records against the dataclasses of the standard library, of which they are to differ in nothing but when their methods are written."""

from __future__ import annotations

import copy
import dataclasses
import pickle

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weirant import records


class _Fields:
    a: int
    b: tuple[int, ...] = ()
    c: list[int] = dataclasses.field(default_factory=list, compare=False)
    d: str = dataclasses.field(default="x", repr=False)
    e: int = dataclasses.field(default=0, kw_only=True)


def of(dataclass, **options):
    return dataclass(**options)(type("Rec", (), {"__annotations__": _Fields.__annotations__, **{k: v for k, v in vars(_Fields).items() if k in "bcde"}}))


OPTIONS = [{"frozen": True}, {"frozen": True, "eq": False}, {}, {"eq": False}]


@pytest.mark.parametrize("options", OPTIONS)
@given(values=st.lists(st.tuples(st.integers(0, 2), st.tuples(st.integers(0, 1)), st.integers(0, 1)), min_size=2, max_size=4))
def test_as_the_standard_library_makes_them(options, values):
    told = []
    for cls in (of(records.dataclass, **options), of(dataclasses.dataclass, **options)):
        made = [cls(a, b, [a], e=e) for a, b, e in values]
        swapped = dataclasses.replace(made[0], e=5)
        hashes = [hash(m) for m in made] if options == {"frozen": True} else cls.__hash__ is None
        told.append(([repr(m).rsplit(".", 1)[-1] for m in (*made, swapped)], [[x == y for y in made] for x in made], hashes, dataclasses.asdict(swapped),
                     [f.name for f in dataclasses.fields(cls)], made[0] == values[0], cls.__match_args__))  # fmt: skip
    assert told[0] == told[1]


@pytest.mark.parametrize(("args", "names"), [((), {}), ((1, 2, 3, 4, 5), {}), ((1,), {"f": 1}), ((1,), {"a": 2})])
def test_wrong_arguments_are_refused_in_the_same_words(args, names):
    said = []
    for dataclass in (records.dataclass, dataclasses.dataclass):
        with pytest.raises(TypeError) as refused:
            of(dataclass, frozen=True)(*args, **names)
        said.append(str(refused.value))
    assert said[0] == said[1]


@records.dataclass(frozen=True)
class Kept:
    """At home in a module, as a pickle wants it."""

    a: int
    seen: list[int] = dataclasses.field(default_factory=list)

    def __post_init__(self):
        self.seen.append(self.a)


def test_a_frozen_one_stays_as_it_is_and_may_be_copied():
    kept = Kept(1)
    for change in (lambda: setattr(kept, "a", 2), lambda: delattr(kept, "a"), lambda: setattr(kept, "z", 2)):
        with pytest.raises(dataclasses.FrozenInstanceError, match=r"cannot change '[az]' of Kept"):
            change()
    assert Kept(1).seen == [1] and pickle.loads(pickle.dumps(kept)) == copy.deepcopy(kept) == kept and kept != (1, [1])
