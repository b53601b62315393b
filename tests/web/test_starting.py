"""What a process loads before it serves its first page: what few pages need waits until one is asked for."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
LATER = ("reportlab", "PIL", "pint", "icalendar", "segno", "scipy.optimize", "scipy.interpolate", "scipy.linalg",
         "scipy.sparse", "scipy.ndimage", "scipy.stats")  # fmt: skip


def test_every_address_is_known_before_what_few_pages_need_is_loaded() -> None:
    code = (
        "import sys\n"
        "from elder.config.wsgi import application\n"
        "from django.urls import get_resolver\n"
        "print(len(get_resolver().reverse_dict))\n"
        f"print(*[name for name in {LATER} if name in sys.modules])"
    )
    run = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True)
    known, loaded, *_ = run.stdout.split("\n")
    assert int(known) > 200
    assert loaded == ""
