"""What a servo has to do: hold what hangs on its arm, and get there in time."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.sums.servos import angle_of, torque_needed


def measured(context: ChannelContext, result: StageResult) -> None:
    """Torque against what it gives, the time its way takes against the pause; as far as stated."""
    _torque(context, result)
    _way(context, result)


def _torque(context: ChannelContext, result: StageResult) -> None:
    force, arm = context.given("force", "N"), context.given("arm", "m")
    gives, w = context.given("torque", "N·m"), result.working
    if force is None or arm is None:
        return
    w.note("F_arm", "force at the end of its arm", "N", force, {}, {}, "as stated")
    w.note("l_arm", "length of that arm", "m", arm, {}, {}, "as stated")
    needed = w.note(
        "M_arm", "F_arm · l_arm, at right angles", "N·m", torque_needed(force, arm), {}, {}
    )
    if gives is None:
        return
    result.measures.append(
        Measure(
            "servo_torque",
            "M5",
            "Torque of its arm",
            "N·m",
            needed,
            "max",
            "force at right angles to the arm",
            "M_arm",
            "A servo that cannot hold its arm stands stalled and takes that current all along.",
            fix=gives,
            fix_name="what it gives, as printed",
        )
    )


def _way(context: ChannelContext, result: StageResult) -> None:
    sixty, pause = context.given("sixty", "s"), context.given("pause", "s")
    servo, w = result.servo, result.working
    if sixty is None or servo is None or servo.turned:
        return
    ends = [context.given(key, "s") for key in ("rest_pulse", "work_pulse")]
    told = [p for p in ends if p is not None]
    way = servo.travel
    if len(told) == 2:
        places = [angle_of(p, servo.narrow, servo.wide, servo.travel) for p in told]
        way = abs(places[1] - places[0])
    w.note("A_way", "from rest to work" if len(told) == 2 else "all its travel", "°", way, {}, {})
    w.note("t_60", "time for 60°", "s", sixty, {}, {}, "as printed, unloaded")
    takes = w.note("t_way", "A_way · t_60 / 60°", "s", way * sixty / 60.0, {}, {})
    if pause is None:
        return
    result.measures.append(
        Measure(
            "servo_way",
            "D9",
            "Time its way takes",
            "s",
            takes,
            "max",
            "as printed, unloaded; longer with a load",
            "t_way",
            "What comes next finds the arm still on its way.",
            fix=pause,
            fix_name="what the program gives it",
        )
    )
