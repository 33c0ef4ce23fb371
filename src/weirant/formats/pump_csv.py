"""The curve of a pump as CSV: what it moves against a head, a point a line."""

from __future__ import annotations

from itertools import pairwise

from weirant.errors import JobFileError
from weirant.formats.csv_text import table_of
from weirant.job.network import PumpPoint
from weirant.language import tr

FLOWS = {"discharge_gpm": 3.785411784e-3 / 60, "discharge_l_per_s": 1e-3, "discharge_l_per_min": 1e-3 / 60, "discharge_m3_per_h": 1 / 3600}
HEADS = {"head_ft": 0.3048, "head_m": 1.0}
MOST = 40
USE = tr("Head the columns discharge_gpm (or discharge_l_per_s, discharge_l_per_min, discharge_m3_per_h) and head_ft (or head_m).")


def read_pump_curve(text: str, name: str) -> tuple[PumpPoint, ...]:
    """Read a curve; raises JobFileError with every line that cannot be understood, or where it does not fall as more flows."""
    empty = tr("{name} holds no pump curve. {use}", name=name, use=USE)
    _, rows = table_of(text, name, empty)
    if len(rows) < 2:
        raise JobFileError(empty)
    heading = [cell.strip().lower() for cell in rows[0][1]]
    flow, head = (next((i for i, cell in enumerate(heading) if cell in units), None) for units in (FLOWS, HEADS))
    if flow is None or head is None:
        raise JobFileError(tr("{name}: the headings {heading} cannot be told. {use}", name=name, heading=", ".join(rows[0][1]), use=USE))
    found, wrong = [], []
    for number, row in rows[1:]:
        try:
            discharge, lifted = (float(row[i].strip().replace(",", ".")) for i in (flow, head))
            if not (0 <= discharge < 1e6 and 0 <= lifted < 1e4):
                raise ValueError
            found.append(PumpPoint(discharge * FLOWS[heading[flow]], lifted * HEADS[heading[head]]))
        except (ValueError, IndexError):
            wrong.append((tr("line {number}", number=number), tr("is not a discharge and a head: {row}", row=", ".join(row))))
    found.sort(key=lambda point: point.discharge)
    if not wrong and (len(found) < 2 or any(b.discharge <= a.discharge or b.head >= a.head for a, b in pairwise(found))):
        wrong.append(("curve", tr("needs two points or more, of growing discharge and falling head")))
    if not wrong and len(found) > MOST:
        wrong.append(("curve", tr("holds {count} points; at most {most} are taken", count=len(found), most=MOST)))
    if not wrong and (found[-1].discharge > 1 or found[0].head > 100):
        wrong.append(("curve", tr("goes beyond what a pump in a pit does (1 m³/s, 100 m): look at its units")))
    if wrong:
        raise JobFileError(tr("{name} cannot be read as a pump curve:", name=name), tuple(wrong[:20]))
    return tuple(found)
