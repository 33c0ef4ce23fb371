"""Sentences with known checksums, and the stand-ins heard over a real pseudo-terminal."""

from __future__ import annotations

import os
import time
import tty

import pytest

from weirant.errors import InputError
from weirant.instruments.messages import Position, StaffReading, checksum, read_message
from weirant.instruments.receiver import Averager, Heard, InstrumentError, Receiver
from weirant.instruments.stand_ins import ORIGIN, StandIn, gga, level_lines, rover_lines, sentence

# two sentences printed with their checksums in many manuals of NMEA 0183 (recalled)
EVERLASTING = "$GPGGA,123519,4807.038,N,01131.000,E,1,08,0.9,545.4,M,46.9,M,,*47"
ISLAND = "$GPGGA,092750.000,5321.6802,N,00630.3372,W,1,8,1.03,61.7,M,55.2,M,,*76"
ANY = (1, 2, 4, 5)


@pytest.mark.parametrize(("line", "longitude", "latitude", "height"), [
    (EVERLASTING, 11 + 31 / 60, 48 + 7.038 / 60, 545.4), (ISLAND, -(6 + 30.3372 / 60), 53 + 21.6802 / 60, 61.7)])  # fmt: skip
def test_known_sentences(line, longitude, latitude, height):
    assert checksum(line[1:].split("*")[0]) == line[-2:]
    fix = read_message(line + "\r\n", ANY)
    assert isinstance(fix, Position) and (fix.longitude, fix.latitude, fix.height) == pytest.approx((longitude, latitude, height))


@pytest.mark.parametrize(("line", "says"), [
    (EVERLASTING.replace("545", "546"), "checksum does not agree"), (EVERLASTING[:-3], "has no checksum"), ("rubbish", "does not begin with"),
    (EVERLASTING, "not good enough to level with .plain fix."), (sentence(gga(0, 0, 0, 0, 0)), "sees too few satellites"),
    (sentence("GPGGA,123519,4807.038,N,01131.000,E,4,08,0.9,,M,46.9,M,,"), "lacks its position or height"),
    (sentence("GPGGA,123519,,N,01131.000,E,4,08,0.9,5.0,M,46.9,M,,"), "lacks its position|cannot be read|holds no numbers"),
    (sentence("PWLVL,1.2,m,NOBEAM"), "sees no staff"), (sentence("PWLVL,x,m,OK"), "is no number"), (sentence("PWLVL,nan,m,OK"), "longer than any staff"),
    (sentence("PWLVL,1.2"), "has not the form"),
    (sentence("GPGGA,123519,4807.038,N,81131.000,E,4,08,0.9,5.0,M,46.9,M,,"), "nowhere on the earth"), (sentence("GPGGA,1,4899.0,N,01131.0,E,4,8,1,5.0,M,4,M,,"), "nowhere on the earth"),
    (sentence("GPGGA,123519,4807.038,N,01131.000,E,x,08,0.9,5.0,M,46.9,M,,"), "holds no numbers"), (sentence("GPGGA,1,48o7.0,N,01131.0,E,4,8,1,5.0,M,4,M,,"), "holds no numbers"),
    (sentence("GPGGA,1,4807.0,N,01131.0,E,4,eight,1,5.0,M,4,M,,"), "holds no numbers"), (sentence("GPGGA,1,4807.0,N,01131.0,E,4,8,1,9001,M,4,M,,"), "not one on land"),
    (sentence("GPGGA,1,4807.0,,01131.0,,4,8,1,5.0,M,4,M,,"), "north or south"), (sentence("GPGGA"), "sees too few|cannot be read|holds no numbers"),
])  # fmt: skip
def test_doubtful_sentences_are_refused(line, says):
    with pytest.raises(InputError, match=says):
        read_message(line)


def test_other_sentences_are_passed_over_and_feet_turned():
    assert read_message(sentence("GPGSV,1,1,00")) is None and read_message("  ") is None
    assert read_message(sentence("PWLVL,4.0,ft,OK")) == StaffReading(4.0 * 0.3048)


def heard_shot(lines, wanted=5, seconds=12.0):
    """The averaged shot of a stand-in, and what was refused on the way."""
    stand_in = StandIn(lines, 60.0)
    receiver = Receiver(stand_in.port)
    averager, refused, until = Averager(wanted), [], time.monotonic() + seconds
    try:
        while time.monotonic() < until:
            for heard in receiver.take():
                averager.add(heard)
                refused += [heard.refused] if heard.refused else []
            if (shot := averager.shot(time.monotonic())) is not None:
                return shot, refused
            time.sleep(0.02)
    finally:
        receiver.close()
        stand_in.close()
    raise AssertionError("no shot came")


def test_one_bad_line_does_not_end_the_listening(monkeypatch):
    """A right checksum round a bad field once ended the thread in silence; so would any error that nobody foresaw."""
    read = read_message
    monkeypatch.setattr("weirant.instruments.receiver.read_message", lambda text, kinds: {}["field"] if "odd" in text else read(text, kinds))
    bad = [sentence("GPGGA,1,48o7.0,N,01131.0,E,4,8,1,5.0,M,4,M,,"), "$PWLVL,odd*00", sentence("PWLVL,1.5,m,OK")]
    shot, refused = heard_shot(iter(bad * 50), 3)
    assert shot.values[0] == 1.5 and any("holds no numbers" in r for r in refused) and any("could not be read (KeyError)" in r for r in refused)


def test_a_level_is_averaged_over_the_line():
    shot, refused = heard_shot(level_lines(lambda: 1.234, seed=3), 40)
    assert shot.values[0] == pytest.approx(1.234, abs=0.001) and shot.count == 40
    assert shot.refused == len(refused) > 0 and {r.split()[0] for r in refused} <= {"reading", "checksum"}


def test_a_rover_is_averaged_and_float_is_refused():
    shot, refused = heard_shot(rover_lines(lambda: (12.0, 7.0, 31.5), seed=2), 30)
    assert ORIGIN.place(*shot.values[:2]) == pytest.approx((12.0, 7.0), abs=0.02) and shot.values[2] == pytest.approx(31.5, abs=0.02)
    assert any("float" in r for r in refused)


def test_stale_and_scattered_readings_make_no_shot():
    averager = Averager(3)
    for at in (0.0, 0.1, 5.0):
        averager.add(Heard(at, StaffReading(1.0)))
    assert averager.shot(5.1) is None and averager.count == 1
    assert averager.shot(9.0) is None and averager.count == 0
    for at, value in ((10.0, 1.0), (10.1, 1.02), (10.2, 1.0)):
        averager.add(Heard(at, StaffReading(value)))
    with pytest.raises(InputError, match="scatter by 20 mm"):
        averager.shot(10.3)


def test_ports_that_are_not_there_and_lines_that_go_dead():
    with pytest.raises(InstrumentError, match="cannot be opened: no such file"):
        Receiver("/dev/no-such-port")
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    receiver = Receiver(os.ttyname(theirs))
    os.write(ours, b"x" * 2500)
    os.close(theirs)
    time.sleep(0.2)
    os.close(ours)
    until, found = time.monotonic() + 5, []
    while time.monotonic() < until and not any(h.lost for h in found):
        found += receiver.take()
        time.sleep(0.02)
    receiver.close()
    assert "without an end" in found[0].refused and found[-1].lost and "went dead" in found[-1].refused
