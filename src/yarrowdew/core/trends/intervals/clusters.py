"""Intervals that hold where rows that belong together resemble one another.

Standard errors by cluster, with the correction of Bell and McCaffrey (2002) for few clusters (CR2), and
Student's t with degrees of freedom by Satterthwaite, of each number by itself (Pustejovsky and Tipton
2018). In the columns T that a fit gives (TᵀT = 1) cluster g has the rows T_g, and residuals are divided
by the square root of 1 − T_g T_gᵀ.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.intervals.covariance import (
    CovarianceFit,
    tangent_of,
    tangents_of,
)
from yarrowdew.core.trends.on_logarithms import LineOnLogarithms
from yarrowdew.core.trends.protocol import (
    Coefficient,
    HasTangent,
    Interval,
    PointwiseKind,
    TrendFit,
    check_pointwise,
)

MOST_CLUSTERS = 20_000
_FEWEST = 3
_ROUNDING = 1e-10


@dataclass(frozen=True)
class ClusterFit(CovarianceFit):
    """A fit with standard errors by cluster.

    Attributes
    ----------
    own, shared : ndarray, shape (clusters, p, p)
        From which degrees of freedom of any number come: T_gᵀ A_g² T_g and T_gᵀ A_g T_g.
    """

    own: Array
    shared: Array

    @property
    def clusters(self) -> int:
        """How many there are."""
        return len(self.own)

    @property
    def test_df(self) -> float:
        """Degrees of freedom of the slope, or of the coefficient that has fewest."""
        rows = tangents_of(self.inner)
        if "b" in rows:
            return float(self.df_of(rows["b"][None, :])[0])
        return float(min(self.df_of(np.array(list(rows.values())))))

    @property
    def about_scatter(self) -> str:
        """What is supposed of the scatter."""
        return (
            f"Rows that belong together may resemble one another: standard errors are by cluster "
            f"(CR2), of {self.clusters:,} clusters, which are independent of one another. A band for "
            "a new row still takes the scatter as the same everywhere."
        )

    def df_of(self, rows: Array) -> Array:
        """Satterthwaite's degrees of freedom of numbers c in the columns T, shape (m, p)."""
        size = np.einsum("mi,gij,mj->mg", rows, self.own, rows)
        b = np.einsum("gij,mj->mgi", self.shared, rows)
        length = np.einsum("mgi,mgi->mg", b, b)
        together = np.einsum("mgi,mgj->mij", b, b)
        trace = size.sum(axis=1) - length.sum(axis=1)
        squares = (
            (size**2).sum(axis=1)
            - 2 * (size * length).sum(axis=1)
            + np.einsum("mij,mij->m", together, together)
        )
        return np.asarray(np.maximum(trace**2 / np.maximum(squares, 1e-300), 1.0))

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """The same values, each with its own degrees of freedom."""
        rows = tangents_of(self.inner)

        def own(c: Coefficient) -> Coefficient:
            if c.name not in rows:
                return c
            row = rows[c.name]
            half = t_quantile(level, float(self.df_of(row[None, :])[0]))
            return Coefficient.of(
                c.name, c.value, math.sqrt(float(row @ self.covariance @ row)), half
            )

        return tuple(own(c) for c in self.inner.coefficients(level))

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band, with its own degrees of freedom at each x."""
        check_pointwise(kind)
        rows = tangent_of(self.inner, x)
        variance = np.einsum("ij,jk,ik->i", rows, self.covariance, rows)
        half = np.array([t_quantile(level, float(df)) for df in self.df_of(rows)])
        if kind == "prediction":
            variance = variance + self.new_row_sd**2
        half = half * np.sqrt(variance)
        fitted = self.inner.predict(x)
        return Interval(fitted - half, fitted + half)


@documented(
    "groups of lines",
    "standard errors by cluster",
    "CR2 (Bell and McCaffrey 2002), degrees of freedom by Satterthwaite of each number by itself (Pustejovsky and Tipton 2018)",
    "approximate; holds from few clusters (see the table)",
)
def under_clusters(fit: TrendFit, sample: Sample) -> TrendFit:
    """Give a fit standard errors by cluster.

    Raises
    ------
    FitError
        If no row is known to belong anywhere, there are too few clusters or too many, or the family
        has no such standard errors.
    """
    if sample.clusters is None:
        raise FitError(
            "Standard errors by cluster rest on a variable that says which rows belong together.",
            "Choose it as what rows belong to.",
        )
    if isinstance(fit, LineOnLogarithms):
        inner = replace(fit.on_line(sample), clusters=sample.clusters)
        return replace(fit, robust_line=under_clusters(fit.line, inner))
    if not isinstance(fit, HasTangent) or sample.weights is not None:
        raise FitError(
            "This form has no standard errors by cluster."
            if sample.weights is None
            else "Standard errors by cluster take rows as equal.",
            "Choose a straight line, a polynomial, an exponential curve or a power law."
            if sample.weights is None
            else "Leave the weights out.",
        )
    _, codes = np.unique(sample.clusters, return_inverse=True)
    count = int(codes.max()) + 1
    if count < _FEWEST:
        raise FitError(
            f"Standard errors by cluster need at least {_FEWEST} clusters; here there "
            f"{'is' if count == 1 else 'are'} {count}.",
            "Choose a variable with more values.",
        )
    if count > MOST_CLUSTERS:
        raise FitError(
            f"There are {count:,} clusters; up to {MOST_CLUSTERS:,} can be told apart.",
            "Choose a variable with fewer values, or unequal variance (HC3).",
        )
    rows = fit.tangent(sample.x)
    off = sample.y - fit.predict(sample.x)
    p = rows.shape[1]
    own, shared = np.zeros((2, count, p, p))
    meat = np.zeros((p, p))
    order = np.argsort(codes, kind="stable")
    ends = np.concatenate(([0], np.cumsum(np.bincount(codes))))
    for g in range(count):
        some = order[ends[g] : ends[g + 1]]
        u, s, v = np.linalg.svd(rows[some], full_matrices=False)
        rest = 1 - s * s
        # A direction that the cluster alone decides is left out: nothing is known of its scatter.
        f = np.where(rest > _ROUNDING, 1 / np.sqrt(np.maximum(rest, _ROUNDING)), 0.0)
        left = u * (s * f) @ v
        pull = left.T @ off[some]
        meat += np.outer(pull, pull)
        own[g] = left.T @ left
        shared[g] = rows[some].T @ left
    return ClusterFit(fit, meat, own, shared)
