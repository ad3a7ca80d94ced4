"""What a builder types and what is understood."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from latchcore.figures.preferred import step
from latchcore.figures.quantity import QuantityError, parse, parse_any, resistor_code, show
from latchcore.figures.spread import parse_spread


@pytest.mark.parametrize(
    "text, unit, value",
    [
        ("4k7", "Ω", 4700),
        ("4K7", "Ω", 4700),
        ("1R5", "Ω", 1.5),
        ("560", "Ω", 560),
        ("0R22", "Ω", 0.22),
        ("1M", "Ω", 1e6),
        ("2.2 kOhm", "Ω", 2200),
        ("80 mA", "A", 0.08),
        ("80m", "A", 0.08),
        ("0,5 A", "A", 0.5),
        ("100 µF", "F", 100e-6),
        ("4u7", "F", 4.7e-6),
        ("250 mH", "H", 0.25),
        ("400 Hz", "Hz", 400),
        ("3,3 V", "V", 3.3),
        ("3V3", "V", None),
        ("1e3 Ω", "Ω", 1000),
        ("  12 V ", "V", 12),
    ],
)
def test_ways_of_writing_a_quantity(text, unit, value):
    if value is None:
        with pytest.raises(QuantityError):
            parse(text, unit)
    else:
        assert parse(text, unit) == value


@pytest.mark.parametrize(
    "text, unit, says",
    [
        ("4k7k", "Ω", "expected ohms"),
        ("-330", "Ω", "negative"),
        ("0", "Ω", "zero"),
        ("0 Ω", "Ω", "zero"),
        ("1e9 V", "V", "out of range"),
        ("12 furlongs", "V", "expected volts"),
        ("5 A", "V", "is in amperes"),
        ("", "V", "Nothing was typed"),
        ("nan", "V", "not a quantity"),
        ("inf", "V", "not a quantity"),
        ("1e999", "V", "not a finite"),
        ("9" * 500, "Ω", "too long"),
        ("<b>", "Ω", "not a quantity"),
        ("12 V", "Ω", "is in volts"),
    ],
)
def test_nonsense_is_named_with_what_was_expected(text, unit, says):
    with pytest.raises(QuantityError, match=says):
        parse(text, unit)


def test_a_figure_without_unit_is_asked_for_one_where_several_are_possible():
    assert parse_any("1.2 W", ("A", "W", "Ω")) == (1.2, "W")
    with pytest.raises(QuantityError, match="has no unit"):
        parse_any("80", ("A", "W", "Ω"))


@pytest.mark.parametrize(
    "text, low, typical, high",
    [
        ("12 V ±5 %", 11.4, 12, 12.6),
        ("12 V +/- 0.5 V", 11.5, 12, 12.5),
        ("9 V -10/+40 %", 8.1, 9, 12.6),
        ("9 V −10/+40 %", 8.1, 9, 12.6),
        ("11 to 13 V", 11, 12, 13),
        ("9.6 / 11.1 / 12.6 V", 9.6, 11.1, 12.6),
        ("4.40 to 5.25 V", 4.4, 4.825, 5.25),
        ("12 V", 10.8, 12, 16.8),
    ],
)
def test_spreads(text, low, typical, high):
    spread, _, _ = parse_spread(text, ("V",), 0.10, 0.40)
    assert (spread.min, spread.typ, spread.max) == pytest.approx((low, typical, high))


def test_a_spread_that_runs_backwards_is_refused():
    with pytest.raises(QuantityError, match="least to most"):
        parse_spread("13 to 11 V", ("V",))


@given(st.floats(1.0, 9.99e6))
def test_what_is_shown_can_be_typed_again(value):
    assert parse(show(value, "Ω"), "Ω") == pytest.approx(value, rel=0.006)
    assert parse(resistor_code(float(f"{value:.3g}")), "Ω") == pytest.approx(value, rel=0.006)


@given(st.sampled_from(["E12", "E24", "E96"]), st.floats(1.5, 5e6))
def test_stepping_up_and_down_comes_back(series, value):
    start = step(series, value, 1)
    assert step(series, step(series, start, 1), -1) == start


@given(st.text(max_size=100))
def test_no_text_breaks_the_reader(text):
    for units in (("V",), ("A", "W", "Ω"), ("%",)):
        try:
            spread, unit, _ = parse_spread(text, units)
        except QuantityError as error:
            assert str(error)
        else:
            assert spread.min <= spread.typ <= spread.max and unit in units
