"""Price lists as they come: other separators, decimal commas, and lines that cannot be used, each told with its number."""

from __future__ import annotations

from decimal import Decimal

import pytest

from weirant.errors import JobFileError
from weirant.formats.price_list import PRACTICE, open_price_list, read_price_list
from weirant.library import shipped
from weirant.library.parts import parts

HEAD = "item,per,price,supplier\n"


@pytest.mark.parametrize("name", PRACTICE)
def test_the_lists_for_practice_price_what_the_library_has(name):
    found = open_price_list(name)
    hired = {"hired dig-excavator", "hired turf"}
    known = {*hired, *shipped().pipes, *shipped().aggregates, *shipped().geotextiles, *(part.key for part in parts()),
             "crew", "excavator", "loader", "trencher", "plough", "breaker", "spoil"}  # fmt: skip
    assert not found.faults and known - hired <= set(found.prices) <= known and found.currency and found.terms.margin == Decimal("0.15") and found.terms.by_soil == (name == "moorgrundel")


@pytest.mark.parametrize(("least", "told"), [("20", "20"), ("", "0"), ("1.5", "1.5")])
def test_how_many_are_sold_at_least_may_stand_beside_a_price(least, told):
    assert str(read_price_list(f"item,per,price,min\nno-57,t,38,{least}\n", "x").prices["no-57"][0].least) == told
    assert "number" in read_price_list("item,per,price,min\nno-57,t,38,many\n", "x").faults[0][1]


@pytest.mark.parametrize(("text", "amounts"), [
    ("item;per;price\nno-57;t;1.234,50\nwye;piece;9,80\n", ["1234.50", "9.80"]),
    ("item\tper\tprice\nno-57\tt\t38.5\nwye\tpiece\t$ 9.80\n", ["38.5", "9.80"]),
    ('Item,Per,Price\n"NO-57",t,"1,234.50"\n wye , piece , 9.80 €\n', ["1234.50", "9.80"]),
    ("\ufeffitem,per,price\r\n# a remark\r\nno-57,100 ft,0.1\r\nwye,piece,0\r\n", ["0.1", "0"]),
])  # fmt: skip
def test_a_price_is_read_to_the_last_digit_in_every_notation(text, amounts):
    found = read_price_list(text, "x.csv")
    assert [str(price.amount) for item in ("no-57", "wye") for price in found.prices[item]] == amounts and not found.faults


@pytest.mark.parametrize(("line", "why"), [
    ("no-57,t,-5", "under nought"), ("no-57,t,1e9", "over 10,000,000"), ("no-57,t,abc", "number"), ("no-57,t,", "no price"), ("no-57,,5", "no unit"), (",t,5", "missing"),
    ("no-57,t,\"1,234\"", "could mark"),
    ("list date,,2026-02-30", "none; write"), ("list colour,,red", "not known of a list"), ("list margin,,95 %", "as much"), ("no-57,t,nan", "number"),
    ("no-57,t,=1+1", "number"), ("rate spoon,m3,3", "no kind of work"), ("rate fill,t,3", "counted in m3 an hour"), ("rate turf,m2,0", "as much"), ("rate lay,m,1e6", "as much"),
    ("rate set,m,3", "counted in piece"), ("hired spoon,m3,3", "no kind of work"), ("hired fill,m3,-3", "under nought"), ("list contingency,,by moon", "number"),
    ("rate dig-hand,,1", "counted in m3")])  # fmt: skip
def test_a_line_that_cannot_be_used_is_told_with_its_number_and_the_others_serve(line, why):
    found = read_price_list(HEAD + "wye,piece,9\n" + line + "\ntee,piece,8\n", "x.csv")
    assert [number for number, _ in found.faults] == [3] and why in found.faults[0][1]
    assert set(found.prices) == {"wye", "tee"}


def test_the_crew_rates_are_read_in_any_unit_that_fits():
    found = read_price_list(HEAD + "rate dig-hand,yd3/h,1\nrate lay,ft,100\nrate turf,m²/h,8\nRate set, pieces ,7\n", "x.csv")
    assert not found.faults and found.rates == pytest.approx({"dig-hand": 0.764554857984, "lay": 30.48, "turf": 8, "set": 7}, rel=1e-9)


def test_an_item_may_stand_in_several_units_and_from_several_yards_but_not_twice_alike():
    found = read_price_list(HEAD + "crew,h,40,a\ncrew,day,300,a\ncrew,h,38,b\ncrew,h,45,a\n", "x.csv")
    assert [str(p.amount) for p in found.prices["crew"]] == ["40", "300", "38"] and "line 2 counts" in found.faults[0][1]


@pytest.mark.parametrize(("text", "why"), [("", "holds no prices"), ("a,b\n1,2\n", "headings"), (HEAD + "wye,piece,$9\ntee,piece,€8\n", "several currencies"),
                                           (HEAD + "wye,piece,9\n" * 5001, "at most 5000")])
def test_what_is_no_list_is_refused(text, why):
    with pytest.raises(JobFileError, match=why):
        read_price_list(text, "x.csv")
