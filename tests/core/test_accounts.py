"""
The demo's builds, word for word: a change of what is said of them is looked at and named, or it is
a fault.
"""

import difflib
import itertools

import pytest

from latchcore.pieces.input_kinds import KINDS
from latchcore.stages import STAGES
from tests.accounts import ACCOUNTS, account, judged, kept, mended, sensed, worked
from tests.grounds import BOARDS, LOADS, grounds, said

DEMO = [name for name in grounds() if name.startswith("demo")]


@pytest.mark.parametrize("name", DEMO)
def test_what_is_said_of_a_build_of_the_demo_is_what_was_kept(name):
    stands = (ACCOUNTS / f"{name}.txt").read_text(encoding="utf-8").splitlines()
    says = account(grounds()[name]).splitlines()
    changed = [line for line in difflib.unified_diff(stands, says, lineterm="", n=2)][:40]
    assert not changed, "\n".join(changed)


@pytest.mark.parametrize("name", [n for n in grounds() if n not in DEMO])
def test_what_is_said_of_a_ground_of_the_nets_is_what_was_kept(name):
    kept(name, said(grounds()[name]))


@pytest.mark.parametrize("stage", STAGES)
def test_what_is_said_of_a_stage_on_every_load_and_how_it_is_mended_is_what_was_kept(stage):
    for load, board in itertools.product(LOADS, BOARDS):
        kept(f"{stage} on {load} at {board}", mended(stage, load, board))


@pytest.mark.parametrize("stage", STAGES)
def test_what_is_said_of_a_stage_at_work_is_what_was_kept(stage):
    kept(f"{stage} at work", worked(stage))


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_said_of_an_input_with_each_of_its_options_is_what_was_kept(kind):
    kept(f"input {kind}", sensed(kind))


def test_what_a_test_of_a_module_concludes_is_what_was_kept():
    kept("module tests", judged())
