"""The record of a part from what was typed of it, the rest standing in from a class."""

from __future__ import annotations

from typing import Any

from latchcore.catalogue import Catalogue, read_part
from latchcore.catalogue.families import FAMILY_TITLES, PART_FAMILIES
from latchcore.figures.quantity import QuantityError, parse_any

FAMILIES = {"resistor": "resistor", **FAMILY_TITLES}


_SAME_FOR_ALL = {"id", "title", "family", "source"}


#: What a figure is called on a form; anything else is its name in words.
FIGURE_WORDS = {
    "v_ds": "blocking voltage V_DS",
    "v_gs_max": "most at the gate V_GS",
    "i_d": "drain current",
    "i_d_pulse": "pulsed drain current",
    "v_gs_th": "threshold V_GS(th)",
    "v_plateau": "plateau voltage",
    "r_on_at": "gate voltages R_DS(on) is given at",
    "r_on": "R_DS(on) at those",
    "q_gd": "gate-drain charge",
    "c_iss": "input capacitance",
    "theta_ja": "junction to ambient",
    "t_j_max": "most at the junction",
    "v_ceo": "blocking voltage V_CEO",
    "i_c": "collector current",
    "i_c_pulse": "pulsed collector current",
    "pulse_time": "pulse it is printed for",
    "gain_at": "currents the gain is given at",
    "gain_min": "least gain at those",
    "v_be": "base-emitter voltage",
    "v_ce_sat": "saturation voltage",
    "t_on": "turn-on time",
    "t_off": "turn-off time",
    "base_emitter": "resistor inside, base to emitter",
    "v_f": "forward voltage",
    "i_f": "forward current",
    "i_f_max": "most LED current",
    "ctr_at": "LED current the ratio is given at",
    "ctr_min": "least transfer ratio",
    "ctr_max": "highest transfer ratio",
    "dark": "dark current, hot",
    "v_r": "reverse voltage",
    "i_peak": "peak current",
    "v_z": "zener voltage",
    "v_ces": "blocking voltage V_CES",
    "v_ge": "gate voltage it is specified at",
    "v_ge_max": "most at the gate",
    "v_ge_th": "threshold",
    "q_g": "gate charge",
    "v_oc_min": "least open-circuit voltage",
    "v_oc_max": "highest open-circuit voltage",
    "i_sc_min": "least short-circuit current",
    "counts": "counts of its display",
    "volts_percent": "direct volts, off by percent",
    "volts_counts": "direct volts, and by counts",
    "ohms_percent": "ohms, off by percent",
    "ohms_counts": "ohms, and by counts",
    "amperes_percent": "milliamperes, off by percent",
    "amperes_counts": "milliamperes, and by counts",
    "alternating_percent": "alternating volts, off by percent",
    "alternating_counts": "alternating volts, and by counts",
    "input_ohms": "resistance across what it reads volts of",
    "burden": "what it keeps in milliamperes, volts an ampere",
}


def fields_of(family: str) -> list[str]:
    """The figures a family's records hold, in their order."""
    return [name for name in PART_FAMILIES[family].model_fields if name not in _SAME_FOR_ALL]


def build_record(
    family: str, key: str, title: str, given: dict[str, Any], base: str, catalogue: Catalogue
) -> dict[str, Any]:
    """
    A whole record from the figures that are known, the rest standing in from a class.

    Raises
    ------
    ValueError, pydantic.ValidationError
        Where the base is no class of the family, or a figure is none
    """
    record: dict[str, Any] = {}
    if base:
        raw = catalogue.raw.get(base)
        if raw is None or raw.get("family") != family:
            raise ValueError(f"“{base}” is no {FAMILIES[family]} to stand in")
        record |= raw
    record |= {name: value for name, value in given.items() if value not in ("", [])}
    for low, high in PART_FAMILIES[family].rising:
        # A class that stands in for one end must not lie beyond the end that was given.
        for stated, other in ((low, high), (high, low)):
            if (
                stated in given
                and other in record
                and other not in given
                and _above(record.get(low), record.get(high))
            ):
                record[other] = record[stated]
    # What is changed of a part of one's own stands on itself: the rest of it stays as it is, where
    # it came from too.
    source = (
        record.get("source", "own part")
        if base == key
        else f"own part{', the rest as ' + base if base else ''}"
    )
    record |= {"id": key, "family": family, "title": title, "source": source}
    read_part(record)
    return record


def _above(low: Any, high: Any) -> bool:
    """Whether one figure, as text or number, lies above another; no where either is none."""
    try:
        return _size(low) > _size(high)
    except (QuantityError, TypeError, ValueError):
        return False


def _size(figure: Any) -> float:
    """A figure as a number, whatever its unit."""
    return (
        float(figure)
        if isinstance(figure, int | float)
        else parse_any(str(figure), ("A", "V", ""))[0]
    )


def typed(family: str, given: dict[str, Any]) -> dict[str, Any]:
    """Texts of a table or form as the record's own kinds: lists, yes or no, plain numbers."""
    found = dict(given)
    for name, value in given.items():
        kind = str(PART_FAMILIES[family].model_fields[name].annotation)
        if "list" in kind:
            values = (
                value if isinstance(value, list) else [c.strip() for c in str(value).split("|")]
            )
            found[name] = values
        elif kind == "<class 'bool'>":
            found[name] = str(value).lower() in ("yes", "true", "1", "on")
    return found
