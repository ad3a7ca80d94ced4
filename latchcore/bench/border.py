"""Equations of many circuits that only share their supplies, solved circuit by circuit."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import networkx as nx
import numpy as np
from numpy.typing import NDArray

Matrix = NDArray[np.float64]


@dataclass(frozen=True)
class Blocks:
    """
    Unknowns by the circuit they belong to, those of equal number stacked, and the border that all
    of them share.
    """

    stacked: tuple[NDArray[np.intp], ...]
    border: NDArray[np.intp]


def blocks_of(
    nodes: int, parts: Sequence[tuple[Iterable[int], Iterable[int]]], shared: set[int]
) -> Blocks:
    """
    Sort unknowns: node voltages first, branch currents behind them.

    Parameters
    ----------
    nodes : int
        How many there are
    parts : sequence of (nodes, branches)
        Of each part the nodes it is on and the numbers of its branches
    shared : set of int
        Nodes that tie everything together, such as supplies and ground

    Examples
    --------
    >>> found = blocks_of(3, [((0, 2), (0,)), ((1, 2), (1,)), ((2,), ())], {2})
    >>> [b.tolist() for b in found.stacked], found.border.tolist()
    ([[[0, 3], [1, 4]]], [2])
    """
    graph: nx.Graph = nx.Graph()
    graph.add_nodes_from(n for n in range(nodes) if n not in shared)
    border, alone = sorted(shared), []
    for where, branches in parts:
        own = [n for n in where if n not in shared]
        nx.add_path(graph, own) if len(own) > 1 else None
        if not own:
            alone += [nodes + b for b in branches]
    groups: dict[int, list[int]] = {}
    of = {}
    for k, group in enumerate(nx.connected_components(graph)):
        groups[k] = sorted(group)
        of |= dict.fromkeys(group, k)
    for where, branches in parts:
        first = next((of[n] for n in where if n in of), None)
        if first is not None:
            groups[first] += [nodes + b for b in branches]
    by_size: dict[int, list[list[int]]] = {}
    for group in groups.values():
        by_size.setdefault(len(group), []).append(group)
    stacked = tuple(np.array(rows, dtype=np.intp) for rows in by_size.values())
    return Blocks(stacked, np.array([*border, *alone], dtype=np.intp))


def solve_by(blocks: Blocks, a: Matrix, b: Matrix) -> Matrix:
    """
    The solution of ``a·x = b``: each circuit against the border, then the border, then back.

    Raises
    ------
    numpy.linalg.LinAlgError
        Where a circuit alone, or the border, has no single solution
    """
    edge = blocks.border
    s, right = a[np.ix_(edge, edge)].copy(), b[edge].copy()
    kept = []
    for rows in blocks.stacked:
        inner = a[rows[:, :, None], rows[:, None, :]]
        outward = a[rows[:, :, None], edge[None, None, :]]
        known = np.concatenate([outward, b[rows][:, :, None]], axis=2)
        found = np.linalg.solve(inner, known)
        inward = a[edge[None, :, None], rows[:, None, :]]
        taken = (inward @ found).sum(axis=0)
        s -= taken[:, :-1]
        right -= taken[:, -1]
        kept.append(found)
    x = np.zeros(len(b))
    x[edge] = np.linalg.solve(s, right)
    for rows, found in zip(blocks.stacked, kept, strict=True):
        x[rows] = found[:, :, -1] - found[:, :, :-1] @ x[edge]
    return x
