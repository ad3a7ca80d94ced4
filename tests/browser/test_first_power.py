"""First power on a phone: every demo plan walked to its end, and hidden faults stopped in time."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.hands import tap
from workbench.actions.creating import create_from_file
from workbench.models import Run

DEMO = Path(__file__).parents[2] / "demo"
PHONE = {"width": 390, "height": 844}
READ = "Read it on the simulated bench"
#: Ten faults that are hidden, with the build they are hidden in.
HIDDEN = [
    ("seedling-bench", "barrier"),
    ("seedling-bench", "earth"),
    ("seedling-bench", "fuse"),
    ("seedling-bench", "rail1:too-high"),
    ("seedling-bench", "ch5.K1:welded"),
    ("seedling-bench", "ch5.Q1:shorted"),
    ("seedling-bench", "ch5.R1:open-or-not-joined"),
    ("seedling-bench", "ch5.D1:the-wrong-way-round"),
    ("potting-bench-valve", "rail1:shorted"),
    ("potting-bench-valve", "slipped"),
]


@pytest.fixture
def small(page):
    page.set_viewport_size(PHONE)
    return page


def at(page, address: str) -> None:
    """Go there; a page that found the data busy is asked for again."""
    for _ in range(5):
        page.goto(address)
        if not page.get_by_role("heading", name="The data is busy").count():
            return
        page.wait_for_timeout(300)


def put_up(live_server, name: str) -> str:
    build = create_from_file((DEMO / f"{name}.json").read_bytes())
    return f"{live_server.url}/builds/{build.pk}/"


def mend_stops(page, build: str) -> None:
    """Press the first remedy of every stop until none stands."""
    for _ in range(12):
        at(page, build)
        stops = page.locator("#verdict .finding.stop form button")
        if not stops.count():
            return
        before = page.locator("#verdict .finding.stop").count()
        stops.first.click()
        expect(page.locator("#verdict .finding.stop")).not_to_have_count(before)
    raise AssertionError("a stop is left that one press does not mend")


def walk(page, build: str) -> None:
    """Go on with the run of a build until there is nothing left to read."""
    at(page, build + "first-power/")
    on = page.get_by_role("link", name="Go on, one step a")
    if on.count():
        on.click()
    while page.get_by_role("button", name=READ).count():
        before = page.locator("h1").inner_text()
        page.get_by_role("button", name=READ).dispatch_event("click")
        # Either the next step comes, or this one says what its miss means.
        page.wait_for_function(
            "was => document.querySelector('h1').innerText !== was"
            " || document.querySelector('.step-verdict')",
            arg=before,
        )
        if page.locator(".step-verdict").count():
            return


@pytest.mark.slow
@pytest.mark.parametrize("name", sorted(path.stem for path in DEMO.glob("*.json")))
def test_the_plan_of_a_demo_build_is_walked_to_its_end(small, live_server, name):
    build = put_up(live_server, name)
    small.goto(build + "first-power/")
    gated = small.get_by_text("Nothing after stage 0 while this stands").count()
    small.get_by_role("button", name="On the simulated bench").click()
    expect(small.get_by_role("button", name=READ)).to_be_visible()
    walk(small, build)
    if gated:
        # The dead board is looked at, and not a step more; mended, the same run goes on.
        run = Run.objects.get()
        assert {e.step[:3] for e in run.entries.all()} == {"s0-"} and run.ended is None
        mend_stops(small, build)
        walk(small, build)
    run = Run.objects.get()
    assert run.outcome == "whole", run.entries.last()
    assert not run.entries.filter(good=False).exists()
    expect(small.get_by_text("walked to the end").first).to_be_visible()
    assert small.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


@pytest.mark.slow
@pytest.mark.parametrize(("name", "fault"), HIDDEN)
def test_a_hidden_fault_stops_the_run_before_anything_hazardous_is_live(
    small, live_server, name, fault
):
    build = put_up(live_server, name)
    number = int(build.rstrip("/").rpartition("/")[2])
    run = Run.objects.create(build_id=number, revision=1, kind="practice", fault=fault, seed=5)
    walk(small, build)
    expect(small.locator(".step-verdict")).to_contain_text("Nothing later opens")
    # Whatever else of that stage reads well, the next one stays shut, and so does the last.
    last = run.entries.last()
    assert not last.good and int(last.step[1]) < 8
    small.goto(f"{build}first-power/?run={run.pk}&step=s8-first")
    if name == "seedling-bench":
        expect(small.get_by_text("Not yet:")).to_be_visible()
        assert small.get_by_role("button", name=READ).count() == 0
    assert not run.entries.filter(step__startswith="s8").exists()


def test_a_reading_is_typed_judged_and_kept_through_back_reload_and_a_second_tab(
    small, live_server
):
    build = put_up(live_server, "potting-bench-valve")
    small.goto(build + "first-power/")
    small.get_by_role("button", name="Begin, one step a screen").press("Enter")
    small.get_by_role("button", name="As said").click()
    small.get_by_label("As it stands on the meter").fill("about right")
    tap(small, "Enter")
    expect(small.get_by_role("alert")).to_contain_text("is no reading")
    expect(small.get_by_label("As it stands on the meter")).to_have_value("about right")
    small.get_by_label("As it stands on the meter").fill("OL")
    tap(small, "Enter")
    expect(small.locator("h1")).to_contain_text("alone, nothing on it")
    small.reload()
    expect(small.locator("h1")).to_contain_text("alone, nothing on it")
    small.go_back()
    expect(small.locator("h1")).to_contain_text("against its return, unplugged")
    other = small.context.new_page()
    other.goto(build + "first-power/")
    expect(other.get_by_text("2 of ")).to_be_visible()
    other.close()
    # Targets are large enough for a thumb.
    small.goto(build + "first-power/?step=s1-rail1")
    for button in small.locator(".step-form .act, .step-on .act").all():
        assert button.bounding_box()["height"] >= 44
