"""The input of a module that is pulled low to switch on."""

from __future__ import annotations

from latchcore.design.report import Measure
from latchcore.design.states import Control, Decided, at_boot
from latchcore.figures.quantity import show
from latchcore.pieces.frame import UNPOWERED_PIN, pin_limits
from latchcore.sums import modules


def _low_input(context, result, module, unit, logic) -> None:
    board, w, add = context.board, result.working, result.measures.append
    least, most = modules.on_currents(unit, 0.0, board.vol_noload, w, board.sink_droop)
    w.note("I_on_need", "as the module wants", "A", module.on_current, {}, {})
    add(
        Measure(
            "input_on",
            "P7",
            "LED current with the pin low",
            "A",
            least,
            "min",
            "low supply, high V_F, high resistor",
            "I_on_min",
            "Too little, and the relay chatters or stays off; an indicator in series can eat all of"
            " 3.3 V.",
            stop=module.on_current,
            stop_name="what its input wants",
        )
    )
    result.pin_current = most
    pin_limits(
        context,
        result,
        "high supply, low V_F, low resistor",
        "The pin sinks what the LED takes.",
        label="Current into the pin when ON",
        symbol="I_on_max",
        sinks=True,
    )
    off = modules.off_current(unit, board.logic.min, logic, w)
    left = w.calc(
        "I_C_off",
        "I_off*CTR_max",
        "A",
        "highest transfer ratio",
        I_off=(off, "A"),
        CTR_max=(module.transfer_max, ""),
    )
    add(
        Measure(
            "input_off",
            "P8",
            "Left in its next stage with the pin high",
            "A",
            left,
            "max",
            "high module supply, low logic supply, highest transfer",
            "I_C_off",
            "The pin, though high, stands below the module's supply: the LED stays lit and the"
            " relay never lets go.",
            stop=module.off_current,
            stop_name="what its next stage bears",
        )
    )
    held = board.logic.min + board.over_supply
    injected = (
        0.0
        if logic
        else modules.held_current(unit, held, "I_inj", "floating, held by the pin's protection", w)
    )
    if not logic:
        add(
            Measure(
                "injection",
                "P9",
                "Current injected into the floating pin",
                "A",
                injected,
                "max",
                "high module supply, low logic supply",
                "I_inj",
                "While the pin floats its protection carries what the module pushes into it.",
                stop=board.injection_limit,
                stop_name="injection limit",
            )
        )
    _active_low_states(context, result, module, unit, off, injected, logic)


def _active_low_states(context, result, module, unit, off, injected, logic) -> None:
    """An input that is on while it is pulled low: its LED's current decides."""
    board, pin, w = context.board, context.pin, result.working
    ratio, limit = module.transfer_max, module.off_current
    through = f"{show(injected, 'A')} through the pin's protection"
    floating = Decided(
        through if injected else "the input rises to its own supply", injected * ratio
    )
    weak = 0.0
    if pin and pin.reset == "pull_down" and pin.pull:
        weak = modules.weakly_pulled_current(unit, pin.pull.min, w)
    says = f"{show(weak, 'A')} through the board's pull-down" if weak else "nothing pulls it low"
    boot = Decided(says, max(weak, injected) * ratio)
    if pin is not None and pin.reset in ("driven_low", "pulses"):
        boot = at_boot(pin, board, "low", False, None)
    same = logic or context.around.dies_with_board(result.module.input_feed)
    dead = (
        0.0 if same else modules.held_current(unit, UNPOWERED_PIN, "I_dead", "board unpowered", w)
    )
    result.drive.back_feed, result.drive.back_feed_through = dead, "module's input"
    gone, led_in = (
        "the inputs' supply is dead as well",
        f"the dead pin leads {show(dead, 'A')} into the board",
    )
    control = Control(
        f"{context.channel.id}.PIN",
        "low",
        limit,
        off=Decided(f"pin high; {show(off, 'A')} left in the LED", off * ratio, symbol="I_off"),
        floating=floating,
        boot=boot,
        dead=Decided(gone, load="off") if same else Decided(led_in, dead * ratio),
        on_text="pin low: the LED is lit",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    )
    result.module.stays_on = control.off.does(limit) == "on"
    result.states += control.states()
