"""Other sizes and numbers of pipe for a run, in words."""

from __future__ import annotations

from weirant.design.pipe_choices import PipeOption
from weirant.design.pipe_prices import ChoiceCost
from weirant.ground.inverts import least_slope
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList
from weirant.outcome.site import RunOutcome
from weirant.units.display import DISCHARGE, SECTION, SHARE, SLOPE, VOLUME, WATER_VOLUME, System, shown
from weirant.words.order import money_words

HEADS = (tr("pipes"), tr("they carry"), tr("so full"), tr("own pipe ×"), tr("trench at least"), tr("stone"), tr("they hold"), tr("cost"), tr("for its money ×"))


def cells(choice: PipeOption, cost: ChoiceCost | None, system: System) -> tuple[str, ...]:
    """One of them as a row under the heads; the last two where it has a price."""
    name = choice.pipe.name if choice.count == 1 else tr("{count} × {pipe}", count=choice.count, pipe=choice.pipe.name)
    times = f"{choice.times:.2f}" if choice.times < 1 else f"{choice.times:.1f}"
    return (name, shown(choice.capacity, DISCHARGE, system), shown(choice.share, SHARE, system), times, shown(choice.width, SECTION, system),
            shown(choice.stone, VOLUME, system) if choice.stone else "–", shown(choice.holds, WATER_VOLUME, system),
            money_words(cost.cost) if cost else "–", tr("{times:.2f}", times=cost.for_the_money) if cost else "–")  # fmt: skip


def told(outcome: Outcome, found: RunOutcome, choices: tuple[PipeOption, ...], prices: PriceList) -> str:
    """What they are compared for: the flow and the fall; and how many of the smallest other carry what the run's own do."""
    system, own = System(outcome.job.units), choices[0]
    said = tr("{run}: {flow} at the most, {slope} where it is flattest. Trench width with {gap} of stone beside and between; stone and what pipe and stone hold along the run.",
              run=found.run.name, flow=shown(own.share * own.capacity, DISCHARGE, system), slope=shown(least_slope(found.run)[0], SLOPE, system),
              gap=shown(outcome.rules.side_room, SECTION, system))  # fmt: skip
    if prices.prices:
        said += " " + tr("Cost by {name} in {currency}, with the work, each in the trench it wants; for its money: what it carries beside the run's own pipes at the same cost.",
                         name=prices.name, currency=prices.currency or tr("its money"))  # fmt: skip
    smaller = [c for c in choices[1:] if c.equals > 1.05 and c.count > 1]
    if not smaller:
        return said
    nearest = min(smaller, key=lambda c: c.equals)
    return said + " " + tr("It takes {number:.1f} of {pipe} to carry what its own carry.", number=nearest.equals, pipe=nearest.pipe.name)


