"""Rails, pins and the reset timeline on their pages: empty, refused, in order."""

import re

from workbench.actions.creating import create_empty


def text(client, build, page):
    return client.get(f"/builds/{build.pk}/{page}").content.decode()


def test_the_empty_stations_say_what_they_will_show(client, db):
    build = create_empty("nothing")
    assert "No rail yet" in text(client, build, "rails/")
    assert "No board yet" in text(client, build, "pins/")
    assert "Nothing to show yet" in text(client, build, "states/")


def test_the_tree_of_supplies_grows_with_what_a_rail_is_fed_by(client, theatre, post):
    assert "Tree of supplies: 4 rails" in text(client, theatre, "rails/")
    answer, fresh = post(
        "rails/",
        edit="set_rail",
        rail="rail2",
        fed_by="rail1",
        converter="switching",
        source="adapter",
    )
    page = answer.content.decode()
    assert fresh.document.rail("rail2").fed_by == "rail1" and "switching, from" in page
    answer, fresh = post("rails/", edit="set_rail", rail="rail1", fed_by="rail2")
    assert answer.status_code == 422 and "fed by" in answer.content.decode()


def test_what_was_typed_of_a_wire_stays_with_the_message(post):
    answer, fresh = post("rails/", edit="set_rail", rail="rail1", wire_area="thick")
    page = answer.content.decode()
    assert answer.status_code == 422 and 'value="thick"' in page and "square millimetres" in page
    assert fresh.document.rail("rail1").wire_area is None


def test_an_order_of_switching_on_for_a_limit_or_why_there_is_none(client, theatre):
    page = text(client, theatre, "rails/?limit-rail1=5 A")
    assert "In this order it stays under" in page
    assert "No order keeps it under 1 A" in text(client, theatre, "rails/?limit-rail1=1 A")
    wrong = text(client, theatre, "rails/?limit-rail1=lots")
    assert "is not a quantity" in wrong and 'value="lots"' in wrong


def test_the_deck_shows_every_line_once_in_the_order_of_its_header(client, theatre):
    page = text(client, theatre, "pins/")
    lines = re.findall(r'data-pin="(P\d+)"', page)
    assert len(lines) == len(set(lines)) == 29
    left = re.findall(r"line \d+, left (\d+)", page)
    assert [int(n) for n in left] == sorted(int(n) for n in left)


def test_a_line_that_cannot_serve_is_refused_and_the_typed_name_stays(post, theatre):
    answer, fresh = post("pins/", edit="place_pin", what="ch3", pin="P34")
    page = answer.content.decode()
    assert answer.status_code == 422 and "P34 is input only" in page and 'value="P34"' in page
    assert fresh.document.channel("ch3").pin == theatre.document.channel("ch3").pin


def test_place_lock_swap_and_undo(post, theatre):
    before = {c.id: c.pin for c in theatre.document.channels}
    answer, fresh = post("pins/", edit="place_pin", what="ch3", pin=before["ch4"])
    assert (
        fresh.document.channel("ch3").pin == before["ch4"]
        and fresh.document.channel("ch4").pin == before["ch3"]
    )
    answer, fresh = post("pins/", edit="lock_pin", what="ch3", locked="yes")
    assert "readonly" in answer.content.decode() and fresh.document.channel("ch3").pin_locked
    answer, fresh = post("pins/", edit="place_pin", what="ch3", pin=before["ch3"])
    assert answer.status_code == 422 and "is locked" in answer.content.decode()
    for _ in range(2):
        _, fresh = post("pins/", edit="undo")
    assert {c.id: c.pin for c in fresh.document.channels} == before


def test_assigning_all_anew_mends_the_pin_that_pulses(post, theatre):
    assert any(f.check == "P5" for f in theatre.report.all_findings)
    answer, fresh = post("pins/", edit="assign_pins", scope="all")
    assert not {f.check for f in fresh.report.all_findings} & {"P3", "P4", "P5", "P10", "P11"}


def test_the_strips_name_the_channel_that_acts_at_boot(client, theatre, post):
    page = text(client, theatre, "states/")
    assert "switched on, boot: on, the pin pulses" in page
    answer, fresh = post("states/", edit="set_watchdog", watchdog="no")
    assert (
        fresh.document.watchdog == "no"
        and "Nothing ends it when the program hangs" in answer.content.decode()
    )
    channel = text(client, theatre, "channels/ch7/")
    assert "from power-on to a hung program" in channel


def test_inputs_are_added_refused_changed_and_confirm_a_channel(client, theatre, post):
    assert "No input yet" in text(client, theatre, "inputs/") or theatre.document.inputs
    answer, fresh = post(
        "inputs/", edit="add_input", kind="reed", name="Trap closed", voltage="", rail=""
    )
    what = fresh.document.inputs[-1].id
    assert "Trap closed" in answer.content.decode() and fresh.document.inputs[-1].pin
    answer, fresh = post("inputs/", edit="set_input", what=what, pull="strong")
    page = answer.content.decode()
    assert answer.status_code == 422 and 'value="strong"' in page and "auto, internal, none" in page
    answer, fresh = post("inputs/", edit="set_input", what=what, pull="none")
    assert "Nothing holds the open line" in answer.content.decode()
    answer, fresh = post("inputs/", edit="set_confirmation", channel="ch4", confirmed_by=what)
    assert (
        fresh.document.channel("ch4").confirmed_by == what
        and "B Trapdoor" in answer.content.decode()
    )
    answer, fresh = post("inputs/", edit="remove_input", what=what)
    assert fresh.document.channel("ch4").confirmed_by is None
    assert post("inputs/", edit="remove_input", what=what)[0].status_code == 422


def seen_of(page, group):
    """What the form of a group says it was shown with."""
    return re.search(
        rf'name="group" value="{group}"><input type="hidden" name="seen" value="([0-9a-f]+)"', page
    )[1]


def test_ticks_stay_until_their_wire_goes_elsewhere(client, theatre, post):
    page = text(client, theatre, "wiring/")
    keys = re.findall(r'name="done" value="(ch3[^"]*|BOARD.P25[^"]*)"', page)
    assert keys and "0</b> of" in page
    version = theatre.version
    answer, fresh = post(
        "wiring/", edit="tick", group="ch3", done=keys[:2], seen=seen_of(page, "ch3")
    )
    stale, fresh = post("wiring/", edit="tick", group="ch3", done=[], seen=seen_of(page, "ch3"))
    assert (
        stale.status_code == 422
        and "another tab" in stale.content.decode()
        and fresh.ticks.count() == 2
    )
    assert fresh.version == version, "a tick is the bench's, not the design's"
    assert set(fresh.ticks.values_list("key", flat=True)) == set(keys[:2])
    assert "2</b> of" in answer.content.decode() and 'class="done"' in answer.content.decode()
    # Another group leaves them alone, an unknown key is let go.
    answer, fresh = post(
        "wiring/",
        edit="tick",
        group="assembly",
        done=["base", "nonsense"],
        seen=seen_of(page, "assembly"),
    )
    assert set(fresh.ticks.values_list("key", flat=True)) == {*keys[:2], "base"}
    post("pins/", edit="place_pin", what="ch3", pin="P13")
    moved = text(client, theatre, "wiring/")
    assert "1</b> of" in moved or "0</b> of" in moved
    answer, fresh = post("wiring/", edit="tick", group="ch3", seen=seen_of(moved, "ch3"))
    assert answer.status_code == 200
    assert "base" in set(fresh.ticks.values_list("key", flat=True))
    assert post("wiring/", edit="tick", group="ch999")[0].status_code == 422


def test_the_plan_names_every_load_and_the_list_every_end(client, theatre):
    page = text(client, theatre, "wiring/")
    for channel in theatre.document.channels:
        assert channel.name in page
    assert "Plan of the build: 22 lines" in page and "board P25 (line 25, left 9)" in page


def test_a_variant_is_shown_beside_and_taken_in_one_edit_that_can_be_undone(client, theatre, post):
    page = text(client, theatre, "variants/?board=board-8bit-5v-20")
    assert "As it is" in page and "Otherwise" in page and "New then" in page
    assert "wants both the rail and its voltage" in text(client, theatre, "variants/?rail=rail1")
    answer, fresh = post(
        "variants/", edit="take_variant", board="board-8bit-5v-20", rail="", voltage=""
    )
    assert fresh.document.board == "board-8bit-5v-20" and fresh.document.channel(
        "ch3"
    ).pin.startswith("L")
    _, fresh = post("variants/", edit="undo")
    assert fresh.document.board == "board-radio-3v3" and fresh.document.channel("ch3").pin == "P25"


def test_the_sheet_of_a_build_that_is_not_finished_says_what_is_missing(client, theatre, post):
    post("loads/", edit="set_channel_rail", channel="ch3", rail="")
    page = text(client, theatre, "sheet/")
    assert "not stated: rail" in page and "Trapdoor" in page


def test_the_sheet_carries_plan_inputs_and_wires(client, theatre):
    page = text(client, theatre, "sheet/")
    assert (
        "Plan of the build" in page
        and "Curtain ends" in page
        and "board P25 (line 25, left 9)" in page
    )


def test_redo_stays_while_an_edit_changes_nothing_and_goes_with_one_that_does(post):
    post("pins/", edit="lock_pin", what="ch3", locked="yes")
    post("pins/", edit="undo")
    answer, fresh = post("pins/", edit="rename_channel", channel="ch3", name="Lantern strip")
    assert 'title="redo: Lantern strip locked on P25"' in answer.content.decode()
    answer, fresh = post("pins/", edit="rename_channel", channel="ch3", name="Lamps")
    assert 'title="redo:' not in answer.content.decode()


def test_one_change_for_the_channels_that_are_ticked_and_the_ticks_stay_where_it_is_refused(post):
    answer, fresh = post(
        "loads/", edit="change_several", channels=["ch3", "ch4"], rail="", wire_area="thick"
    )
    page = answer.content.decode()
    assert answer.status_code == 422 and "thick" in page and 'value="thick"' in page
    assert len(re.findall(r'name="channels" value="ch[34]"[^>]*checked', page)) == 2
    answer, fresh = post(
        "loads/", edit="change_several", channels=["ch3", "ch4"], rail="", wire_area="1 mm²"
    )
    assert answer.status_code == 200
    assert [fresh.document.channel(c).wire_area for c in ("ch3", "ch4")] == ["1 mm²"] * 2


def test_copies_are_as_many_as_asked_and_numbered(post):
    answer, fresh = post("loads/", edit="copy_channel", channel="ch6", many="3")
    names = [c.name for c in fresh.document.channels]
    at = names.index("Moon lamp")
    assert names[at : at + 4] == ["Moon lamp", "Moon lamp 2", "Moon lamp 3", "Moon lamp 4"]
    answer, _ = post("loads/", edit="copy_channel", channel="ch6", many="lots")
    assert answer.status_code == 422 and "lots" in answer.content.decode()
