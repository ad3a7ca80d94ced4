"""A build file comes back as it went out, whatever is said in it."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.document.models import Build
from latchcore.formats.buildfile import BuildFileError, read_build, write_build
from tests.behaviour.neutral import Neutral
from tests.behaviour.random_ones import a_behaviour

DEMO = Path(__file__).parents[2] / "demo"
NAMES = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=40).filter(
    lambda text: text.strip()
)


@pytest.mark.parametrize("path", sorted(DEMO.glob("*.json")), ids=lambda p: p.stem)
def test_every_build_of_the_demo_goes_round(path):
    build = read_build(path.read_bytes())
    assert read_build(write_build(build).encode()) == build


@settings(max_examples=60, deadline=None)
@given(
    seed=st.integers(0, 10_000),
    name=NAMES,
    note=st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=80),
)
def test_behaviours_made_by_chance_go_round_with_any_name_and_note(seed, name, note):
    build = Neutral(a_behaviour(seed)).build
    # Its ids are of the tests' own making; a file counts on from the highest of them.
    build = build.model_copy(update={"name": name, "note": note, "serial": 10_000})
    try:
        build = Build.model_validate(build.model_dump())
    except ValueError:
        return
    again = read_build(write_build(build).encode())
    assert again.does == build.does and again.name == build.name and again.note == build.note


@settings(max_examples=150, deadline=None)
@given(st.binary(max_size=400))
def test_any_bytes_are_a_build_or_refused_in_words(content):
    try:
        read_build(content)
    except BuildFileError as error:
        assert str(error)
