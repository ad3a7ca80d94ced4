"""Whatever is changed at random is answered and comes back from its file."""

import random

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.evaluate import evaluate, evaluate_afresh
from latchcore.formats.buildfile import read_build, write_build
from latchcore.stages import STAGES
from tests.core.benches import bench, edited
from tests.core.test_document import DEMOS

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("seed", range(4))
def test_whatever_is_changed_at_random_is_answered_and_comes_back_from_its_file(seed):
    dice, catalogue = random.Random(seed), load_catalogue()
    build = read_build(DEMOS[seed % len(DEMOS)].read_text(encoding="utf-8"))
    typed = {
        "ohms": ["47", "10k", "auto"],
        "watts": ["0.5 W"],
        "thermal": ["5 K/W"],
        "seconds": ["1 ms", "9 ms"],
        "farads": ["1 uF"],
        "resistance": ["100 Ω"],
        "plain": ["10"],
    }
    for step in range(40):
        channel = dice.choice(build.channels)
        setting, rail = (
            dice.choice(STAGES[channel.stage.kind].settings),
            dice.choice(build.rails).id,
        )
        value = (
            rail
            if setting.kind == "rail"
            else dice.choice(
                [key for key, _ in setting.choices]
                if setting.kind == "choice"
                else typed.get(setting.kind, ["auto"])
            )
        )
        name, args = dice.choice(
            [
                ("set_stage", {"channel": channel.id, "stage": dice.choice(list(STAGES))}),
                ("set_setting", {"channel": channel.id, setting.key: value}),
                ("set_load", {"channel": channel.id, "kind": dice.choice(list(catalogue.loads))}),
                ("set_channel_rail", {"channel": channel.id, "rail": dice.choice([rail, ""])}),
                (
                    "set_load",
                    {
                        "channel": channel.id,
                        "voltage": dice.choice(["3 V", "24 V", "230 V"]),
                        "figure": dice.choice(["5 mA", "2 A", "1 kΩ", "2 kW"]),
                    },
                ),
                (
                    "set_rail",
                    {
                        "rail": rail,
                        "source": dice.choice(list(catalogue.sources)),
                        "voltage": dice.choice(["5 V", "24 V", "72 V", "230 V"]),
                    },
                ),
                ("set_rail", {"rail": rail, "switched_by": dice.choice(build.channels).id}),
                ("set_wire", {"channel": channel.id, "fuse": dice.choice(["", "6 A"])}),
                ("set_conditions", {"place": dice.choice(["dry", "damp"])}),
                (
                    "add_input",
                    {
                        "kind": dice.choice(
                            ["zero_coupler", "zero_transformer", "opto", "divider"]
                        ),
                        "rail": rail,
                    },
                ),
            ]
        )
        build = edited(build, (name, args))
        report = advised(build)
        assert all(f.sentence and f.remedies for f in report.all_findings)
        # What is remembered of the channels that were not touched says what working it all out
        # again says.
        if step % 4 == 3:
            assert [(f.check, f.where, f.severity) for f in report.all_findings] == [
                (f.check, f.where, f.severity)
                for f in evaluate_afresh(build, catalogue).all_findings
            ]
        assert write_build(read_build(write_build(build))) == write_build(build)


def test_what_was_fixed_at_one_stage_is_carried_only_where_the_next_one_knows_it():
    build = bench(
        "heater",
        "12 V",
        "1 A",
        stage="relay_contact",
        settings={"drive": "whichever", "resistor_watts": "0.5 W"},
    )
    moved = edited(build, ("set_stage", {"channel": "ch2", "stage": "pmos_high_side"}))
    assert (
        "drive" not in moved.channels[0].stage.settings
        and moved.channels[0].stage.settings["resistor_watts"] == "0.5 W"
    )
    assert write_build(read_build(write_build(moved))) == write_build(moved)


def test_what_a_contact_leans_on_is_not_remembered_of_another_stage():
    build = bench("filament_lamp", "12 V", "5 W", stage="relay_contact", settings={})
    build = edited(
        build,
        ("copy_channel", {"channel": "ch2"}),
        ("set_stage", {"channel": "ch3", "stage": "nmos_low_side"}),
        ("set_series_switch", {"channel": "ch2", "series_switch": "ch3"}),
    )
    for stage in ("nmos_low_side", "relay_contact", "nmos_low_side"):
        build = edited(build, ("set_stage", {"channel": "ch3", "stage": stage}))
        remembered, afresh = (
            [(m.check, m.key, m.worst) for m in report.channels[0].result.measures]
            for report in (evaluate(build), evaluate_afresh(build, load_catalogue()))
        )
        assert remembered == afresh
