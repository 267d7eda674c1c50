from __future__ import annotations

import numpy as np
import pytest

from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import paired


def test_rows_are_dropped_by_reason() -> None:
    aside = np.array([False, True, True, False, False, False])
    sample = paired(
        [1, 2, np.nan, 4, np.nan, 6],
        [1, 2, 3, 4, 5, 6],
        weights=[1, 1, 1, 0, 1, 2],
        set_aside=aside,
    )
    # A row set aside counts as that, even where its x is missing too.
    assert sample.dropped == {"missing": 1, "set_aside": 2, "no_weight": 1}
    assert sample.rows.tolist() == [0, 5]
    assert sample.weights.tolist() == [1, 2]


def test_lists_of_different_length_are_refused() -> None:
    with pytest.raises(FitError, match="same length"):
        paired([1, 2], [1])
