"""The first screen of a job: a stage that stands, a rail that is taken, no silence."""

from tests.web.test_modules import send
from workbench.actions.creating import create_empty

MOTOR = {"kind": "dc_motor", "voltage": "12 V", "figure": "500 mA"}


def bare(client, board=True):
    build = create_empty("First")
    if board:
        _, build = send(client, build, "at-hand/", edit="set_board", board="board-radio-3v3")
    return build


def test_a_new_channel_stands_on_the_first_sound_stage_and_not_on_a_transistor_nobody_chose(
    client, db
):
    build = bare(client)
    send(client, build, "rails/", edit="add_rail", voltage="12 V", rating="6 A")
    page, build = send(client, build, "loads/", edit="add_channel", **MOTOR)
    assert build.document.channels[0].stage.kind == "nmos_low_side"
    assert not build.report.count("stop") and not build.report.count("fix")
    # One that was asked for by name is left, whatever becomes of it.
    page, build = send(client, build, "loads/", edit="add_channel", stage="npn_low_side", **MOTOR)
    assert build.document.channels[1].stage.kind == "npn_low_side"


def test_a_rail_added_later_takes_the_loads_of_its_volts_and_settles_their_stage(client, db):
    page, build = send(client, bare(client), "loads/", edit="add_channel", **MOTOR)
    assert "Not worked out" in page and "which rail?" in page and "Nothing to mend" not in page
    strip = {"kind": "led_strip", "voltage": "24 V", "figure": "1 A"}
    send(client, build, "loads/", edit="add_channel", **strip)
    page, build = send(client, build, "rails/", edit="add_rail", voltage="12.5 V", rating="3 A")
    motor, strip = build.document.channels
    assert motor.rail == build.document.rails[0].id and motor.stage.kind == "nmos_low_side"
    assert strip.rail is None
    # Alternating current is no supply for it.
    _, build = send(client, build, "rails/", edit="add_rail", voltage="24 V", source="ac_low")
    assert build.document.channels[1].rail is None
    _, build = send(client, build, "rails/", edit="add_rail", voltage="27 V")
    assert build.document.channels[1].rail is None
    _, build = send(client, build, "rails/", edit="add_rail", voltage="26 V")
    assert build.document.channels[1].rail == build.document.rails[-1].id


def test_a_load_on_the_line_is_hazardous_before_any_rail_is_named(client, db):
    lamp = {"kind": "filament_lamp", "voltage": "230 V", "figure": "60 W"}
    page, build = send(client, bare(client), "loads/", edit="add_channel", **lamp)
    assert "Hazardous voltage in this build" in page
    low = {"kind": "filament_lamp", "voltage": "48 V", "figure": "60 W"}
    page, build = send(client, bare(client), "loads/", edit="add_channel", **low)
    assert "Hazardous voltage in this build" not in page
