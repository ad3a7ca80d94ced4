"""A motor both ways in the browser's pages: its lines, its table, its sheet."""

from django.urls import reverse


def page(client, theatre):
    return client.get(reverse("channel", args=[theatre.pk, "ch10"])).content.decode()


def fresh(theatre):
    return type(theatre).objects.get(pk=theatre.pk)


def post(client, theatre, edit, **args):
    data = {"edit": edit, "version": fresh(theatre).version, **args}
    return client.post(reverse("channel", args=[theatre.pk, "ch10"]), data, follow=True)


def test_the_page_tells_what_comes_about_and_folds_what_does_not(client, theatre):
    html = page(client, theatre)
    shown, folded = html.split('id="bridge-others"')
    assert "Every combination of its lines" in shown and "forward low, reverse low" in shown
    assert "combinations that nothing brings about" in folded
    assert "State: forward" in shown


def test_its_second_line_is_chosen_beside_its_first_and_a_wrong_one_is_said_there(client, theatre):
    html = page(client, theatre)
    assert "Pin, reverse" in html and 'value="ch10.reverse"' in html
    post(client, theatre, "place_pin", what="ch10.reverse", pin="P14")
    assert fresh(theatre).document.channel("ch10").lines == {"reverse": "P14"}
    assert "P14 pulses while the board starts" in page(client, theatre)
    answer = post(client, theatre, "place_pin", what="ch10.reverse", pin="P99")
    assert "no pin of this board" in answer.content.decode()


def test_the_deck_shows_both_lines_under_one_letter(client, theatre):
    html = client.get(reverse("pins", args=[theatre.pk])).content.decode()
    assert "Curtain motor, forward" in html and "Curtain motor, reverse" in html


def test_the_sheet_prints_what_comes_about(client, theatre):
    html = client.get(reverse("sheet", args=[theatre.pk])).content.decode()
    assert "<th>The motor</th>" in html and "<td>reverse</td>" in html
    assert "Pull-down at each input" in html


def test_an_enable_is_asked_only_of_a_bridge_that_has_one(client, theatre):
    assert "Its enable" not in page(client, theatre)
    post(client, theatre, "set_setting", channel="ch10", bridge="bridge-mosfet-28v-20a")
    assert "Its enable" in page(client, theatre)
    assert set(fresh(theatre).document.channel("ch10").lines) == {"forward", "reverse"}
