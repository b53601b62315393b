"""What is sent, at the most that is taken of it: seconds and megabytes of each reader, in a process of its own.

python -m bench.readers            # a table; `make bench` does not run it, for it takes two minutes
"""

from __future__ import annotations

import io
import json
import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Final

LIMIT_S, LIMIT_MB = 10.0, 200.0
DAYS: Final = 119_990


def _days(count: int) -> str:
    first = date(1700, 1, 1).toordinal()
    rows = (f"{date.fromordinal(first + day)},{day % 30},{day % 30 + 8}" for day in range(count))
    return "date,tmin,tmax\n" + "\n".join(rows)


def _elements(count: int) -> str:
    """Four elements to a day, as stations are published."""
    first, names = date(1700, 1, 1).toordinal(), ("TMIN", "TMAX", "PRCP", "SNOW")
    days = (date.fromordinal(first + n // 4) for n in range(count))
    rows = (f"GME00102348,{day:%Y%m%d},{names[n % 4]},{n % 300},,,E," for n, day in enumerate(days))
    return "\n".join(rows)[:24_000_000]


def _daily(text: str) -> object:
    from elder.web.formats.daily import read_daily
    from elder.web.formats.reading import ReadOptions

    return read_daily(text, ReadOptions())


def _log(text: str) -> object:
    from elder.web.formats.logger import read_log

    return read_log(text, "Europe/London")


def _readings(count: int) -> list[dict[str, object]]:
    first = datetime(2001, 1, 1)  # noqa: DTZ001 - a logger's own clock
    return [{"time": (first + timedelta(hours=n)).isoformat(), "temperature_c": 20.5} for n in range(count)]


def _photo(form: str, width: int, height: int, **options: object) -> bytes:
    from PIL import Image

    kept = io.BytesIO()
    noise = Image.frombytes("L", (256, 256), random.Random(1).randbytes(65_536)).resize((width, height)).convert("RGB")  # noqa: S311
    noise.save(kept, form, **options)  # type: ignore[arg-type]
    return kept.getvalue()


def _fit(data: bytes) -> object:
    from django.core.files.uploadedfile import SimpleUploadedFile

    from elder.web.ui.photos import NotAPhotoError, fit_photo

    try:
        return fit_photo(SimpleUploadedFile("photo", data))
    except NotAPhotoError as refused:
        return refused


CASES: Final[dict[str, tuple[Callable[[], object], Callable[..., object]]]] = {
    "a table of 120,000 days": (lambda: _days(DAYS), _daily),
    "24 MB of short lines": (lambda: "1,2\n" * 6_000_000, _daily),
    "24 MB in one line": (lambda: "1," * 12_000_000, _daily),
    "24 MB of one cell": (lambda: "date,tmin,tmax\n" + "9" * 24_000_000, _daily),
    "a million lines of elements": (lambda: _elements(1_190_000), _daily),
    "a log of 200,000 readings": (
        lambda: "time,temperature\n" + "\n".join(f"{row['time']},{row['temperature_c']}" for row in _readings(199_990)),
        _log,
    ),
    "the same as JSON": (lambda: json.dumps({"readings": _readings(199_990)})[:20_000_000], _log),
    "JSON of 20 MB of brackets": (lambda: '{"readings": ' + "[" * 19_000_000, _log),
    "JSON of 20 MB of names": (lambda: json.dumps({"readings": [{f"n{i}": i} for i in range(1_150_000)]}), _log),
    "a JPEG of 119 megapixels": (lambda: _photo("JPEG", 11_900, 10_000, quality=30), _fit),
    "a JPEG in passes of 23 megapixels": (lambda: _photo("JPEG", 5_900, 3_900, quality=60, progressive=True), _fit),
    "a PNG of 12 megapixels": (lambda: _photo("PNG", 4_000, 2_990), _fit),
    "a WebP of 12 megapixels": (lambda: _photo("WEBP", 4_000, 2_990, quality=60), _fit),
}


def _memory_mb(what: str) -> float:
    """Of this process, as Linux counts it: now (VmRSS) or at most (VmHWM)."""
    status = Path("/proc/self/status").read_text(encoding="ascii")
    return int(next(line for line in status.splitlines() if line.startswith(what)).split()[1]) / 1024


def make(name: str, file: Path) -> None:
    """What one case is sent, into a file: made here, so that what making it took is nobody's."""
    sent = CASES[name][0]()
    file.write_bytes(sent if isinstance(sent, bytes) else sent.encode())


def measure(name: str, file: Path) -> None:
    """One case, in this process: its figures as a line of JSON."""
    reader = CASES[name][1]
    reader(b"" if reader is _fit else "")  # what it imports is not its own
    sent = file.read_bytes() if reader is _fit else file.read_text()
    before, begun = _memory_mb("VmRSS"), time.process_time()
    said = reader(sent)
    found = {"s": time.process_time() - begun, "mb": _memory_mb("VmHWM") - before, "said": type(said).__name__}
    sys.stdout.write(json.dumps(found) + "\n")


def main() -> None:
    """Every case, each in a process of its own."""
    print(f"{'':36} {'seconds':>8} {'MB more':>8}   of {LIMIT_S:g} s and {LIMIT_MB:g} MB")
    with tempfile.TemporaryDirectory() as folder:
        for name in CASES:
            words = [sys.executable, "-m", "bench.readers", name, f"{folder}/sent"]
            subprocess.run([*words, "make"], check=True)  # noqa: S603
            ran = subprocess.run(words, capture_output=True, text=True, check=True)  # noqa: S603
            found = json.loads(ran.stdout)
            over = "  OVER" if found["s"] > LIMIT_S or found["mb"] > LIMIT_MB else ""
            print(f"{name:36} {found['s']:8.1f} {found['mb']:8.0f}   {found['said']}{over}")


if __name__ == "__main__":
    if len(sys.argv) == 1:
        main()
    else:
        (make if len(sys.argv) > 3 else measure)(sys.argv[1], Path(sys.argv[2]))
