"""Parts as a table, the fewest values, and where to step in."""

import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.stepin import judge
from latchcore.catalogue import load_catalogue
from latchcore.document.models import Machine
from latchcore.evaluate import evaluate
from latchcore.formats.partsfile import PartsFileError, read_parts, write_parts
from latchcore.formats.partsrecord import build_record
from latchcore.whole.standardise import common_resistors, smallest_cover
from tests.core.benches import bench, edited

HEAD = "family,title,base,value,quantity,place,price,r_on_at,r_on,i_d"


def table(*rows):
    return "\n".join([HEAD, *rows])


def test_a_figure_that_is_not_given_stands_in_from_its_class():
    row = read_parts(table("nmos,mine,nmos-30v-6a-2v5,,4,box,0.5,2.5 V|4.5 V,28 mΩ|20 mΩ,9 A"))[0]
    assert (
        not row.error
        and row.figures["i_d"] == "9 A"
        and row.figures["v_gs_max"] == "12 V"
        and row.given == ("i_d", "r_on_at", "r_on")
        or set(row.given) == {"i_d", "r_on_at", "r_on"}
    )


@pytest.mark.parametrize(
    "row, column, says",
    [
        ("resistor,,,4k7k,5,,,,,", "value", "4k7k"),
        ("laser,x,,,1,,,,,", "family", "no family"),
        ("nmos,mine,,,1,,,,,", "v_ds", "missing"),
        ("nmos,mine,npn-45v-500ma,,1,,,,,", "base", "stand in"),
        ("nmos,mine,nmos-30v-6a-2v5,,1,,,,,9 V", "i_d", "volts"),
        ("resistor,,,4k7,many,,,,,", "quantity", "no count"),
        ("nmos,,nmos-30v-6a-2v5,,1,,,,,", "title", "Nothing was typed"),
        ("resistor,,,4k7,5,,,,,,,", "", "more cells"),
    ],
)
def test_a_bad_row_is_named_by_line_and_column(row, column, says):
    found = read_parts(table("resistor,,,1k,5,,,,,", row))
    assert (
        not found[0].error
        and found[1].line == 3
        and found[1].column == column
        and says in found[1].error
    )


@pytest.mark.parametrize(
    "text, says",
    [
        ("", "empty"),
        ("colour,value\nx,1", "colour"),
        ("family,family\n", "twice"),
        ("\0", "null"),
        ("value\n4k7", "family"),
    ],
)
def test_what_is_no_table_is_refused_whole(text, says):
    with pytest.raises(PartsFileError, match=says):
        read_parts(text)


def test_a_part_that_stands_twice_is_refused():
    assert (
        "already in line 2"
        in read_parts(table("resistor,,,4k7,5,,,,,", "resistor,,,4700,5,,,,,"))[1].error
    )


def test_formula_like_cells_are_neutralised_on_the_way_out_and_come_back():
    rows = [
        dict(
            key="resistor-4700",
            family="resistor",
            title="=1+1",
            value=4700.0,
            quantity=2,
            place="@home",
            price="-3",
            substitutes="+x",
            figures={},
        )
    ]
    text = write_parts(rows)
    assert "'=1+1" in text and "'@home" in text and "'-3" in text
    back = read_parts(text)[0]
    assert (back.title, back.place, back.price) == ("=1+1", "@home", "-3")


def test_the_table_goes_round():
    first = read_parts(
        table(
            'nmos,"mine, 9 A",nmos-30v-6a-2v5,,4,box,0.5,2.5 V|4.5 V,28 mΩ|20 mΩ,9 A',
            "resistor,,,4k7,5,box,,,,",
        )
    )
    text = write_parts(
        [
            dict(
                key=r.key,
                family=r.family,
                title=r.title,
                value=r.value,
                quantity=r.quantity,
                place=r.place,
                price=r.price,
                substitutes="",
                figures=r.figures,
            )
            for r in first
        ]
    )
    again = read_parts(text)
    assert [r.error for r in again] == ["", ""] and {
        k: v for k, v in again[0].figures.items() if k != "source"
    } == {k: v for k, v in first[0].figures.items() if k != "source"}


def test_five_thousand_rows_are_judged_in_good_time():
    rows = [f"nmos,part {i},nmos-30v-6a-2v5,,1,box,0.5,,,{1 + i % 9} A" for i in range(5000)]
    start = time.perf_counter()
    found = read_parts(table(*rows))
    # The figure is the benchmark's; this only keeps a quadratic slip from going unseen.
    assert (
        len(found) == 5000 and not any(r.error for r in found) and time.perf_counter() - start < 30
    )


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.frozensets(st.sampled_from([220, 270, 330, 390, 470, 560]), min_size=1),
        min_size=1,
        max_size=7,
    )
)
def test_the_cover_is_a_cover_and_none_is_smaller(sets):
    from itertools import combinations

    found = smallest_cover(sets)
    assert all(set(found) & s for s in sets)
    values = sorted({v for s in sets for v in s})
    assert not any(
        all(set(c) & s for s in sets) for n in range(len(found)) for c in combinations(values, n)
    )


def test_fewer_values_serve_every_corner_of_every_channel():
    build = bench("relay_coil", "12 V", "400 Ω")
    for pin, figure in (("P26", "300 Ω"), ("P27", "1 kΩ"), ("P32", "220 Ω")):
        build = edited(
            build,
            (
                "add_channel",
                {
                    "kind": "relay_coil",
                    "voltage": "12 V",
                    "figure": figure,
                    "pin": pin,
                    "rail": "rail1",
                },
            ),
        )
    found = common_resistors(evaluate(build))
    fitted = edited(build, ("fit_common_resistors", {}))
    report = evaluate(fitted)
    values = {v.value for c in report.channels for v in c.result.values if v.unit == "Ω"}
    assert len(found.after) < len(found.before) and values == set(found.after)
    assert report.count("fix") == report.count("stop") == 0


@pytest.mark.parametrize(
    "facts, first, states",
    [
        (
            {"remote_line": {"exists": "yes", "supply": "isolated_low"}},
            "remote_line",
            {"remote_line": "ranked", "button": "open"},
        ),
        (
            {
                "remote_line": {"exists": "no"},
                "button": {"exists": "yes", "supply": "isolated_low"},
            },
            "button",
            {"remote_line": "absent"},
        ),
        (
            {"remote_line": {"exists": "yes", "supply": "mains"}},
            "supply_side",
            {"remote_line": "refused"},
        ),
        (
            {"stores_high_voltage": "yes", "inside": {"supply": "isolated_low"}},
            "supply_side",
            {"inside": "refused"},
        ),
        ({"button": {"exists": "yes"}}, "supply_side", {"button": "open"}),
        (
            {
                "stores_high_voltage": "yes",
                "button": {"exists": "yes", "supply": "isolated_low", "opens": "yes"},
            },
            "supply_side",
            {"button": "refused"},
        ),
    ],
)
def test_where_to_step_in(facts, first, states):
    verdicts = judge(Machine(id="m1", name="Drying fan", **facts))
    assert verdicts[0].key == first and {v.key: v.state for v in verdicts} | states == {
        v.key: v.state for v in verdicts
    }
    assert all(v.reason for v in verdicts)


@pytest.mark.parametrize(
    "stated, pulse",
    [
        ({"i_d": "3 A"}, "3 A"),
        ({"i_d": "3 A", "i_d_pulse": "12 A"}, "12 A"),
        ({"i_d": "100 mA"}, None),
    ],
)
def test_a_pulse_rating_that_stands_in_is_never_below_what_the_part_carries_for_good(stated, pulse):
    catalogue = load_catalogue()
    base = min((p for p in catalogue.of_family("nmos")), key=lambda p: p.i_d_pulse)
    assert base.i_d_pulse < 3.0
    record = build_record("nmos", "own-x", "mine", stated, base.id, catalogue)
    assert record["i_d_pulse"] == (pulse or catalogue.raw[base.id]["i_d_pulse"])


def test_mains_on_the_supply_side_weighs_more_and_says_what_it_wants():
    plain, mains = (
        next(v for v in judge(Machine(id="m1", name="Fan", supply_side=way)) if v.key == side)
        for side, way in (
            ("supply_side", {"exists": "yes", "supply": "isolated_low"}),
            ("supply_side", {"exists": "yes", "supply": "mains"}),
        )
    )
    assert mains.points > plain.points and dict(mains.criteria) != dict(plain.criteria)
    assert "enclosure" in mains.reason and "enclosure" not in plain.reason
