"""Answers lent from process to process: named alike everywhere, reckoned by one while others wait, done without."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.utils import timezone

from elder.engine.keeping import STORE
from elder.engine.plan.search import plan_want
from elder.engine.plan.want import Want
from elder.web.garden.models import Person
from elder.web.logbook import shared_cache
from elder.web.logbook.shared_cache import Lender, PatientCache, answered, fingerprint
from elder.web.read.want_settings import want_setting
from tests.factories import WantFactory, member

ROOT = Path(__file__).resolve().parents[2]
TODAY = date(2027, 3, 20)


@pytest.fixture(autouse=True)
def empty() -> Iterator[None]:
    cache.clear()
    yield
    cache.clear()
    STORE.behind = None


@dataclass(frozen=True)
class Asked:
    """Something to be asked with."""

    name: str
    values: tuple[float, ...]
    days: frozenset[date]


ASKED = Asked("it", (0.1, 2.0), frozenset({TODAY, date(2027, 3, 21)}))


def test_what_differs_in_anything_is_named_otherwise() -> None:
    different: list[Any] = [
        ASKED,
        replace(ASKED, name="It"),
        replace(ASKED, values=(0.1, 2.0000001)),
        replace(ASKED, values=(0.1,)),
        replace(ASKED, days=frozenset({TODAY})),
        ("it", (0.1, 2.0)),
        ("it", 0.1, 2.0),
        (("it", 0.1), 2.0),
        ("it0.1", 2.0),
        [1, 2],
        (1, 2),
        {"a": 1, "b": 2},
        {"a": 2, "b": 1},
        1, 1.0, True, "1", b"1", None,
        np.array([1, 2]), np.array([1.0, 2.0]), np.array([[1, 2]]),
    ]  # fmt: skip
    assert len({fingerprint(one) for one in different}) == len(different)
    assert fingerprint(replace(ASKED)) == fingerprint(ASKED)
    assert fingerprint({"b": 2, "a": 1}) == fingerprint({"a": 1, "b": 2})
    with pytest.raises(TypeError):
        fingerprint(object())


def test_a_name_is_the_same_in_every_process() -> None:
    code = (
        "import django; django.setup()\n"
        "from datetime import date\n"
        "from elder.web.logbook.shared_cache import fingerprint\n"
        "print(fingerprint((frozenset({'a', 'b', 'c', date(2027, 3, 20)}), {'z': 1.5, 'y': 'é'})))"
    )
    said = {
        subprocess.run(
            [sys.executable, "-c", code], cwd=ROOT, env={**os.environ, "PYTHONHASHSEED": seed},
            capture_output=True, text=True, check=True,
        ).stdout
        for seed in ("1", "2")
    }  # fmt: skip
    assert said == {fingerprint((frozenset({"a", "b", "c", TODAY}), {"z": 1.5, "y": "é"})) + "\n"}


def test_what_another_is_reckoning_is_waited_for() -> None:
    reckoned: list[str] = []

    def slowly() -> str:
        time.sleep(0.3)
        reckoned.append("once")
        return "answer"

    found: list[str] = []
    threads = [threading.Thread(target=lambda: found.append(answered("it", slowly))) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(10)
    assert (found, reckoned) == (["answer"] * 4, ["once"])
    assert answered("it", slowly) == "answer"
    assert reckoned == ["once"]


def test_who_gave_up_reckoning_keeps_nobody_waiting(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shared_cache, "WAITS_S", 2.0)
    cache.add("it:busy", 1)  # somebody began, and died
    begin = time.monotonic()
    assert answered("it", lambda: "mine") == "mine"
    assert 1.9 < time.monotonic() - begin < 6

    def fails() -> str:
        raise ArithmeticError

    with pytest.raises(ArithmeticError):
        answered("other", fails)
    begin = time.monotonic()
    assert answered("other", lambda: "now") == "now"
    assert time.monotonic() - begin < 1.5, "whoever failed said so"


def test_a_plan_comes_from_the_other_process_as_it_was_reckoned(garden: Any) -> None:
    setting = want_setting(WantFactory(garden=garden, rooting_place=garden.places.get()), garden, TODAY)
    want = Want(wanted=8, by=date(2027, 6, 1))
    mine = plan_want(want, setting)
    lender, asked = Lender(), ((want, setting),)
    first = lender.answer("plan_want", asked, lambda: plan_want(want, setting))

    def never() -> Any:
        raise AssertionError("it is there")

    lent = lender.answer("plan_want", ((replace(want), replace(setting)),), never)
    assert lent is not first
    for one in (first, lent):
        assert (one.recommended, one.target, one.counts.tolist()) == (
            mine.recommended, mine.target, mine.counts.tolist(),  # type: ignore[union-attr]
        )  # fmt: skip
    assert lender.answer("plan_want", ((replace(want, wanted=9), setting),), lambda: "another") == "another"


def test_without_a_cache_everything_is_reckoned(caplog: pytest.LogCaptureFixture) -> None:
    away = PatientCache("redis://127.0.0.1:9/0", {"OPTIONS": {"socket_connect_timeout": 0.2}})
    assert away.get("it", "nothing") == "nothing"
    assert (away.add("it", 1), away.delete("it"), away.incr("it")) == (True, False, 1)
    away.set("it", 1)
    assert len([line for line in caplog.messages if "shared cache cannot be asked" in line]) == 1


def test_warm_reckons_gardens_in_use_for_all(garden: Any, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(CommandError, match="No cache is shared"):
        call_command("warm")
    WantFactory(garden=garden, rooting_place=garden.places.get())
    shared_cache.lend()
    STORE.forget()
    call_command("warm")
    assert "0 gardens warm" in capsys.readouterr().out, "nobody signed in lately"
    person = member(garden)
    person.last_login = timezone.now()
    person.save()
    call_command("warm")
    assert "1 gardens warm" in capsys.readouterr().out
    kept = [key for key in cache._cache if "answer:" in key]  # type: ignore[attr-defined]
    assert len(kept) >= 2, "the plan, and the year it is planned in"
    Person.objects.update(last_login=timezone.now() - timedelta(days=40))
    call_command("warm")
    assert "0 gardens warm" in capsys.readouterr().out
