"""All that is told of many builds, word by word and figure by figure: what changes here, a person reads otherwise."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.findings.make_told import FILE
from tests.findings.told_builds import DRIVEN, JUDGED, PLANNED, POWERED
from tests.support.told import drive_told, figures_told, findings_told, plain, plans_told, power_told

TOLD = json.loads(FILE.read_text(encoding="utf-8"))


def alike(found: Any, kept: Any, where: str) -> None:
    """Refuse what differs by more than rounding, with its place."""
    if isinstance(kept, dict) and isinstance(found, dict):
        assert list(found) == list(kept), where
        for key in kept:
            alike(found[key], kept[key], f"{where} / {key}")
    elif isinstance(kept, list) and isinstance(found, list):
        assert len(found) == len(kept), where
        for number, (one, other) in enumerate(zip(found, kept, strict=True)):
            alike(one, other, f"{where} / {number}")
    elif isinstance(kept, float):
        assert found == pytest.approx(kept, rel=1e-6, abs=1e-9), where
    else:
        assert found == kept, where


@pytest.mark.parametrize("name", JUDGED)
def test_findings_say_what_they_said(name: str) -> None:
    alike(plain(findings_told(*JUDGED[name]())), TOLD["findings"][name], name)


@pytest.mark.parametrize("name", DRIVEN)
def test_drive_and_show_have_the_figures_that_they_had(name: str) -> None:
    build = DRIVEN[name]()
    alike(plain(drive_told(build)), TOLD["drive"][name], name)
    alike(plain(figures_told(build)), TOLD["figures"][name], name)


@pytest.mark.parametrize("name", POWERED)
def test_power_is_explained_as_it_was(name: str) -> None:
    alike(plain(power_told(POWERED[name]())), TOLD["power"][name], name)


@pytest.mark.parametrize("name", PLANNED)
def test_feeds_are_planned_where_they_were(name: str) -> None:
    alike(plain(plans_told(*PLANNED[name]())), TOLD["plans"][name], name)
