"""What of the library suits the soil beside a run: every cloth, stone and sand by what its contacts ask, and every way to build with all of them."""

from __future__ import annotations

import dataclasses
from collections import Counter
from collections.abc import Iterator, Mapping

from weirant.checks.filters import STRETCH
from weirant.checks.sand import sand_to_stone
from weirant.design.graded_filter import GradedFilter, graded_filters
from weirant.errors import InputError, WeirantError
from weirant.ground.stretches import Make
from weirant.job.section import AT_JOINTS, FULL_WRAP, IN_SAND, IN_SOIL, NO_WRAP, SOCK, TOP_SHEET, WRAPS
from weirant.language import tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass

CLOTH, STONE, SAND = "cloth", "stone", "sand"
OF_CLOTH, OF_STONE = ("retention", "permittivity", "clogging"), ("stone-drains", "stone-pipe")


@dataclass(frozen=True)
class Suited:
    """A product by its kind and key, with the state of each contact by its finding's code, and the worst of them."""

    kind: str
    key: str
    name: str
    states: Mapping[str, State]

    @property
    def worst(self) -> State:
        """The worst of its contacts; unknown for none."""
        return min(self.states.values(), key=lambda state: state.rank, default=State.UNKNOWN)


@dataclass(frozen=True)
class Suits:
    """Products from those that suit to those that do not, the graded filters that fit, and of all ways to build with every product how many come out how."""

    products: tuple[Suited, ...]
    graded: tuple[GradedFilter, ...]
    ways: Mapping[State, int]

    def of(self, kind: str) -> tuple[Suited, ...]:
        """Those of a kind."""
        return tuple(product for product in self.products if product.kind == kind)


def suited(outcome: Outcome, found: RunOutcome) -> Suits:
    """All of the library beside the soil where most of a run collects. Raises InputError where it does not collect."""
    if found.run.collecting_length < 0.1:
        raise InputError(found.run.name, tr("does not collect: there is nothing that could clog"))
    products, ways = _looked_through(outcome, found)
    try:
        graded = tuple(graded_filters(outcome.beside(found, found.part.station).gradation, outcome.library))
    except WeirantError:
        graded = ()
    return Suits(tuple(sorted(products, key=lambda s: -s.worst.rank)), graded, ways)


def counted_ways(outcome: Outcome, found: RunOutcome) -> Counter[State]:
    """Of every separation with every product of the library, how many come out how."""
    return _looked_through(outcome, found)[1]


def _looked_through(outcome: Outcome, found: RunOutcome) -> tuple[tuple[Suited, ...], Counter[State]]:
    make, soil = found.make(found.part.station), outcome.beside(found, found.part.station)
    cloths, stones, sands = ({item.key: item for item in made} for made in (_cloths(outcome, make, soil), _stones(outcome, make, soil), _sands(outcome, make, soil)))
    return (*cloths.values(), *stones.values(), *sands.values()), _ways(outcome, make, soil, cloths, stones, sands)


def _states(outcome: Outcome, make: Make, soil: SoilFigures, codes: tuple[str, ...]) -> dict[str, State]:
    found = {code: STRETCH[code](outcome, make, soil) for code in codes}
    return {code: finding.state for code, finding in found.items() if finding is not None}


def _cloths(outcome: Outcome, make: Make, soil: SoilFigures) -> Iterator[Suited]:
    for cloth in outcome.library.geotextiles.values():
        section = dataclasses.replace(make.section, wrap=FULL_WRAP if cloth.roll_width else SOCK)
        yield Suited(CLOTH, cloth.key, cloth.name, _states(outcome, dataclasses.replace(make, section=section, geotextile=cloth), soil, OF_CLOTH))


def _stones(outcome: Outcome, make: Make, soil: SoilFigures) -> Iterator[Suited]:
    """Bare against the soil; what it is behind cloth leaves that contact out."""
    section = dataclasses.replace(make.section, wrap=NO_WRAP)
    for stone in outcome.library.aggregates.values():
        yield Suited(STONE, stone.key, stone.name, _states(outcome, dataclasses.replace(make, section=section, aggregate=stone), soil, ("soil-stone", *OF_STONE)))


def _sands(outcome: Outcome, make: Make, soil: SoilFigures) -> Iterator[Suited]:
    """Round the stone that is drawn."""
    section = dataclasses.replace(make.section, wrap=IN_SAND)
    for sand in outcome.library.aggregates.values():
        within = dataclasses.replace(make, section=section, sand=sand)
        states = _states(outcome, within, soil, ("soil-stone", "stone-drains"))
        if states["soil-stone"] != State.FAILS:  # what does not hold the soil is no filter, and its stone need not be asked
            held = sand_to_stone(outcome, within, soil)
            yield Suited(SAND, sand.key, sand.name, states | ({"sand-stone": held.state} if held is not None else {}))


def _ways(outcome: Outcome, make: Make, soil: SoilFigures, cloths: Mapping[str, Suited], stones: Mapping[str, Suited], sands: Mapping[str, Suited]) -> Counter[State]:
    """Of every separation with every stone and every cloth or sand that it has, how many come out how: contacts do not hang on each other."""
    by_rank, library = {state.rank: state for state in State}, outcome.library
    best = max(by_rank)
    behind = {key: min(state.rank for code, state in of.states.items() if code != "soil-stone") for key, of in stones.items()}
    found: Counter[State] = Counter()
    for wrap in WRAPS:
        if wrap == SOCK:
            found.update(by_rank[rank] for rank in _in_socks(outcome, make, soil, cloths, stones))
            continue
        if wrap == IN_SOIL:
            found.update(of.worst for of in cloths.values())  # no stone
            continue
        if wrap == IN_SAND:
            for key, of in sands.items():
                within = dataclasses.replace(make, section=dataclasses.replace(make.section, wrap=IN_SAND), sand=library.aggregate(key))
                own = min(of.states[code].rank for code in ("soil-stone", "stone-drains"))
                for other in stones.values():
                    aggregate = library.aggregate(other.key)
                    held = sand_to_stone(outcome, dataclasses.replace(within, aggregate=aggregate), soil)
                    dirty = best if aggregate.washed else State.FAILS.rank
                    found[by_rank[min(own, other.states["stone-pipe"].rank, dirty, held.state.rank if held is not None else best)]] += 1
            continue
        codes = {TOP_SHEET: ("retention",)}.get(wrap, OF_CLOTH) if wrap not in (NO_WRAP, AT_JOINTS) else ()
        ranks = [min(of.states[code].rank for code in codes) for key, of in cloths.items() if library.geotextile(key).roll_width] if codes else [best]
        is_bare = bool(dataclasses.replace(make.section, wrap=wrap).is_bare_at)
        for stone in stones.values():
            rank = stone.worst.rank if is_bare else behind[stone.key]
            found.update(by_rank[min(rank, of_cloth)] for of_cloth in ranks)
    return found


def _in_socks(outcome: Outcome, make: Make, soil: SoilFigures, cloths: Mapping[str, Suited], stones: Mapping[str, Suited]) -> Iterator[int]:
    """Ranks of every stone round every cloth on the pipe, where the stone lies against the cloth if that has the finer openings."""
    section = dataclasses.replace(make.section, wrap=SOCK)
    against: dict[tuple[str, float], int] = {}
    for key, of in cloths.items():
        cloth = outcome.library.geotextile(key)
        opening = min(cloth.o95, make.pipe.opening)
        for stone, other in stones.items():
            if (stone, opening) not in against:
                socked = dataclasses.replace(make, section=section, geotextile=cloth, aggregate=outcome.library.aggregate(stone))
                held = STRETCH["stone-pipe"](outcome, socked, soil)
                against[stone, opening] = held.state.rank if held is not None else max(state.rank for state in State)
            yield min(of.worst.rank, other.states["soil-stone"].rank, other.states["stone-drains"].rank, against[stone, opening])
