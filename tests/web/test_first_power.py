"""First power: the plan on a page, one step a screen, what was read kept as a run."""

from __future__ import annotations

import html
import re
from pathlib import Path

import pytest

from latchcore.procedure.plan import plan_of
from tests.web.build_client import BuildClient
from workbench.actions.creating import create_from_file
from workbench.actions.editing import edit_build
from workbench.drawer import meter_at_hand
from workbench.models import LogEntry, Run, RunEntry

pytestmark = pytest.mark.django_db
DEMO = Path(__file__).parents[2] / "demo"


class Bench(BuildClient):
    """A build with its page of first power."""

    def __init__(self, client, name: str):
        super().__init__(client, "first-power/", name)

    def read_until(self, stage: int, **kind) -> str:
        """Let the simulated bench read every step below a stage."""
        text = self.post(do="start", **kind)
        run = self.build.runs.first()
        while True:
            found = re.search(r'name="step" value="([^"]+)"', text)
            if found is None or run.ended is not None:
                return text
            if int(found[1][1]) >= stage or "Find the" in text:
                return text
            text = self.post(do="simulate", run=run.pk, step=found[1])
            run.refresh_from_db()
            if run.entries.order_by("-id").first().good is False:
                return text

    @property
    def plan(self):
        build = self.fresh
        return plan_of(build.around, build.report)


@pytest.fixture
def bench(client):
    return lambda name="potting-bench-valve": Bench(client, name)


def test_every_step_stands_on_the_page_by_its_stage(bench):
    text = bench().get()
    for words in ("0. Dead and unplugged", "5. Low voltage with a current limit", "under 101 mV"):
        assert words in text
    assert "8. Mains" not in text and "Nothing after stage 0" not in text
    assert "usual hand meter, 2000 counts" in text


def test_the_first_reading_begins_a_run_and_leads_on(bench):
    one = bench()
    text = one.post(do="read", step="s0-A-legs", reading="yes")
    run = Run.objects.get()
    assert (run.kind, run.revision) == ("bench", one.build.head.number)
    entry = RunEntry.objects.get()
    assert (entry.typed, entry.good, entry.window) == ("yes", True, "as said")
    # It leads to the next step, and says what was read before it.
    after = one.plan.steps[1].id
    assert f'name="step" value="{after}"' in text and "Before it" in text
    # The reading stands in the log as well.
    assert LogEntry.objects.get().figures["step"] == "s0-A-legs"


def test_a_step_is_judged_and_what_missed_locks_what_comes_after(bench):
    one = bench()
    one.read_until(5, kind="simulated")
    run = Run.objects.get()
    bad = one.post(do="read", run=run.pk, step="s5-A2-on", reading="11.9")
    assert "11.9: too high." in bad and "R1 open or not joined" in bad
    # Only what puts it on that side is named, beside the drawing with both points marked.
    assert "Q1 shorted" not in bad and 'aria-label="Schematic of Mist relay' in bad
    assert 'data-probe="red"' in bad and 'data-probe="black"' in bad
    assert "channels/ch2/fault/?" in bad and "on-2=11.9" in bad
    locked = one.get(run=run.pk, step="s6-A")
    assert "Not yet: Stage 5" in locked, re.findall("Not yet[^<]*", locked)
    assert "Not yet" in one.post(status=422, do="read", run=run.pk, step="s6-A", reading="yes")
    # Read again as expected, the way is free once its stage is done; both readings are kept.
    one.post(do="read", run=run.pk, step="s5-A2-on", reading="0.09")
    assert [e.typed for e in RunEntry.objects.filter(step="s5-A2-on")] == ["11.9", "0.09"]


def test_nonsense_is_kept_and_told_and_counts_for_nothing(bench):
    one = bench()
    text = one.post(status=422, do="read", step="s0-rail1-short", reading="about right")
    assert "“about right” is no reading" in text and 'value="about right"' in text
    assert not RunEntry.objects.exists()


def test_while_a_stop_stands_only_the_dead_board_is_looked_at(bench):
    one = bench("hollyhock-marionettes")
    assert "Not yet: C4 Trapdoor" in one.get(step="s1-rail1")
    assert "Not yet: C4" in one.post(status=422, do="read", step="s1-rail1", reading="12")
    assert "Expected" in one.get(step="s0-rail1-short")


def test_a_step_or_a_run_that_is_gone_is_said(bench, client):
    one = bench()
    assert "no longer in the plan" in one.get(step="s5-Z9-on")
    assert "no longer in the plan" in one.post(status=422, do="read", step="s5-Z9-on", reading="1")
    assert client.get(one.address, {"run": "99"}).status_code == 404
    other = Bench(client, "seedling-bench")
    other.post(do="start", kind="bench")
    assert client.get(one.address, {"run": Run.objects.get().pk}).status_code == 404


def test_a_skip_needs_a_reason_and_is_recorded(bench):
    one = bench()
    assert "needs a reason" in one.post(status=422, do="skip", step="s0-A-legs", reason=" x ")
    one.post(do="skip", step="s0-A-legs", reason="only two legs, both soldered by eye")
    text = one.get(run=Run.objects.get().pk)
    assert "skipped:" in text and "only two legs" in text


@pytest.mark.parametrize("step", ["s0-A-legs", "s0-earth", "s0-apart-1", "s3-A-NO-on"])
def test_what_the_mains_rests_on_cannot_be_skipped(bench, step):
    one = bench("seedling-bench")
    if step.startswith("s3"):
        one.read_until(3, kind="simulated")
    said = one.post(status=422, do="skip", step=step, reason="it looked fine to me")
    assert "cannot be skipped" in said and not RunEntry.objects.exclude(skipped="").exists()


def test_a_reading_goes_stale_when_the_design_moves_on(bench):
    one = bench()
    one.read_until(2, kind="simulated")
    run = Run.objects.get()
    before = run.entries.get(step="s0-rail1-short")
    build = one.fresh
    edit_build(build, "set_rail", {"rail": "rail1", "voltage": "11.5 V"}, build.version)
    text = one.get(run=run.pk, step="s0-rail1-short")
    assert "The design moved on" in text and before.typed in text
    # What rests on it is locked again, and the record keeps what was expected then.
    assert "was read before the design moved on" in one.get(run=run.pk, step="s1-rail1")
    assert run.entries.get(step="s0-rail1-short").window == before.window
    assert "before the" in one.get(run=run.pk)


def test_a_run_is_paused_and_goes_on_where_it_stood(bench):
    one = bench()
    one.post(do="read", step="s0-A-legs", reading="yes")
    text = one.get()
    assert "1 of" in text and "Go on, one step a" in text
    run = Run.objects.get()
    one.post(do="end", run=run.pk)
    assert "ended as it stood" in one.get(run=run.pk)
    over = one.post(status=422, do="read", run=run.pk, step="s0-B-legs", reading="yes")
    assert "over" in over and RunEntry.objects.count() == 1


def test_two_tabs_only_ever_add(bench):
    one = bench()
    for _ in range(2):
        one.post(do="read", step="s0-A-legs", reading="yes")
    assert Run.objects.count() == 1 and RunEntry.objects.count() == 2
    assert "1 of" in one.get()


def test_a_meter_of_ones_own_widens_the_windows(bench):
    one = bench()
    one.post(do="start", kind="bench", meter="meter-6000")
    text = one.get(run=Run.objects.get().pk)
    assert "Windows hold at every corner and for this meter: good hand meter, 6000" in text
    wide, narrow = (
        plan_of(one.build.around, one.build.report, m).step("s1-rail1").most
        for m in (None, meter_at_hand("meter-6000"))
    )
    assert narrow < wide


def test_a_hidden_fault_stops_the_run_and_is_shown_when_it_is_asked_for(bench):
    one = bench()
    text = one.read_until(9, kind="practice", fault="ch2.Q1:shorted")
    run = Run.objects.get()
    assert run.ended is None and "Nothing later opens" in text
    assert "It hid" not in one.get(run=run.pk)
    shown = one.post(do="reveal", run=run.pk)
    assert "It hid:" in shown and "Q1 shorted" in shown and "the fault was shown" in shown


def test_a_sound_build_is_walked_to_the_end(bench):
    one = bench()
    one.read_until(9, kind="simulated")
    run = Run.objects.get()
    assert (run.outcome, run.entries.filter(good=True).count()) == ("whole", len(one.plan.steps))


def test_what_is_no_kind_or_no_fault_is_refused(bench):
    one = bench()
    assert "is no kind of run" in one.post(status=422, do="start", kind="<b>wild")
    assert "has no fault called" in one.post(
        status=422, do="start", kind="practice", fault="ch9.R1:shorted"
    )
    assert "nothing that can be done" in one.post(status=422, do="dance", step="s0-A-legs")
    one.post(do="start", kind="bench")
    said = one.post(status=422, do="simulate", step="s0-A-legs", run=Run.objects.get().pk)
    assert "read with a meter of one's own" in said


@pytest.fixture
def fault(client):
    build = create_from_file((DEMO / "potting-bench-valve.json").read_bytes())

    def get(channel: str = "ch2", **asked) -> str:
        answer = client.get(f"/builds/{build.pk}/channels/{channel}/fault/", asked)
        assert answer.status_code == 200
        return html.unescape(answer.content.decode())

    return get


def test_causes_are_ranked_and_the_next_reading_is_marked(fault):
    text = fault(**{"load-on": "dead", "on-2": "12.0", "on-3": "0", "on-1": "4.9"})
    first = text.partition("How likely")[2].partition("<td>")[2].partition("</td>")[0]
    assert first == "R1 open or not joined"
    assert "read this next" in fault(**{"load-on": "dead"}) and "There would" in fault()


def test_nonsense_in_a_reading_is_kept_and_counts_for_nothing(fault):
    text = fault(**{"on-2": "warm", "load-on": "purple"})
    assert "“warm” is no reading" in text and 'value="warm"' in text


def test_a_current_is_typed_in_milliamperes_and_over_range_counts(fault):
    text = fault(**{"load-on": "dead", "amps:rail1-on": "OL"})
    assert "Milliamperes in the wire from 12 V adapter" in text
    assert "Point 3 against 0 V, the board held in reset" in text
    first = text.partition("How likely")[2].partition("<td>")[2].partition("</td>")[0]
    # A clamp that sits the wrong way round does the same.
    assert first in ("D1 the wrong way round", "D1 shorted", "The load shorted")
    text = fault(**{"load-on": "dead", "amps:rail1-on": "0.00"})
    share = re.search(r"The load shorted</td>(.*?)</td>", text.partition("How likely")[2], re.S)
    assert share is None or "under" in share[1]
    assert "“some” is no reading" in fault(**{"amps:rail1-on": "some"})


def test_what_has_no_law_is_said(client):
    build = create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())
    answer = client.get(f"/builds/{build.pk}/channels/ch24/fault/").content.decode()
    assert "its line carries pulses" in answer
    assert client.get(f"/builds/{build.pk}/channels/ch99/fault/").status_code == 404


def test_a_symptom_says_what_the_load_does_and_makes_its_causes_likelier(fault):
    text = fault(symptom="stays")
    first = text.partition("How likely")[2].partition("<td>")[2].partition("</td>")[0]
    assert first in ("Q1 shorted", "Pin L4 stays high"), first
    plain = fault(symptom="nonsense")
    assert "Next:" in plain


def test_what_the_log_names_counts_as_likelier(client):
    build = create_from_file((DEMO / "potting-bench-valve.json").read_bytes())
    address = f"/builds/{build.pk}/channels/ch2/fault/"
    LogEntry.objects.create(
        build=build, revision=1, channel="ch2", kind="incident", words="D1 was broken by the leg"
    )
    text = html.unescape(client.get(address, {"load-on": "dead"}).content.decode())
    assert "The log names D1 here" in text
