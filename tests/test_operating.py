"""The files that ship for whoever keeps Elder running, by the tools that will read them."""

from __future__ import annotations

import ast
import os
import re
import shutil
import subprocess
from pathlib import Path
from typing import Any

import pytest

ROOT = Path(__file__).parents[1]
DEPLOY = ROOT / "deploy"
UNITS = sorted((DEPLOY / "systemd").iterdir())
COMMANDS = {path.stem for path in ROOT.glob("elder/web/*/management/commands/*.py")} | {"clearsessions", "migrate"}


def test_the_units_verify(tmp_path: Path) -> None:
    """As they are, but for where Elder lies and who it runs as: neither is here."""
    (tmp_path / "elder.env").write_text("")
    for unit in UNITS:
        text = unit.read_text().replace("/opt/elder", str(ROOT)).replace("/etc/elder.env", str(tmp_path / "elder.env"))
        text = re.sub(r"^(User|Group)=elder$", r"\1=root", text, flags=re.MULTILINE)
        (tmp_path / unit.name).write_text(text)
    found = subprocess.run(
        ["systemd-analyze", "verify", *(str(tmp_path / unit.name) for unit in UNITS)],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    ours = [line for line in found.stderr.splitlines() if "elder" in line]
    assert ours == []


def test_a_wrong_unit_would_be_found(tmp_path: Path) -> None:
    text = (DEPLOY / "systemd" / "elder-backup.timer").read_text().replace("*-*-* 03:30:00", "at night")
    (tmp_path / "elder-backup.timer").write_text(text)
    shutil.copy(DEPLOY / "systemd" / "elder-backup.service", tmp_path)
    told = subprocess.run(
        ["systemd-analyze", "verify", str(tmp_path / "elder-backup.timer")], capture_output=True, text=True, check=False
    )
    assert "at night" in told.stderr


@pytest.mark.parametrize("unit", [one for one in UNITS if one.suffix == ".service"], ids=lambda one: one.stem)
def test_each_service_says_a_command_there_is(unit: Path) -> None:
    said = re.findall(r"manage\.py (\w+)", unit.read_text())
    assert said or "gunicorn elder.config.wsgi" in unit.read_text()
    assert set(said) <= COMMANDS


def test_each_timer_has_its_service_and_stands_in_the_docs() -> None:
    docs = (ROOT / "docs" / "operating.md").read_text()
    timers = [one for one in UNITS if one.suffix == ".timer"]
    assert len(timers) == 5
    for timer in timers:
        assert timer.with_suffix(".service") in UNITS
        assert f"{timer.name}" in docs


def test_every_setting_of_the_example_is_read_and_told_of() -> None:
    names = re.findall(r"^([A-Z_]+)=", (DEPLOY / "elder.env.example").read_text(), re.MULTILINE)
    settings = "".join(path.read_text() for path in (ROOT / "elder" / "config" / "settings").glob("*.py"))
    docs = (ROOT / "docs" / "operating.md").read_text()
    for name in set(names) - {"DJANGO_SETTINGS_MODULE", "OPENBLAS_NUM_THREADS"}:
        assert f'"{name}"' in settings, name
        assert f"`{name}`" in docs, name
    read = set(re.findall(r'env\.\w+\(\s*"([A-Z_]+)"', settings)) - {
        "TEST_DATABASE",
        "TEST_DATABASE_URL",
        "SECURE_SSL_REDIRECT",
    }
    assert {name for name in read if f"`{name}`" not in docs} <= {
        "SECURE_HSTS_INCLUDE_SUBDOMAINS", "SECURE_HSTS_PRELOAD",
    }  # fmt: skip


def test_gunicorn_reads_its_file(monkeypatch: pytest.MonkeyPatch) -> None:
    from gunicorn.config import Config

    known, tree = Config().settings, ast.parse((DEPLOY / "gunicorn.conf.py").read_text())
    said: dict[str, Any] = {}
    monkeypatch.delenv("WEB_CONCURRENCY", raising=False)
    exec(compile(tree, "gunicorn.conf.py", "exec"), said)  # noqa: S102 - as gunicorn does
    said = {node.targets[0].id: said[node.targets[0].id] for node in tree.body if isinstance(node, ast.Assign)}  # type: ignore[attr-defined]
    for name, value in said.items():
        assert known[name].validator is None or known[name].validator(value) is not None or value is None
    assert (said["workers"], said["threads"], said["bind"]) == (os.cpu_count(), 8, "127.0.0.1:8470")
    assert os.environ["OPENBLAS_NUM_THREADS"]


def test_a_thread_keeps_its_connection_to_postgresql(monkeypatch: pytest.MonkeyPatch) -> None:
    from elder.config.settings import base

    monkeypatch.setenv("DATABASE_URL", "postgres://elder@127.0.0.1/elder")
    found = base.database(Path("unused"))
    assert (found["ENGINE"], found["CONN_MAX_AGE"]) == ("django.db.backends.postgresql", 600)
    assert found["CONN_HEALTH_CHECKS"], "one that a restarted server has let go is opened again"
    monkeypatch.setenv("DATABASE_URL", "postgres://elder@127.0.0.1/elder?conn_max_age=0")
    assert base.database(Path("unused"))["CONN_MAX_AGE"] == 0
    monkeypatch.setenv("DATABASE_URL", "postgres://elder@127.0.0.1/elder?DISABLE_SERVER_SIDE_CURSORS=True")
    assert base.database(Path("unused"))["DISABLE_SERVER_SIDE_CURSORS"] is True  # as behind a pooler
    monkeypatch.setenv("DATABASE_URL", "sqlite:////tmp/elder.sqlite3")
    assert base.database(Path("unused"))["CONN_MAX_AGE"] is None
