"""Standard errors by cluster, against their definition in whole matrices and by simulation."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import scipy

from tests.families import settings_of
from tests.scope import examples
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import TrendFit, fit_trend

LEVEL = 0.95


def subjects(seed: int, count: int = 9) -> Sample:
    """Rows of subjects of different size, each with a height of its own and its own stretch of x."""
    r = np.random.default_rng(seed)
    codes = np.repeat(np.arange(count), r.integers(2, 8, count))
    x = r.normal(0, 1, count)[codes] + r.normal(0, 0.5, len(codes))
    y = 1 + 2 * x + r.normal(0, 1, count)[codes] + r.normal(0, 0.5, len(codes))
    return replace(paired(x, y), clusters=codes)


def fitted(sample: Sample, family: str = "straight", **options: object) -> TrendFit:
    return fit_trend(sample, family, settings_of(family, **options), errors="cluster")


def by_definition(sample: Sample, design: np.ndarray, number: np.ndarray) -> tuple[float, float]:
    """CR2 standard error and Satterthwaite's degrees of freedom of a number, in whole matrices."""
    n = len(design)
    bread = np.linalg.inv(design.T @ design)
    hat = design @ bread @ design.T
    residual = sample.y - hat @ sample.y
    assert sample.clusters is not None
    variance = 0.0
    parts = []
    for g in np.unique(sample.clusters):
        own = np.flatnonzero(sample.clusters == g)
        rest = np.eye(len(own)) - hat[np.ix_(own, own)]
        adjust = np.linalg.inv(scipy.linalg.sqrtm(rest).real)
        row = number @ bread @ design[own].T @ adjust
        variance += float(row @ residual[own]) ** 2
        parts.append((np.eye(n) - hat)[:, own] @ row)
    together = np.array([[a @ b for b in parts] for a in parts])
    return float(np.sqrt(variance)), float(np.trace(together) ** 2 / np.sum(together**2))


@pytest.mark.parametrize("degree", [1, 2])
def test_they_are_those_of_their_definition(degree: int) -> None:
    sample = subjects(3)
    design = np.column_stack([sample.x**k for k in range(degree + 1)])
    fit = fitted(sample) if degree == 1 else fitted(sample, "polynomial", degree=2)
    for k, c in enumerate(fit.coefficients(LEVEL)):
        se, df = by_definition(sample, design, np.eye(degree + 1)[k])
        assert c.se == pytest.approx(se, rel=1e-7)
        assert c.low is not None
        assert (c.value - c.low) / se == pytest.approx(scipy.stats.t.ppf(0.975, df), rel=1e-6)
    at = 0.7
    se, df = by_definition(sample, design, at ** np.arange(degree + 1))
    band = fit.band(np.array([at]), LEVEL, "confidence")
    assert band is not None
    half = float(band.high[0] - band.low[0]) / 2
    assert half == pytest.approx(se * scipy.stats.t.ppf(0.975, df), rel=1e-6)


def test_rows_that_stand_alone_are_their_own_clusters() -> None:
    sample = subjects(4)
    alone = replace(sample, clusters=np.arange(sample.n))
    # Each row by itself: HC2, whose residuals are divided by the root of one less the leverage.
    design = np.column_stack([np.ones(sample.n), sample.x])
    bread = np.linalg.inv(design.T @ design)
    hat = design @ bread @ design.T
    off = (sample.y - hat @ sample.y) / np.sqrt(1 - np.diag(hat))
    due = np.sqrt(np.diag(bread @ design.T @ np.diag(off**2) @ design @ bread))
    assert [c.se for c in fitted(alone).coefficients(LEVEL)] == pytest.approx(due.tolist())


def test_they_cover_where_rows_resemble_one_another() -> None:
    runs, plain, own = examples(200, 2000), 0, 0
    for seed in range(runs):
        sample = subjects(seed, 12)
        b = fitted(sample).coefficients(LEVEL)[1]
        assert b.low is not None
        assert b.high is not None
        own += b.low <= 2 <= b.high
        b = fit_trend(sample, "straight").coefficients(LEVEL)[1]
        assert b.low is not None
        assert b.high is not None
        plain += b.low <= 2 <= b.high
    assert plain / runs < 0.85
    assert 0.91 <= own / runs <= 0.995


@pytest.mark.parametrize(
    ("clusters", "family", "said"),
    [
        (None, "straight", "rest on a variable that says which rows belong together"),
        (np.zeros(30, dtype=np.intp), "straight", "need at least 3 clusters; here there is 1"),
        (np.arange(30) % 5, "local", "has no standard errors by cluster"),
    ],
)
def test_what_has_none_says_so(clusters: np.ndarray | None, family: str, said: str) -> None:
    r = np.random.default_rng(1)
    sample = replace(paired(r.uniform(0, 1, 30), r.uniform(0, 1, 30)), clusters=clusters)
    with pytest.raises(FitError, match=said):
        fitted(sample, family)


def test_a_line_on_logarithms_has_them_there() -> None:
    sample = subjects(5)
    on_logs = replace(sample, y=np.exp(sample.y))
    line, curve = fitted(sample), fitted(on_logs, "exponential")
    assert curve.coefficients(LEVEL)[1].se == pytest.approx(line.coefficients(LEVEL)[1].se)
    assert curve.p_value == pytest.approx(line.p_value)
