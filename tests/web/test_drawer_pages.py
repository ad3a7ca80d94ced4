"""Advisor, spread view, drawer and stepping in, through their pages."""

import pytest
from django.urls import reverse

from workbench.models import StockPart

BELL, SHUTTER, LAMP = "ch5", "ch7", "ch6"
TABLE = (
    "family,title,base,value,quantity,place,price\nresistor,,,390,20,box,0.05\nnpn,my"
    " NPN,npn-45v-500ma,,3,tray,0.2\n"
)


def test_the_advisor_ranks_and_one_press_uses_it(client, theatre, post):
    page = client.get(reverse("advisor", args=[theatre.pk, SHUTTER])).content.decode()
    assert "First:" in page and page.index("N-channel, low side") < page.index(
        "Base current 6.71 mA"
    )
    answer, build = post(
        f"channels/{SHUTTER}/advisor/", edit="set_stage", channel=SHUTTER, stage="nmos_low_side"
    )
    assert (
        answer.status_code == 200 and build.document.channel(SHUTTER).stage.kind == "nmos_low_side"
    )
    _, build = post(f"channels/{SHUTTER}/advisor/", edit="undo")
    assert build.document.channel(SHUTTER).stage.kind == "npn_low_side"


def test_a_declared_need_is_kept_and_moves_the_order(post):
    answer, build = post(
        f"channels/{LAMP}/advisor/",
        edit="set_needs",
        channel=LAMP,
        needs=["", "isolated", "grounded_load"],
    )
    assert build.document.channel(LAMP).needs == ["isolated", "grounded_load"]
    text = answer.content.decode()
    assert text.index("Coupler and P-channel") < text.index("it does not meet")


def test_all_that_are_ticked_are_compared_and_every_row_can_be_used(client, theatre):
    page = client.get(
        reverse("advisor", args=[theatre.pk, LAMP]),
        {"with": ["nmos_low_side", "pmos_high_side", "coupler_nmos", "pv_mosfet"]},
    ).content.decode()
    assert page.count('<article class="card-s') == 4
    rows = page.split('<form method="get" class="ranking">')[1].split("</form>")[0]
    worked = rows.count("<tr") - 1 - rows.count("in the design")
    assert rows.count('form="use-stage"') == worked >= 10


@pytest.mark.parametrize("measure", ["", "base_current", "nonsense", "blocking"])
def test_the_spread_of_any_quantity(client, theatre, measure):
    answer = client.get(reverse("spread", args=[theatre.pk, BELL]), {"measure": measure})
    text = answer.content.decode()
    assert answer.status_code == 200 and ("worst corner" in text or "Nothing that varies" in text)


@pytest.mark.parametrize("page", ["advisor", "spread"])
def test_a_channel_that_is_gone_is_said_there_too(client, theatre, page):
    assert client.get(reverse(page, args=[theatre.pk, "ch99"])).status_code == 404


def test_a_table_is_shown_before_it_is_taken_in(client, db):
    preview = client.post(reverse("import-parts"), {"text": TABLE})
    assert "2 added" in preview.content.decode() and not StockPart.objects.exists()
    client.post(reverse("import-parts"), {"text": TABLE, "confirm": "yes"})
    assert StockPart.objects.count() == 2
    # A row without a version replaces nothing; one without a key is a second part of that name.
    again = client.post(reverse("import-parts"), {"text": TABLE.replace("390,20", "390,25")})
    assert (
        again.status_code == 422
        and "version 1" in again.content.decode()
        and "1 added" in again.content.decode()
    )
    table = client.get(reverse("export-parts")).content.decode()
    again = client.post(reverse("import-parts"), {"text": table.replace(",390,20,", ",390,25,")})
    assert "1 changed" in again.content.decode() and "1 as they are" in again.content.decode()


def test_one_bad_row_and_nothing_is_taken_in(client, db):
    answer = client.post(
        reverse("import-parts"), {"text": TABLE + "resistor,,,4k7k,1,,\n", "confirm": "yes"}
    )
    text = answer.content.decode()
    assert (
        answer.status_code == 422
        and "4k7k" in text
        and not StockPart.objects.exists()
        and ">4<" in text.replace(' class="m"', "")
    )


def test_five_thousand_parts_come_in_at_once(client, db):
    rows = "".join(f"nmos,part {i},nmos-30v-6a-2v5,,1,box,0.5\n" for i in range(5000))
    head = TABLE.split("\n")[0] + "\n"
    assert (
        client.post(reverse("import-parts"), {"text": head + rows, "confirm": "yes"}).status_code
        == 302
    )
    assert StockPart.objects.count() == 5000


def test_a_part_is_entered_with_help_and_stands_where_its_class_stood(client, theatre, post):
    form = client.get(reverse("part"), {"family": "nmos"}).content.decode()
    assert "Trap:" in form and "not among them" in form
    data = {
        "family": "nmos",
        "base": "nmos-30v-6a-2v5",
        "title": "N-channel 40 V 9 A",
        "i_d": "9 A",
        "quantity": "3",
    }
    assert client.post(reverse("part"), data).status_code == 302
    part = StockPart.objects.get()
    assert part.given == ["i_d"] and part.figures["v_gs_max"] == "12 V"
    _, build = post("channels/ch4/", edit="set_setting", channel="ch4", transistor=part.key)
    assert build.report.channel("ch4").result.parts["transistor"].i_d == 9.0
    assert "Hollyhock Marionettes B" in client.get(reverse("drawer")).content.decode()


@pytest.mark.parametrize(
    "field, typed, says",
    [
        ("i_d", "9 V", "in volts"),
        ("r_on", "x", "not a quantity"),
        ("title", "", "Nothing was typed"),
        ("quantity", "few", "no count"),
    ],
)
def test_a_wrong_figure_is_named_and_the_rest_is_kept(client, db, field, typed, says):
    data = {
        "family": "nmos",
        "base": "nmos-30v-6a-2v5",
        "title": "mine",
        "v_ds": "44 V",
        "quantity": "1",
    } | {field: typed}
    answer = client.post(reverse("part"), data)
    text = answer.content.decode()
    assert (
        answer.status_code == 422
        and says in text
        and 'value="44 V"' in text
        and not StockPart.objects.exists()
    )


def test_what_the_drawer_holds_is_preferred_and_leaves_the_shopping_list(client, theatre, post):
    client.post(reverse("import-parts"), {"text": TABLE, "confirm": "yes"})
    _, build = post("at-hand/", edit="set_conditions", prefer_stock="yes")
    assert build.report.channel(BELL).result.value("base_resistor").detail == "from the drawer"
    page = client.get(reverse("sizes", args=[theatre.pk])).content.decode()
    assert (
        '<td class="m">390 Ω</td><td class="m">8</td><td class="m">20</td><td class="m">0</td>'
        in page
    )


def test_the_drawer_goes_out_as_a_table_and_formulas_are_neutralised(client, db):
    client.post(
        reverse("import-parts"), {"text": TABLE.replace("box", "'=danger"), "confirm": "yes"}
    )
    text = client.get(reverse("export-parts")).content.decode()
    assert "'=danger" in text and "\nresistor-390,1,resistor" in text


def test_fewer_values_are_one_edit(post, theatre):
    before = {v.value for c in theatre.report.channels for v in c.result.values if v.unit == "Ω"}
    _, build = post("sizes/", edit="fit_common_resistors")
    values = {v.value for c in build.report.channels for v in c.result.values if v.unit == "Ω"}
    assert len(values) == 5 < len(before)
    answer, _ = post("sizes/", edit="fit_common_resistors")
    assert answer.status_code == 422


def test_a_machine_is_noted_before_any_stage(post):
    _, build = post("step-in/", edit="add_machine", name="Attic fan")
    machine = build.document.machines[0].id
    answer, build = post(
        "step-in/",
        edit="set_machine",
        machine=machine,
        **{
            "remote_line.exists": "yes",
            "remote_line.supply": "isolated_low",
            "untouched": "starts slowly, stops at once",
        },
    )
    text = answer.content.decode()
    assert (
        "made for it" in text.lower()
        and build.document.machines[0].untouched == "starts slowly, stops at once"
    )
    answer, _ = post("step-in/", edit="set_machine", machine=machine, stores_high_voltage="perhaps")
    assert answer.status_code == 422


@pytest.mark.parametrize(
    "data",
    [
        {"do": "count", "key": "nothing", "quantity": "1"},
        {"do": "melt"},
        {"do": "discard", "key": "x"},
    ],
)
def test_nonsense_in_the_drawer(client, db, data):
    assert client.post(reverse("drawer"), data).status_code == 422


def test_a_part_that_is_there_is_changed_in_one_figure_and_the_rest_of_it_stays(client, db):
    data = {
        "family": "nmos",
        "base": "nmos-30v-6a-2v5",
        "title": "mine",
        "i_d": "5 A",
        "v_ds": "40 V",
        "quantity": "3",
    }
    client.post(reverse("part"), data)
    part = StockPart.objects.get()
    form = client.get(reverse("part"), {"key": part.key}).content.decode()
    assert 'value="5 A"' in form and f'name="base" value="{part.key}"' in form
    answer = client.post(
        reverse("part"),
        {
            "family": "nmos",
            "key": part.key,
            "version": 1,
            "title": "mine",
            "i_d": "4 A",
            "v_ds": "40 V",
            "quantity": "3",
        },
    )
    part.refresh_from_db()
    assert (
        answer.status_code == 302
        and part.figures["i_d"] == "4 A"
        and part.figures["v_gs_max"] == "12 V"
        and "nmos-30v-6a-2v5" in part.figures["source"]
    )
