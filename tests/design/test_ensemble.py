"""How sure it is: on a foreign executor as on none, words, the unknown that matters, and what is refused."""

from __future__ import annotations

import dataclasses
import pickle
import queue
import threading
from concurrent.futures import Executor, Future

import numpy as np
import pytest

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.ensemble import UNKNOWNS, Ensemble, answer, ensemble, factors_of, samples_of
from weirant.design.storms import DESIGN, storm_named
from weirant.errors import InputError
from weirant.job.paths import with_value


class Cluster(Executor):
    """Stands for somebody's cluster engine: everything crosses a wire as bytes and is worked on elsewhere, out of order."""

    def __init__(self) -> None:
        self.wire: queue.LifoQueue[tuple[Future, bytes] | None] = queue.LifoQueue()
        self.sent = 0
        self.worker = threading.Thread(target=self._work)
        self.worker.start()

    def submit(self, fn, /, *args, **kwargs):
        future: Future = Future()
        self.sent += 1
        self.wire.put((future, pickle.dumps((fn, args, kwargs))))
        return future

    def _work(self) -> None:
        while (task := self.wire.get()) is not None:
            future, data = task
            if future.set_running_or_notify_cancel():
                fn, args, kwargs = pickle.loads(data)
                future.set_result(pickle.loads(pickle.dumps(fn(*args, **kwargs))))

    def shutdown(self, wait=True, *, cancel_futures=False):
        while self.wire.qsize():
            pass
        self.wire.put(None)
        self.worker.join()


@pytest.fixture(scope="module")
def outcome():
    return assess(demo_job())


def test_a_foreign_executor_serves_unchanged(outcome):
    storm = storm_named(outcome.job, DESIGN)
    with Cluster() as cluster:
        found = ensemble(outcome, storm, cluster, 12, hours=24.0)
        assert cluster.sent == 12 and found.lost == 0 and found.depths.shape[0] == 12
    here = [answer(s) for s in samples_of(outcome, storm, factors_of(outcome, 12), hours=24.0)]
    assert np.allclose(found.volumes, [a.volume for a in here])
    # at the drain the table is low in every ground, and the band of the line takes in what holds at the place
    x, least, most = found.table_band(24 * 3600.0)
    assert x[0] == -samples_of(outcome, storm, np.ones((1, 4)))[0].section.upslope and np.all(np.diff(x) > 0)
    at_place = np.interp(9 * 0.3048, x, least), np.interp(9 * 0.3048, x, most)
    assert at_place == pytest.approx((found.band()[1][-1], found.band()[2][-1]), abs=0.03)
    assert most[len(x) // 2 - 1] > most[0] + 0.1


def test_an_ensemble_can_be_left(outcome):
    with Cluster() as cluster:
        found = ensemble(outcome, storm_named(outcome.job, DESIGN), cluster, 500, by_line=True, told=lambda done: done < 20)
    assert 19 <= len(found.volumes) < 500


def test_samples_keep_to_the_band_of_the_soil(outcome):
    factors, band = factors_of(outcome, 2000), outcome.soils["g1"].conductivity
    assert np.quantile(factors[:, 0], 0.1) * band.best == pytest.approx(band.low, rel=0.03)
    assert np.quantile(factors[:, 0], 0.9) * band.best == pytest.approx(band.high, rel=0.03)
    unknown = assess(with_value(outcome.job, "soils.g1.hard_layer_depth", None))
    assert np.all(factors_of(unknown, 10)[:, 2] == 1.0)
    with pytest.raises(InputError, match="number of samples must be between 2"):
        factors_of(outcome, 1)


def test_words_name_the_share_and_the_next_test():
    chance = np.random.default_rng(3)
    factors = np.exp(chance.normal(0, 0.5, (100, 4)))
    times = np.linspace(3600, 72 * 3600, 60)
    dry = 6 * 3600 + 30 * 3600 / factors[:, 0]
    depths = np.where(times[None, :] > dry[:, None], 0.6, 0.3)
    across = np.array([-1.0, 1.0])
    tables = (depths[:, :, None] * np.array([1.0, 2.0])).astype(np.float32)
    found = Ensemble(factors, times, depths, np.ones(100), across, tables, 6 * 3600.0, 0.45, 86400.0, 0)
    assert found.dry_within(1e9) >= 90 and found.dry_within(0.0) == 0
    assert found.leanings()[0][0] == UNKNOWNS[0] and found.leanings()[0][1] > 0.9
    assert f"in {found.dry_within(86400.0)} of 100 plausible grounds" in found.words() and "auger-hole or falling-water test" in found.words()
    assert f"Dry within 12 h of the rain in {found.dry_within(43200.0)} of" in dataclasses.replace(found, wanted=43200.0).words()
    assert f"Dry within 66 h of the rain in {found.dry_within(66 * 3600.0)} of" in dataclasses.replace(found, wanted=1e6).words()  # the sum ends there
    low, high = found.band()[1:]
    assert np.all(low <= high)
    for time in (0.0, times[20], times[20] + 1000.0, 1e9):
        x, least, most = found.table_band(time)
        assert x is across and np.all(least <= most) and least[0] >= 0.3 and most[1] <= 1.2 + 1e-6
    assert found.table_band(times[20])[1][0] == pytest.approx(found.band()[1][20], abs=1e-6)
    assert dataclasses.replace(found, tables=tables[:, :0]).table_band(0.0) is None
