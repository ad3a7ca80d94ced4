"""What a load draws, at the corners of its own spread and of its rail."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.records import Load as LoadKind
from latchcore.figures.spread import Spread
from latchcore.figures.working import Working


@dataclass(frozen=True)
class LoadFigures:
    """
    One load with every default filled in.

    ``rated`` is its rated voltage, ``current`` and ``resistance`` hold at it, ``surge`` [A] lasts
    ``surge_time`` [s].
    Coil figures are ``None`` for anything else.
    """

    kind: LoadKind
    rated: float
    current: Spread
    resistance: Spread
    power: Spread
    surge: float | None
    surge_time: float | None
    inductance: Spread | None
    pull_in: float | None
    maximum: float
    release: float | None
    hazards: tuple[str, ...]
    led_share: float
    surge_measured: bool = False
    inductance_measured: bool = False

    def current_at(
        self, volts, corner: str, working: Working | None = None, symbol: str = "I_load"
    ):
        """
        Current with so many volts across the load.

        Parameters
        ----------
        volts : float or array
            Voltage across the load itself [V]
        corner : str
            ``min``, ``typ`` or ``max``: which end of the load's own spread

        Returns
        -------
        float or array
            Current [A]

        Notes
        -----
        Ohmic: V/R. A strip: the LEDs take a fixed share of the rated volts, the resistors the rest,
        so
        I·(V − k·V_r)/(V_r − k·V_r). A converter: P/V.
        """
        w = working or Working()
        end = {"min": "least", "typ": "typical", "max": "highest"}[corner]
        if self.kind.model == "constant_power":
            return w.calc(
                symbol,
                "P_load/V",
                "A",
                f"{end} power",
                "a converter keeps its power: less volts, more current",
                P_load=(getattr(self.power, corner), "W"),
                V=(volts, "V"),
            )
        if self.kind.model == "led_string":
            return w.calc(
                symbol,
                "larger(0, I_rated*(V - k*V_rated)/(V_rated - k*V_rated))",
                "A",
                f"{end} strip current",
                "the LEDs take their share first, what is left drives the resistors",
                I_rated=(getattr(self.current, corner), "A"),
                V=(volts, "V"),
                k=(self.led_share, ""),
                V_rated=(self.rated, "V"),
            )
        opposite = {"min": "max", "typ": "typ", "max": "min"}[corner]
        resistance = getattr(self.resistance, opposite)
        names = {"min": "R_load_max", "typ": "R_load", "max": "R_load_min"}
        return w.calc(
            symbol,
            f"V/{names[corner]}",
            "A",
            f"{end} load",
            V=(volts, "V"),
            **{names[corner]: (resistance, "Ω")},  # type: ignore[arg-type]
        )


def load_figures(
    kind: LoadKind, rated: float, figure: Spread, unit: str, given: dict, led_share: float
) -> LoadFigures:
    """
    Fill in a load from its rated voltage and any one of current, power or resistance.

    Parameters
    ----------
    kind : Load
        Catalogue record with the defaults of the kind
    rated : float
        Rated voltage [V]
    figure : Spread
        The one figure that is known, with its spread
    unit : str
        ``A``, ``W`` or ``Ω``: what the figure is
    given : dict
        Anything measured: ``inductance`` [H], ``surge`` [A], ``surge_time`` [s], ``pull_in``,
        ``maximum``,
        ``release`` [V], ``hazards``, ``power_factor`` on alternating current; ``count`` of equal
        coils side by side, of which figure and inductance are one's
    led_share : float
        Share of a strip's volts its LEDs take

    Returns
    -------
    LoadFigures

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> coil = load_figures(load_catalogue().loads["relay_coil"], 5.0, Spread.of(72, 0.1), "Ω", {},
    ...     0.8)
    >>> round(coil.current_at(5.25, "max") * 1e3, 1), coil.pull_in, round(coil.inductance.typ, 2)
    (81.0, 3.75, 0.36)
    """
    # On alternating current watts and volt-amperes part: the least power factor draws the most.
    factor = given.get("power_factor") or 1.0
    if unit == "A":
        current = figure
    elif unit == "W":
        current = figure.scaled(1 / (rated * factor))
    else:
        current = Spread(rated / figure.max, rated / figure.typ, rated / figure.min)
    resistance = Spread(rated / current.max, rated / current.typ, rated / current.min)
    inductance, many = None, (given.get("count") or 1) if kind.inductive else 1
    # Coils side by side on one switch: their currents add, resistance and inductance fall together,
    # so L/R stays.
    current, resistance = current.scaled(many), resistance.scaled(1 / many)
    if kind.inductive:
        measured = given["inductance"] / many if given.get("inductance") else None
        # While unmeasured, the class time constant stands in; a clamp is judged by current, not by
        # this figure.
        if measured:
            inductance = Spread.of(measured, 0.1)
        elif kind.time_constant:
            inductance = Spread.of(kind.time_constant * resistance.typ, 0.5)
    surge = given.get("surge")
    if surge is None and kind.surge > 1.0:
        surge = kind.surge * current.max
    return LoadFigures(
        kind=kind,
        rated=rated,
        current=current,
        resistance=resistance,
        power=current.scaled(rated),
        surge=surge,
        surge_time=given.get("surge_time") or kind.surge_time,
        inductance=inductance,
        pull_in=given.get("pull_in") or (kind.pull_in * rated if kind.pull_in else None),
        maximum=given.get("maximum") or kind.accept_max * rated,
        release=given.get("release") or (kind.release * rated if kind.release else None),
        hazards=tuple(
            given["hazards"] if given.get("hazards") is not None else filter(None, [kind.hazard])
        ),
        led_share=led_share,
        surge_measured=given.get("surge") is not None,
        inductance_measured=given.get("inductance") is not None,
    )
