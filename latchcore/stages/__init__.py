"""
One module a drive stage, all with the same small interface: ``suits``, ``size`` (which joins the
netlist), ``traits``.
"""

from latchcore.design.kinds import STAGES, missing_facts
from latchcore.stages import (
    analogue_pot,
    analogue_pwm,
    array_low_side,
    bridge_analogue,
    bridge_reed,
    contactor,
    coupler_darlington,
    coupler_logic,
    coupler_nmos,
    coupler_pmos,
    coupler_pnp,
    darlington_low_side,
    direct_pin,
    led_strings,
    nmos_above,
    nmos_low_side,
    npn_low_side,
    open_collector,
    packaged_unit,
    pmos_high_side,
    pnp_darlington_high_side,
    pnp_high_side,
    pv_igbt,
    pv_mosfet,
    relay_contact,
    relay_module,
    solid_direct,
    solid_module,
    solid_relay,
    triac_coupler,
    wide_input,
)

__all__ = ["STAGES", "missing_facts"]
STAGES |= {
    stage.kind: stage
    for stage in (
        npn_low_side,
        nmos_low_side,
        darlington_low_side,
        array_low_side,
        pmos_high_side,
        pnp_high_side,
        pnp_darlington_high_side,
        coupler_nmos,
        coupler_pmos,
        coupler_darlington,
        coupler_pnp,
        pv_mosfet,
        pv_igbt,
        led_strings,
        direct_pin,
        coupler_logic,
        open_collector,
        bridge_reed,
        bridge_analogue,
        analogue_pot,
        analogue_pwm,
        wide_input,
        relay_contact,
        relay_module,
        solid_module,
        triac_coupler,
        solid_relay,
        solid_direct,
        contactor,
        packaged_unit,
        nmos_above,
    )
}
