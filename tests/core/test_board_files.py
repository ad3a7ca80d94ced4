"""Board profiles in and out: nothing is lost on the way, and a line that is wrong is named."""

import json

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.catalogue.boards import Board
from latchcore.formats.boardfile import (
    BoardFileError,
    board_record,
    draft_of,
    read_board,
    write_csv,
    write_json,
)

SHIPPED = [b.id for b in load_catalogue().boards]


@pytest.mark.parametrize("key", SHIPPED)
@pytest.mark.parametrize("write", [write_csv, write_json])
def test_a_shipped_profile_survives_the_way_out_and_in(key, write):
    raw = load_catalogue().raw[key]
    record = board_record(read_board(write(raw)), key, raw["source"])
    assert Board.model_validate(record) == load_catalogue().parts[key]


def changed(row=0, **cells):
    draft = draft_of(load_catalogue().raw["board-radio-3v3"])
    draft.title = "3.3 V radio board, small"
    draft.pins[row] = draft.pins[row] | cells
    return draft


@pytest.mark.parametrize(
    "cells, place, says",
    [
        ({"id": ""}, "pin:0:id", "without a name"),
        ({"can": "in|fly"}, "pin:0:can", "expected any of in, out"),
        ({"reset": "pull_up", "pull": ""}, "pin:0:pull", "how strongly"),
        ({"pull": "30 V"}, "pin:0:pull", "volts"),
        ({"reset": "sleeps"}, "pin:0:reset", "is not one of"),
    ],
)
def test_a_line_that_does_not_do_is_named_with_its_cell(cells, place, says):
    with pytest.raises(BoardFileError) as error:
        board_record(changed(**cells), "own-board", "own")
    assert error.value.place == place and says in str(error.value)


def test_a_label_stands_once_and_limits_stand_in_order():
    draft = changed()
    draft.pins[1] = draft.pins[0]
    with pytest.raises(BoardFileError, match="row 1"):
        board_record(draft, "own-board", "own")
    draft = changed()
    draft.figures["pin_recommended"] = "90 mA"
    with pytest.raises(BoardFileError, match="above a pin, absolute limit 40 mA"):
        board_record(draft, "own-board", "own")
    draft = changed()
    draft.figures["brown_out"] = ""
    with pytest.raises(BoardFileError, match="resets below: not stated"):
        board_record(draft, "own-board", "own")


@pytest.mark.parametrize(
    "text, says",
    [
        ("", "no column “row”"),
        ("row,size\npin,3", "“size” is not known"),
        ("row,id\nfan,3", "Line 2: “fan” is no kind of row"),
        ("row,id,value\nfigure,colour,red", "no figure of a board"),
        ("row,id\npin,a,b", "more cells"),
        ("{", "no JSON"),
        ('{"pins": 3}', "as a list"),
        ('{"pins": [{"id": {"a": 1}}]}', "not understood"),
        ('{"logic": 3.3}', "text figures"),
        ("{" + '"pins":[' * 4000, "no JSON"),
        ("row\0", "null"),
        ("row,id\n" + "pin,a\n" * 40_000, "larger than"),
        ('{"soul": "yes"}', "nothing a board has"),
    ],
)
def test_what_is_no_board_file_is_refused_with_the_reason(text, says):
    with pytest.raises(BoardFileError) as error:
        read_board(text)
    assert says in str(error.value)


def test_cells_a_spreadsheet_takes_for_formulas_are_guarded():
    raw = load_catalogue().raw["board-radio-3v3"] | {"title": "=1+1"}
    text = write_csv(raw)
    assert "'=1+1" in text and read_board(text).title == "=1+1"
    assert json.loads(write_json(raw))["title"] == "=1+1"
