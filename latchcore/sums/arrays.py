"""What a package of several switches sheds when its channels are on together."""

from __future__ import annotations

from collections.abc import Sequence

import networkx as nx

from latchcore.sums.mosfet import effective_duty


def package_loss(
    currents: Sequence[float],
    drops: Sequence[float],
    duties: Sequence[float],
    on_times: Sequence[float],
    continuous_over: float,
    never_together: Sequence[tuple[int, int]] = (),
) -> float:
    """
    Most loss over all sets of channels that can be on together [W].

    Parameters
    ----------
    currents, drops : sequence of float
        Of each channel [A], [V]
    duties, on_times : sequence of float
        Share of time on, and longest on-time [s]; a longer one than ``continuous_over`` counts as
        continuous
    never_together : sequence of (int, int)
        Pairs of channels, from 0, that are never on at once

    Returns
    -------
    float

    Notes
    -----
    The heaviest clique of the graph of channels that may be on together.

    Examples
    --------
    >>> round(package_loss([0.1, 0.2], [1.0, 1.0], [1, 1], [1, 1], 0.1, [(0, 1)]), 3)
    0.2
    """
    loss = [
        i * v * effective_duty(d, t, continuous_over)
        for i, v, d, t in zip(currents, drops, duties, on_times, strict=True)
    ]
    return _heaviest(loss, never_together)


def ground_current(
    currents: Sequence[float], never_together: Sequence[tuple[int, int]] = ()
) -> float:
    """
    Most current in the common ground pin [A].

    Examples
    --------
    >>> round(ground_current([0.1, 0.2, 0.3], [(1, 2)]), 3)
    0.4
    """
    return _heaviest(list(currents), never_together)


def _heaviest(weights: Sequence[float], never_together: Sequence[tuple[int, int]]) -> float:
    if not never_together:
        return float(sum(weights))
    graph = nx.complete_graph(len(weights))
    graph.remove_edges_from(tuple(pair) for pair in never_together)
    return float(max(sum(weights[i] for i in clique) for clique in nx.find_cliques(graph)))
