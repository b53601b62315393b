"""``make attack``: the long forms of every attack there is, one after another, and a table of what stood.

Each is a test that every run has in a short form; ``ATTACK`` says how long. Takes an hour or so on two processors.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import time
from dataclasses import dataclass
from typing import Final

from rich.console import Console
from rich.table import Table

PYTEST: Final = (sys.executable, "-m", "pytest", "-q", "--no-cov", "-p", "no:cacheprovider")
MANY = ("-n", "2", "--dist", "worksteal")


@dataclass(frozen=True)
class Attack:
    """An attack: what it tries, how it is run, how long (``ATTACK``), and what it comes to in words."""

    name: str
    run: tuple[str, ...]
    times: int
    words: str
    postgres: bool = False


ATTACKS: Final = (
    Attack("what is sent", ("tests/formats/test_inputs.py", *MANY), 11_000, "100,000 inputs to eleven readers"),
    Attack("altered archives", ("tests/web/test_hostile_archives.py", *MANY), 400, "400, and what is taken is opened"),
    Attack("kill -9", ("tests/web/test_acknowledged.py",), 200, "200 kills while people press"),
    Attack("the same at once", ("tests/web/test_at_once.py",), 1, "six people, one deed, each verb"),
    Attack("restore drill under load", ("tests/web/test_restore_drill.py",), 20, "20 backups while people press"),
    Attack("what the records lie on", ("tests/web/test_storage.py", "tests/web/test_keeping.py", *MANY), 1,
           "full, read-only, held, damaged, gone"),
    Attack("walls and roles", ("tests/web/test_walls.py", *MANY), 1, "every address as another, and as less"),
    Attack("hostile lines", ("tests/journeys/test_hostile_line.py", "tests/web/test_slow_senders.py"), 1,
           "broken, slow, doubled, signed out"),
    Attack("through the proxy", ("tests/journeys/test_proxy.py",), 1, "nginx: limits, the address, out of reach"),
    Attack("PostgreSQL", ("tests/web", "tests/formats", *MANY), 1, "the web and format suites on it", postgres=True),
)  # fmt: skip


def tried(attack: Attack) -> tuple[bool, str, float]:
    """Run an attack; whether it stood, what pytest said last, and the seconds it took."""
    command = [*PYTEST, *attack.run]
    if attack.postgres:
        command = ["scripts/postgres.sh", *command]
    begin = time.perf_counter()
    done = subprocess.run(  # noqa: S603 - our own tests
        command, env={**os.environ, "ATTACK": str(attack.times)}, capture_output=True, text=True, check=False
    )
    said = [line for line in done.stdout.splitlines() if line.strip()]
    told = next((line for line in reversed(said) if re.search(r"passed|failed|error", line)), said[-1] if said else "")
    if done.returncode:
        sys.stderr.write(done.stdout[-6000:] + done.stderr[-2000:])
    return done.returncode == 0, told.strip("= "), time.perf_counter() - begin


def main() -> int:
    """The attacks named on the command line, or all; 1 where one did not stand."""
    wanted = [one for one in ATTACKS if not sys.argv[1:] or any(word in one.name for word in sys.argv[1:])]
    table = Table(title="Attacks, in their long forms")
    for head in ("what is tried", "how much", "stood", "tests", "minutes"):
        table.add_column(head)
    stood = True
    for one in wanted:
        well, told, seconds = tried(one)
        stood &= well
        table.add_row(one.name, one.words, "yes" if well else "NO", told, f"{seconds / 60:.1f}")
    Console(width=150).print(table)
    return 0 if stood else 1


if __name__ == "__main__":
    raise SystemExit(main())
