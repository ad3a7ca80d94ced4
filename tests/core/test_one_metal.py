"""What hangs on a hazardous rail by metal is hazardous, whatever it is called."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.metal.conductors import Terminal
from latchcore.whole.laying.conductors import conductors
from tests.core.benches import bench, edited, findings


def with_line(**rail):
    """A heater on 12 V beside a line that is made from mains, the 12 V rail as it is told."""
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("add_rail", {"voltage": "320 V", "source": "mains_derived"}),
    )
    return edited(build, ("set_rail", {"rail": "rail1", **rail})) if rail else build


@pytest.mark.parametrize(
    "told",
    [
        {"fed_by": "rail3"},
        {"fed_by": "rail3", "converter": "linear"},
        {"fed_by": "rail3", "converter": "switching"},
        {"joined_with": "rail3"},
    ],
)
def test_a_low_rail_fed_by_regulated_from_or_joined_with_the_line_is_the_line(told):
    build = with_line(**told)
    around = BuildContext(build, load_catalogue())
    assert around.hazardous(build.rail("rail1")) and findings(build)["I1"] == "stop"


def test_it_is_so_however_many_rails_stand_between_and_from_either_end():
    build = edited(
        with_line(fed_by="rail3", converter="switching"),
        ("add_rail", {"voltage": "5 V"}),
        ("set_rail", {"rail": "rail4", "fed_by": "rail1", "converter": "linear"}),
        ("add_rail", {"voltage": "9 V"}),
        ("set_rail", {"rail": "rail5", "joined_with": "rail4"}),
    )
    around = BuildContext(build, load_catalogue())
    assert [around.hazardous(r) for r in build.rails] == [True] * 4


def test_a_source_of_its_own_beside_the_line_and_an_approved_adapter_on_it_are_parted():
    for build in (with_line(), with_line(fed_by="rail3", converter="isolating")):
        around = BuildContext(build, load_catalogue())
        assert not around.hazardous(build.rail("rail1")) and "I1" not in findings(build)


def test_the_way_out_is_an_adapter_in_one_press():
    build = with_line(fed_by="rail3", converter="switching")
    stop = next(f for f in advised(build).all_findings if f.check == "I1")
    remedy = next(r for r in stop.remedies if r.edits)
    assert "safety-isolating adapter" in remedy.label
    mended, _ = apply(build, *remedy.edits[0])
    assert "I1" not in findings(mended)


def test_both_conductors_of_an_adapter_are_wired_to_the_line_and_none_of_them_to_its_low_side():
    build = with_line(fed_by="rail3", converter="isolating")
    laid = conductors(BuildContext(build, load_catalogue()), advised(build))
    into = {c.end: c for c in laid if c.end.part == "SUPPLY.rail1"}
    line, back = into[Terminal("SUPPLY.rail1", "IN")], into[Terminal("SUPPLY.rail1", "IN-")]
    assert {line.domain, back.domain} == {"hazardous"} and line.running == back.running > 0
