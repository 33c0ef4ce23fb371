"""Water through a network in time: levels and flows together, implicit, with steps as long as what is stored changes evenly.

The equations are those of ``parting`` with what really is stored at each section; ``routing`` says what each array holds.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from weirant.compiling import compiled
from weirant.hydraulics.kernel.pipe_section import holds_at, passes_at

TURNS, PATIENCE = 40, 8  # of Newton within a step; after how many it goes by halves where it gets no nearer
REACH, FALLS = 0.5, 0.9  # m by which no level rises more in a turn, and share of its depth by which none falls more
AHEAD = 1.0  # m by which the fall along a reach may be more than it is
LEAST = 1e-7  # of the flow, under which a change of friction is taken as no less
LOST = 1e-15  # of a pivot, under which all its digits have cancelled
TRICKLE = 1e-5  # m³/s, of which no smaller share than of a larger flow is asked for: still water is not to be solved to the last digit
NEAR = 1e-7  # of the flow by which the last turn may still change one
LEVEL = 1e-7  # m by which the last turn may still change a level
WEIR = 1.66  # m^0.5/s of water over an edge: FHWA HEC-22, eq. 7-5 (recalled)
ENOUGH = 1e3  # times as much is taken where no better is found: what is left open is made up for in the next step
SHORTEST = 1e-3  # s: a step that fails as short as that is given up
BRIEF = 1.0  # s, under which no step is made shorter for being uneven
MOST_FAILS = 100  # one after another
STILL = 1e-7  # of what comes in, by which what is stored may still change
DONE, FAILED = 0, 1
LOST_WAY, FOUND, ROUGHLY = 0, 1, 2  # of a step
LONG, PATIENT = 60.0, 3  # s of a step that was found only roughly, which is tried shorter, and how often


@compiled()
def stored(level: Any, sections: Any, reaches: Any, volume: Any, width: Any) -> None:
    """Fill the water that stands at each section m³ (s,) and its surface m² (s,): in half of each reach that meets there, the stone round it, and its box."""
    low, plan = sections[0], sections[1]
    above, below, invert_above, invert_below, length, diameter, _, pipes, pores, stone, _ = reaches
    for k in range(low.size):
        volume[k] = plan[k] * (level[k] - low[k])
        width[k] = plan[k]
    for r in range(above.size):
        for end in range(2):
            k = above[r] if end == 0 else below[r]
            depth = level[k] - (invert_above[r] if end == 0 else invert_below[r])
            if depth > 0.0 and pipes[r] + pores[r] > 0.0:
                holds, wide = holds_at(depth, diameter[r])
                half = 0.5 * length[r]
                volume[k] += half * (pipes[r] * holds + pores[r] * min(depth, stone[r]))
                width[k] += half * (pipes[r] * wide + (pores[r] if depth < stone[r] else 0.0))


@compiled()
def _brought(now: float, moments: Any, volumes: Any, out: Any) -> None:
    """Fill what each source has brought by a time, in its own measure: straight between the moments, and on after the last as before it."""
    last = moments.size - 1
    k = min(max(np.searchsorted(moments, now), 1), last)
    share = (now - moments[k - 1]) / (moments[k] - moments[k - 1])
    for source in range(out.size):
        out[source] = volumes[source, k - 1] + share * (volumes[source, k] - volumes[source, k - 1])


@compiled()
def _stands(now: float, moments: Any, levels: Any) -> float:
    """The level at a time: straight between the moments, and after the last as there."""
    k = min(max(np.searchsorted(moments, now), 1), moments.size - 1)
    share = min((now - moments[k - 1]) / (moments[k] - moments[k - 1]), 1.0)
    return float(levels[k - 1] + share * (levels[k] - levels[k - 1]))


@compiled()
def _spills(over: float, edge: float) -> float:
    """What runs over an edge m that water stands over by so many m, m³/s."""
    return WEIR * edge * over * math.sqrt(over) if over > 0.0 else 0.0


@compiled()
def _lifts(level: float, stops: float, starts: float, least: float, most: float) -> tuple[float, float]:
    """What a pump lifts over its cycles, m³/s, and its growth with the level: in the mean as much of what it can as the level is from where it stops to
    where it starts; over that it runs. It can lift ``least`` at the one and ``most`` at the other.
    """
    share = (level - stops) / (starts - stops)
    if share <= 0.0:
        return 0.0, 0.0
    can, slope = least + (most - least) * share, (most - least) / (starts - stops)
    if share >= 1.0:
        return can, slope
    return can * share, slope * share + can / (starts - stops)


@compiled()
def _is_idle(now: float, since: float, until: float) -> bool:
    """Whether a pump stands still in a step that begins now."""
    return since - SHORTEST < now < until - SHORTEST


@compiled()
def _step(step: float, now: float, sections: Any, reaches: Any, ways: Any, pumps: Any, inflow: Any, before: Any, level: Any, flow: Any, volume: Any, room: Any) -> int:
    """Levels, flows and volumes a step s later, in place; whether they were found, or only roughly. ``inflow`` m³/s over the step."""
    low, _, rim, edge, leads, free = sections
    above, below, invert_above, invert_below, length, diameter, full, _, _, _, kind = reaches
    at, to, stops, starts, least, most_lifted, lifts_at, idle_from, idle_to = pumps
    row_of, column_of, spills_at, order, start, neighbour, row, column, meets_from, meets = ways
    matrix, wanted, change, width, ahead, by_above, by_below = room
    through = TRICKLE
    for k in range(low.size):
        through += abs(inflow[k])
    for r in range(above.size):
        high, under = level[above[r]], level[below[r]]
        fall = max(high, invert_above[r]) - max(under, invert_below[r])
        carries = passes_at(max(high, under) - max(invert_above[r], invert_below[r]), fall, diameter[r], full[r], kind[r])[0]
        flow[r] = math.copysign(carries * math.sqrt(abs(fall) / length[r]), fall)
        through = max(through, abs(flow[r]))
    last, damp = 0.0, 1.0
    for turn in range(TURNS):
        stored(level, sections, reaches, volume, width)
        matrix[:] = 0.0
        for k in range(low.size):
            matrix[k] = width[k] / step
            wanted[k] = inflow[k] - (volume[k] - before[k]) / step
        for k in range(low.size):
            over = level[k] - rim[k]
            if over > 0.0:
                spills, grows = _spills(over, edge[k]), 1.5 * WEIR * edge[k] * math.sqrt(over)
                wanted[k] -= spills
                matrix[k] += grows
                if leads[k] >= 0:
                    wanted[leads[k]] += spills
                    if spills_at[k] >= 0:
                        matrix[spills_at[k]] -= grows
        for p in range(at.size):
            if _is_idle(now, idle_from[p], idle_to[p]):
                continue
            lifted, grows = _lifts(level[at[p]], stops[p], starts[p], least[p], most_lifted[p])
            wanted[at[p]] -= lifted
            matrix[at[p]] += grows
            if to[p] >= 0:
                wanted[to[p]] += lifted
                if lifts_at[p] >= 0:
                    matrix[lifts_at[p]] -= grows
        for r in range(above.size):
            a, b = above[r], below[r]
            high, under = level[a], level[b]
            fall = max(high, invert_above[r]) - max(under, invert_below[r])
            carries, growth = passes_at(max(high, under) - max(invert_above[r], invert_below[r]), fall, diameter[r], full[r], kind[r])
            bound = carries * math.sqrt((abs(fall) + AHEAD) / length[r])  # or what a way that falls dry carried would take many turns to die away
            flow[r] = min(max(flow[r], -bound), bound)
            drag = 2.0 * length[r] * max(abs(flow[r]), LEAST * through)
            pull, wider = carries * carries, 2.0 * carries * growth * fall
            up = pull if high > invert_above[r] else 0.0
            down = pull if under > invert_below[r] else 0.0
            if high >= under:
                up += wider
            else:
                down -= wider
            by_above[r], by_below[r] = up / drag, down / drag
            ahead[r] = (pull * fall - length[r] * flow[r] * abs(flow[r])) / drag
            goes = flow[r] + ahead[r]
            wanted[a] -= goes
            wanted[b] += goes
            matrix[a] += by_above[r]
            matrix[b] += by_below[r]
            if row_of[r] >= 0:
                matrix[row_of[r]] -= by_below[r]
                matrix[column_of[r]] -= by_above[r]
        for k in range(low.size):
            change[k] = matrix[k]
        for k in range(order.size):
            p = order[k]
            if not free[p]:
                continue
            matrix[p] = max(matrix[p], LOST * change[p])  # where all digits cancel, in what stands still
            first, count = start[k], start[k + 1] - start[k]
            for i in range(count):
                share = matrix[column[first + i]] / matrix[p]
                wanted[neighbour[first + i]] -= share * wanted[p]
                for j in range(count):
                    matrix[meets[meets_from[k] + i * count + j]] -= share * matrix[row[first + j]]
        largest, sound = 0.0, True
        for k in range(order.size - 1, -1, -1):
            p = order[k]
            if not free[p]:
                change[p] = 0.0
                continue
            left = wanted[p]
            for i in range(start[k], start[k + 1]):
                left -= matrix[row[i]] * change[neighbour[i]]
            change[p] = left / matrix[p]
            sound = sound and math.isfinite(change[p])
        if not sound:
            return LOST_WAY
        for k in range(low.size):
            depth = max(level[k] - low[k], 0.0)
            change[k] = damp * min(max(change[k], -FALLS * depth - LEVEL), max(REACH, depth))
            level[k] += change[k]
            largest = max(largest, abs(change[k]))
        if turn >= PATIENCE:  # to and fro over a corner
            damp = max(0.5 * damp, 0.1) if largest > 0.7 * last else min(2.0 * damp, 1.0)
        last, most = largest, 0.0
        for r in range(above.size):
            more = ahead[r] + by_above[r] * change[above[r]] - by_below[r] * change[below[r]]
            flow[r] += more
            most = max(most, abs(more))
        fine = ENOUGH if turn == TURNS - 1 else 1.0
        if most <= fine * NEAR * through and largest <= fine * (LEVEL + 1e-12 * abs(level[0])):
            stored(level, sections, reaches, volume, width)
            return FOUND if turn < TURNS - 1 else ROUGHLY
    return LOST_WAY


@compiled()
def route(until: float, first: float, longest: float, even: float, sections: Any, reaches: Any, ways: Any, pumps: Any, brings: Any, outside: Any, level: Any, matrix: Any,
          kept_at: Any, frames: Any, tops: Any, course: Any, totals: Any) -> tuple[int, int]:  # fmt: skip
    """Follow a network from levels (s,), in place, with room for the matrix, for ``until`` s, in steps from ``first`` to ``longest`` s, over which what is stored may begin
    to change by no more than a share ``even`` of the most that comes in. Fills the frames at the moments kept, the tops (highest level and most flow,
    and when; what spilled), the course of what leaves and of what comes to each pump and is lifted, and the totals: what came, left, spilled, was stored
    before and after, is left open, and was lifted away, m³.
    ``outside`` are the sections of the exits and the levels there, between moments. Gives how it ended and the number of steps.
    """
    exits, held_at, held = outside
    low, _, rim, edge, leads, free = sections
    above, below = reaches[0], reaches[1]
    moments, volumes, source, into, weight, stops = brings
    levels_kept, flows_kept = frames
    level_top, level_when, flow_top, flow_when, spilled, spill_top, spill_when = tops
    times, lengths, holds, leaves, comes, lifts = course
    count, pieces = low.size, above.size
    volume, before, width = np.empty(count), np.empty(count), np.empty(count)
    room = (matrix, np.empty(count), np.empty(count), width, np.empty(pieces), np.empty(pieces), np.empty(pieces))
    flow, tried, inflow, left_open = np.zeros(pieces), np.empty(count), np.zeros(count), np.zeros(count)
    stop = 0
    rose, last = np.zeros(count), np.inf
    had, has, changed, changes = np.empty(volumes.shape[0]), np.empty(volumes.shape[0]), np.zeros(count), np.zeros(count)
    stored(level, sections, reaches, before, width)
    totals[3] = before.sum()
    now, step, kept, steps, most, fails, status = 0.0, first, 0, 0, 1e-12, 0, DONE
    _brought(0.0, moments, volumes, had)
    while now < until * (1.0 - 1e-12):
        while stop < stops.size and stops[stop] <= now + SHORTEST:
            stop += 1
        step = min(step, longest, until - now)
        if stop < stops.size:
            step = min(step, stops[stop] - now)
        _brought(now + step, moments, volumes, has)
        came = 0.0
        for k in range(count):
            inflow[k] = left_open[k] / step  # what the last turn before left open: made up for at once
            tried[k] = max(level[k] + min(1.0, step / last) * rose[k], min(level[k], low[k] + LEVEL)) if fails == 0 else level[k]  # as it went on
        for e in range(exits.size):
            tried[exits[e]] = _stands(now + step, held_at, held[e])
        for m in range(source.size):
            brought = weight[m] * (has[source[m]] - had[source[m]])
            inflow[into[m]] += brought / step
            came += brought
        found = _step(step, now, sections, reaches, ways, pumps, inflow, before, tried, flow, volume, room)
        if found == LOST_WAY or (found == ROUGHLY and step > LONG and fails < PATIENT):
            fails += 1
            step *= 0.25
            if step < SHORTEST or fails > MOST_FAILS:
                status = FAILED
                break
            continue
        fails, uneven, filling = 0, 0.0, 0.0
        for k in range(count):
            changes[k] = (volume[k] - before[k]) / step if free[k] else 0.0
            uneven += abs(changes[k] - changed[k])
            filling += abs(changes[k])
        most = max(most, came / step)
        roughness = 0.5 * uneven / (even * most)
        if roughness > 2.0 and step > BRIEF and steps > 0:
            step = max(step * max(0.25, 0.8 / math.sqrt(roughness)), BRIEF)
            continue
        began = now
        now += step
        last = step
        totals[0] += came
        for k in range(count):
            changed[k] = changes[k]
            spills = _spills(tried[k] - rim[k], edge[k])
            left_open[k] = (inflow[k] - spills) * step - (volume[k] - before[k])
            rose[k] = tried[k] - level[k]
            before[k], level[k] = volume[k], tried[k]
            spilled[k] += spills * step
            if leads[k] < 0:
                totals[2] += spills * step
            if spills > spill_top[k]:
                spill_top[k], spill_when[k] = spills, now
            if level[k] > level_top[k]:
                level_top[k], level_when[k] = level[k], now
        for k in range(count):
            if leads[k] >= 0:
                left_open[leads[k]] += _spills(level[k] - rim[k], edge[k]) * step
        for r in range(pieces):
            left_open[above[r]] -= flow[r] * step
            left_open[below[r]] += flow[r] * step
            if abs(flow[r]) > abs(flow_top[r]):
                flow_top[r], flow_when[r] = flow[r], now
        for p in range(pumps[0].size):
            at, to = pumps[0][p], pumps[1][p]
            lifted = _lifts(level[at], pumps[2][p], pumps[3][p], pumps[4][p], pumps[5][p])[0] if not _is_idle(began, pumps[7][p], pumps[8][p]) else 0.0
            left_open[at] -= lifted * step
            if to >= 0:
                left_open[to] += lifted * step
            else:
                totals[6] += lifted * step
            if steps < times.size:
                comes[steps, p], lifts[steps, p] = lifted + changes[at] + _spills(level[at] - rim[at], edge[at]), lifted
        for e in range(exits.size):
            totals[1] += left_open[exits[e]]
            if steps < times.size:
                leaves[steps, e] = left_open[exits[e]] / step
            left_open[exits[e]] = 0.0
        if steps < times.size:
            times[steps], lengths[steps], holds[steps] = now, step, before.sum()
        steps += 1
        while kept < kept_at.size and kept_at[kept] <= now * (1.0 + 1e-12):
            levels_kept[kept] = level
            flows_kept[kept] = flow
            kept += 1
        for s in range(had.size):
            had[s] = has[s]
        if even == np.inf and filling <= STILL * most:  # it has settled
            break
        step = max(step * min(2.0, max(0.5, 0.9 / math.sqrt(max(roughness, 0.05)))), min(2.0 * step, BRIEF))
    totals[4] = before.sum()
    totals[5] = np.abs(left_open).sum()
    return status, steps
