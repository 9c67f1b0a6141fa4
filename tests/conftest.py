"""Settings for every test: a fixed hypothesis profile, Qt without a screen, and energy balance on every solve."""

from __future__ import annotations

import os
from collections.abc import Iterator

from tiny_lantern.threads import one_thread

one_thread()  # before NumPy loads

import numpy as np
import pytest
from hypothesis import HealthCheck, settings

from tests.support.effort import SOAK
from tiny_lantern.electrical import frames, power
from tiny_lantern.electrical.laws import PixelLaws
from tiny_lantern.electrical.network import Network
from tiny_lantern.electrical.newton import Operating

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("house", deadline=None, max_examples=40 * SOAK, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("house")

BALANCE_W = 1e-6


@pytest.fixture(scope="session", autouse=True)
def power_balances_on_every_solve() -> Iterator[None]:
    """Whatever any test solves, the sources give what the pixels, the copper and the outputs take."""
    settle = power.settle

    def checked(network: Network, laws: PixelLaws, near_v: np.ndarray | None = None) -> Operating:
        operating = settle(network, laws, near_v)
        spent = power.power_balance(power.PowerSolution(network, laws, operating))
        sources = spent.pop("sources")
        assert abs(sources - sum(spent.values())) < BALANCE_W
        return operating

    power.settle = frames.settle = checked
    yield
    power.settle = frames.settle = settle
