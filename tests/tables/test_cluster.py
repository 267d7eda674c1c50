"""A real Dask cluster of two processes: the same answer to the bit, whoever dies."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from pathlib import Path
from threading import Thread

import numpy as np
import polars as pl
import pytest
from distributed import Client, LocalCluster

from tests.scope import only_long
from yarrowdew.core.aggregates.aggregation import PairsAggregation
from yarrowdew.core.aggregates.pair_sums import Pivot
from yarrowdew.core.checkpoints import asking
from yarrowdew.tables import datasets
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.engines.base import Threads
from yarrowdew.tables.engines.dask import Cluster
from yarrowdew.tables.errors import TableError

# Dask's own warnings, of workers that go.
pytestmark = [pytest.mark.filterwarnings("ignore"), only_long]
ASK = PairsAggregation("x", "y", pivot=Pivot(5.0, 5.0))


@pytest.fixture(scope="module")
def cluster() -> Iterator[LocalCluster]:
    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None
    ) as made:
        yield made


@pytest.fixture
def dataset(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Dataset:
    monkeypatch.setattr(datasets, "PART_ROWS", 1_000)
    rng = np.random.default_rng(7)
    for place in range(10):
        x = rng.uniform(0, 10, 20_000)
        frame = pl.DataFrame({"x": x, "y": 3 - 0.2 * x + rng.normal(0, 1, 20_000)})
        frame.write_parquet(tmp_path / f"{place}.parquet")
    return open_dataset(tmp_path)


def test_a_cluster_answers_as_threads_do(cluster: LocalCluster, dataset: Dataset) -> None:
    found = Cluster(cluster.scheduler_address).total(dataset, ASK, {}).groups[None]
    own = Threads().total(dataset, ASK, {}).groups[None]
    assert found.sums.exact() == own.sums.exact()
    assert found.line() == own.line()


def test_a_worker_that_dies_half_way_changes_nothing(
    cluster: LocalCluster, dataset: Dataset
) -> None:
    with Client(cluster.scheduler_address) as client:
        first = next(iter(client.run(os.getpid).values()))
    killed: list[float] = []

    def kill(share: float) -> None:
        if share > 0.4 and not killed:
            killed.append(share)
            os.kill(first, signal.SIGKILL)

    with asking(kill):
        found = Cluster(cluster.scheduler_address).total(dataset, ASK, {}).groups[None]
    assert killed
    assert found.line() == Threads().total(dataset, ASK, {}).groups[None].line()


def test_what_a_worker_cannot_read_is_said_as_ever(cluster: LocalCluster, dataset: Dataset) -> None:
    Path(dataset.files[3].path).unlink()
    with pytest.raises(TableError, match=r"3\.parquet is missing"):
        Cluster(cluster.scheduler_address).total(dataset, ASK, {})


def test_a_scheduler_that_is_not_there_is_a_sentence(
    dataset: Dataset, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("yarrowdew.tables.engines.dask._ANSWERS_IN", 0.5)
    with pytest.raises(TableError, match=r"scheduler at tcp://127\.0\.0\.1:9 does not answer"):
        Cluster("tcp://127.0.0.1:9").total(dataset, ASK, {})


def test_a_scheduler_that_goes_half_way_is_a_sentence(dataset: Dataset) -> None:
    made = LocalCluster(n_workers=1, threads_per_worker=1, processes=True, dashboard_address=None)
    closing = Thread(target=made.close)

    def close(share: float) -> None:
        if share > 0.2 and not closing.ident:
            closing.start()

    with asking(close), pytest.raises(TableError, match="does not answer"):
        Cluster(made.scheduler_address).total(dataset, ASK, {})
    closing.join()
