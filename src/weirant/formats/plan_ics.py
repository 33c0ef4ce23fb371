"""A plan as a calendar of days, with alarms; and what was moved in one read back."""

from __future__ import annotations

import datetime
from hashlib import sha256
from pathlib import Path
from urllib.parse import quote, unquote

from weirant import __version__
from weirant.design.upkeep import Upkeep
from weirant.errors import JobFileError
from weirant.formats.plain_files import read_plain, write_safely
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.plan import VISIT, WAITS, WorkPlan
from weirant.words.plan import hours_words

LARGEST, DOMAIN = 5_000_000, "weirant.invalid"
ALARMED = (WAITS, VISIT)


def plan_ics(job: Job, plan: WorkPlan, upkeep: tuple[Upkeep, ...] = ()) -> bytes:
    """Every task as whole days, those that are waited for and visits with an alarm the day before; what is to be done every year repeats."""
    from icalendar import Alarm, Calendar, Event  # slow to load, and needed only where a calendar is written

    book = Calendar()
    book.add("prodid", f"-//weirant//{__version__}//EN")
    book.add("version", "2.0")
    book.add("x-wr-calname", " ".join(job.name.split()))
    stamp = datetime.datetime.combine(plan.start, datetime.time(), datetime.UTC)

    def add(key: str, words: str, first: datetime.date, last: datetime.date, note: str, *, alarm: bool, yearly: bool = False) -> None:
        event = Event()
        event.add("uid", _uid(job, key))
        event.add("dtstamp", stamp)
        event.add("summary", words)
        event.add("dtstart", first)
        event.add("dtend", last + datetime.timedelta(days=1))
        if note:
            event.add("description", note)
        if yearly:
            event.add("rrule", {"freq": "yearly"})
        if alarm:
            bell = Alarm()
            bell.add("action", "DISPLAY")
            bell.add("description", words)
            bell.add("trigger", datetime.timedelta(hours=-12))
            event.add_component(bell)
        book.add_component(event)

    for task in plan.tasks:
        first, last = plan.dates[task.id]
        note = hours_words(task) + (f", {tr(task.machine)}" if task.machine else "") if task.hours else ""
        add(task.id, task.name, first, last, note, alarm=task.kind in ALARMED)
    done = max((last for _, last in plan.dates.values()), default=plan.start)
    for one in upkeep:
        day = datetime.date(done.year + (one.month <= done.month), one.month, 15)
        add(f"yearly {one.key}", one.words, day, day, job.name, alarm=True, yearly=True)
    found: bytes = book.to_ical()
    return found


def write_plan_ics(job: Job, plan: WorkPlan, upkeep: tuple[Upkeep, ...], path: Path) -> None:
    """Write the calendar to a file."""
    write_safely(path, plan_ics(job, plan, upkeep))


def read_dates(path: Path, job: Job) -> dict[str, datetime.date]:
    """The first day of each task of a job in a calendar that came back, by the identity of the task. Raises JobFileError where it is none, or knows nothing of the job."""
    return dates_of(read_plain(path, LARGEST, tr("a calendar")), job, path.name)


def dates_of(data: bytes, job: Job, name: str) -> dict[str, datetime.date]:
    """The same of the bytes of a file of a name."""
    from icalendar import Calendar

    try:
        book = Calendar.from_ical(data)
        events = [event for event in book.walk("VEVENT") if str(event.get("uid", "")).startswith(_mark(job))]
        found = {unquote(str(event["uid"]).partition(".")[2].rpartition("@")[0]): event.decoded("dtstart") for event in events}
    except (ValueError, KeyError, IndexError, UnicodeDecodeError, AttributeError) as fault:
        raise JobFileError(tr("{name} is no calendar: {fault}", name=name, fault=str(fault)[:120])) from fault
    if not found:
        raise JobFileError(tr("{name} holds no task of {job}.", name=name, job=job.name))
    return {key: day.date() if isinstance(day, datetime.datetime) else day for key, day in found.items() if isinstance(day, datetime.date)}


def _mark(job: Job) -> str:
    return sha256(job.name.encode()).hexdigest()[:12] + "."


def _uid(job: Job, key: str) -> str:
    return f"{_mark(job)}{quote(key, safe='')}@{DOMAIN}"
