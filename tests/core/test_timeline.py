"""
What a load sees from power-on to a hung program, with its pull resistor and without; and what a
hung program may leave on.
"""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.whole.timeline import STORIES, rows
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, bench, edited, findings


def strip(build):
    return rows(BuildContext(build, load_catalogue()), advised(build).channels)[0]


def at(row, story, words):
    return next(m for m in row.moments if (m.story, m.words) == (story, words))


def test_a_quiet_pin_with_a_pull_down_never_acts_unasked():
    row = strip(bench(stage="nmos_low_side"))
    assert not row.acts_unasked and row.pull
    assert len(row.moments) == sum(len(parts) for _, parts in STORIES)
    assert (
        at(row, "Reset while on", "on").load == "on"
        and at(row, "Reset while on", "reset held").load == "off"
    )


def test_without_the_pull_nothing_decides_while_the_pin_floats():
    row = strip(bench(stage="nmos_low_side"))
    changed = {
        (m.story, m.words) for m, o in zip(row.moments, row.other, strict=True) if m.load != o.load
    }
    assert ("A long upload while on", "upload") in changed and (
        "Switched on",
        "before the program sets it",
    ) in changed
    bare = strip(bench(stage="nmos_low_side", settings={"pull_resistor": "none"}))
    assert bare.acts_unasked and bare.pull == ""
    # The other way round the resistor is fitted, and mends it.
    assert not any(m.load != "off" for m in bare.other if not m.asked)


def test_a_pin_that_pulses_at_boot_moves_the_load_whatever_the_resistor():
    row = strip(bench(stage="nmos_low_side", board=RADIO, pin="P14"))
    boots = [m for m in row.moments if m.words == "boot"]
    assert len(boots) == 3 and all(m.pin == "pulses" and m.load == "on" for m in boots)
    assert all(
        o.load == "on" for m, o in zip(row.moments, row.other, strict=True) if m.words == "boot"
    )


@pytest.mark.parametrize(("pin", "does"), [("N5", "pull_up"), ("N22", "pull_down")])
def test_the_boots_own_pulls_are_on_the_strip(pin, does):
    row = strip(bench(stage="nmos_low_side", board=COMPUTER, pin=pin))
    assert at(row, "Switched on", "boot").pin == does


def test_moments_last_as_long_as_the_board_says():
    row = strip(bench(board=EIGHT_BIT))
    assert (
        at(row, "Switched on", "boot").lasts == 1.5
        and at(row, "A long upload while on", "upload").lasts == 15
    )


def test_a_load_behind_a_closed_contact_is_on_while_the_coil_is_off():
    build = bench("led_strip", "12 V", "500 mA", stage="relay_contact", settings={"contact": "NC"})
    row = strip(build)
    assert (
        at(row, "Switched on", "ready").load == "on"
        and at(row, "Reset while on", "on").load == "off"
    )


def test_a_watchdog_or_a_cut_off_ends_what_a_hung_program_left_on():
    build = bench("solenoid", "12 V", "30 Ω", stage="nmos_low_side")
    assert at(strip(build), "Program hung", "watchdog lets it go").load == "off"
    none = edited(build, ("set_watchdog", {"watchdog": "no"}))
    assert at(strip(none), "Program hung", "until somebody notices").load == "on"
    limited = edited(none, ("set_load", {"channel": "ch2", "cut_off": "3 s"}))
    assert at(strip(limited), "Program hung", "cut off after 3 s").load == "off"


def test_nothing_that_ends_a_hung_program_is_a_stop_for_what_moves_and_a_note_for_a_lamp():
    moving = edited(
        bench("solenoid", "12 V", "30 Ω", stage="nmos_low_side"),
        ("set_watchdog", {"watchdog": "no"}),
    )
    finding = next(f for f in advised(moving).all_findings if f.check == "P14")
    assert (finding.severity, finding.acceptable) == ("stop", False)
    assert "P14" not in findings(edited(moving, *finding.remedies[0].edits))  # said once it is true
    assert "P14" not in findings(edited(moving, ("set_load", {"channel": "ch2", "cut_off": "3 s"})))
    lamp = edited(
        bench("led_strip", "12 V", "500 mA", stage="nmos_low_side"),
        ("set_watchdog", {"watchdog": "no"}),
    )
    assert findings(lamp)["P14"] == "note"


def test_an_unstated_watchdog_is_asked_for_where_something_moves_and_only_there():
    moving = edited(
        bench("solenoid", "12 V", "30 Ω", stage="nmos_low_side"), ("set_watchdog", {"watchdog": ""})
    )
    assert findings(moving)["P14"] == "check"
    lamp = edited(
        bench("led_strip", "12 V", "500 mA", stage="nmos_low_side"),
        ("set_watchdog", {"watchdog": ""}),
    )
    assert "P14" not in findings(lamp)
