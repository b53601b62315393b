"""Whatever is sent: every reader gives a value or a refusal, and every address an answer."""

from __future__ import annotations

import gzip
import io
import json
import random
import struct
import tracemalloc
import zlib
from contextlib import suppress
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile, read_daily
from elder.web.formats.dates import read_dates
from elder.web.formats.logger import ReadLog, read_log
from elder.web.formats.reading import ReadOptions
from elder.web.garden.models import RecordsDraft
from elder.web.ui.photos import FitPhoto, NotAPhotoError, fit_photo
from tests.web.conftest import all_names
from tests.web.presses import at
from tests.web.test_walls import GARDEN_NAMES

CELLS = st.one_of(
    st.sampled_from(["2027-03-01", "1/3/27", "3.5", "-9999", "1e308", "9" * 400, "TMIN", "TMAX", "tmin", "date", "temp",
                     "time", "0001-01-01T00:00+14:00", "9999-12-31T23:59-12:00", "GME00102348", "²", "١٢",
                     '"', "\x00"]),
    st.text(max_size=12),
)  # fmt: skip
TABLES = st.lists(st.lists(CELLS, max_size=5), max_size=12).flatmap(
    lambda rows: st.sampled_from([",", ";", "\t", " "]).map(lambda by: "\n".join(by.join(row) for row in rows))
)


@given(st.one_of(TABLES, st.text(max_size=200)), st.sampled_from(["", "C", "F", "tenths"]))
@settings(max_examples=300, deadline=None)
def test_any_text_is_daily_records_or_a_refusal(text: str, unit: str) -> None:
    assert isinstance(read_daily(text, ReadOptions(unit=unit)), (ReadFile, Refusal))


LOG_NAMES = st.sampled_from(["readings", "time", "temperature_c", "humidity_pct"])
NESTED = st.recursive(
    st.one_of(st.none(), st.floats(), CELLS),
    lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(LOG_NAMES, inner)),
)


@given(st.one_of(TABLES, st.text(max_size=200), NESTED.map(json.dumps)))
@settings(max_examples=300, deadline=None)
def test_any_text_is_a_log_or_a_refusal(text: str) -> None:
    assert isinstance(read_log(text, "Pacific/Auckland"), (ReadLog, Refusal))


@pytest.mark.parametrize(
    "text",
    [
        "time,temp\n0001-01-01T00:00+14:00,20\n",
        "time,temp\n9999-12-31T23:59-12:00,20\n",
        '{"readings": [{"time": "0001-01-01T00:00+14:00", "temperature_c": 20}]}',
        '{"readings": [{"time": "2027-03-01T00:00", "temperature_c": ' + "9" * 400 + "}]}",
        '{"readings": ' + "[" * 200_000,
        '{"readings": {"time": 1}}',
        "time,temp\n" + "x" * 200_000 + ",20\n",
    ],
)
def test_logs_that_broke_it_are_refused(text: str) -> None:
    assert isinstance(read_log(text, "Europe/London"), Refusal)


def test_a_humidity_that_cannot_be_is_none() -> None:
    rows = [{"time": "2027-03-01T10:00", "temperature_c": 20, "humidity_pct": wet} for wet in (1e308, -1, 55)]
    found = read_log(json.dumps({"readings": rows}), "Europe/London")
    assert isinstance(found, ReadLog)
    assert [str(row.humidity) for row in found.readings] == ["nan", "nan", "55.0"]


def test_dates_of_no_calendar() -> None:
    assert read_dates(["1/2/" + "9" * 400, "2027-13-01", "2027-03-01"], "ymd").ordinals[2] == 740041
    assert read_dates(["1/2/" + "9" * 400], "dmy").ordinals == (None,)


def _peak_mb(work: Any) -> float:
    tracemalloc.start()
    try:
        work()
        return tracemalloc.get_traced_memory()[1] / 1e6
    finally:
        tracemalloc.stop()


def test_a_table_past_its_lines_is_refused_before_it_is_split() -> None:
    """1.3 million short lines held a thread for two minutes and 1.5 GB; they are counted now, and no more."""
    many = "1,2\n" * 1_300_000
    found: list[Any] = []
    assert _peak_mb(lambda: found.append(read_daily(many))) < 20
    assert _peak_mb(lambda: found.append(read_log(many, "Europe/London"))) < 20
    assert [refusal.code for refusal in found] == ["too_long", "too_many_readings"]


def test_a_line_past_all_measure_is_refused_and_leaves_no_draft(garden: Any, owner: Client) -> None:
    sent = SimpleUploadedFile("wide.csv", b"date,tmin,tmax\n" + b"x" * 140_000 + b",1,2\n")
    page = owner.post(at("records", garden), {"file": sent})
    assert page.status_code == 200
    assert not RecordsDraft.objects.exists()
    assert owner.get(at("records", garden)).status_code == 200


@pytest.mark.parametrize("cut", [12, 18, 30])
def test_a_damaged_packed_file_is_said(garden: Any, owner: Client, cut: int) -> None:
    packed = bytearray(gzip.compress(b"date,tmin,tmax\n2027-03-01,1,2\n" * 40))
    packed[cut:] = bytes(random.Random(cut).randbytes(len(packed) - cut))  # noqa: S311 - damage, not a secret
    page = owner.post(at("records", garden), {"file": SimpleUploadedFile("a.csv.gz", bytes(packed))})
    assert page.status_code == 200
    assert "That packed file is damaged." in page.content.decode()


def _png(width: int, height: int) -> bytes:
    """A whole PNG of one colour, however large, in few bytes."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    row = b"\x00" + b"\x11" * (3 * width)
    packer = zlib.compressobj(9)
    packed = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


def _sent(data: bytes) -> SimpleUploadedFile:
    return SimpleUploadedFile("a.jpg", data)


@given(st.binary(max_size=300), st.sampled_from(["PNG", "JPEG", "WEBP"]), st.integers(0, 400))
@settings(max_examples=150, deadline=None)
def test_any_bytes_are_a_photo_or_said_to_be_none(noise: bytes, kind: str, at_byte: int) -> None:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "green").save(out, kind, exif=b"Exif\x00\x00" + noise[:60])
    whole = out.getvalue()
    for data in (noise, whole[:at_byte], whole[:at_byte] + noise + whole[at_byte + len(noise) :]):
        if not data:
            continue
        with suppress(NotAPhotoError):
            assert isinstance(fit_photo(_sent(data)), FitPhoto)


def test_too_many_dots_are_refused_before_they_are_opened() -> None:
    with pytest.raises(NotAPhotoError, match="too many dots"):
        fit_photo(_sent(_png(8000, 7400)))  # 59 million: it took 680 MB
    assert fit_photo(_sent(_png(1500, 1000))).width_px == 1280


@pytest.mark.parametrize(("turn", "size"), [(1, (1280, 960)), (3, (1280, 960)), (6, (960, 1280)), (8, (960, 1280))])
def test_a_photo_is_turned_upright(turn: int, size: tuple[int, int]) -> None:
    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112] = turn
    picture = Image.new("RGB", (1600, 1200), "green")
    picture.paste("red", (0, 0, 800, 600))
    picture.save(out, "JPEG", exif=exif)
    fit = fit_photo(_sent(out.getvalue()))
    assert (fit.width_px, fit.height_px) == size
    upright = Image.open(io.BytesIO(fit.data))
    corner = {1: (0, 0), 3: (1, 1), 6: (1, 0), 8: (0, 1)}[turn]  # where the red corner comes to stand
    spot = tuple(round((0.25 + 0.5 * side) * length) for side, length in zip(corner, size, strict=True))
    red, green, _ = upright.getpixel(spot)  # type: ignore[misc]
    assert red > 200 > 60 > green or (red > 200 and green < 60)
    assert not upright.getexif()


def test_a_body_of_somebody_not_signed_in_is_not_read(garden: Any, owner: Client) -> None:
    class Untouched(io.BytesIO):
        def read(self, *_: Any) -> bytes:
            raise AssertionError("its body was read")

    for path, length in (("/sign-in/", 64_001), (at("records", garden), 20_000_000), ("/sign-in/", "much")):
        answer = Client().generic(
            "POST", path, b"", content_type="multipart/form-data; boundary=x", CONTENT_LENGTH=str(length),
            **{"wsgi.input": Untouched()},
        )  # fmt: skip
        assert answer.status_code == 413
    large = owner.generic("POST", at("records", garden), b"", content_type="text/plain", CONTENT_LENGTH="26000001")
    assert large.status_code == 413
    assert "Nothing was written" in large.content.decode()


PARTS = [
    "batch", "place", "key", "on", "count", "seen", "stage", "deed", "n", "by", "when", "wanted",
    "plant", "method", "mother", "want", "wood", "change", "of", "day", "days", "year", "month", "carry_nights",
    "cut_on", "back", "start", "low", "high", "risk", "sure", "signs", "rooted", "lost", "why", "well",
    "then", "fate", "name", "role", "step", "to", "latitude", "longitude", "timezone", "capacity", "unit", "units",
    "theme", "length", "nodes", "end", "size", "ids", "job", "answer", "variety", "strength", "volume", "pot-on-count",
    "pot-on-on", "order", "accept",
]  # fmt: skip
VALUES = st.sampled_from([
    "", "abc", "-1", "0", "1", "9" * 30, "9" * 400, "1e308",
    "nan", "inf", "\x00", "²", "١", "2027-02-30", "0001-01-01", "9999-12-31",
    "2027-03-21", "[]", "{}", "1:2:3:4", "a.b.c", "<b>", "' or 1=1", "🌱",
    "00000000-0000-0000-0000-000000000000", "true", "1,2", "%00", "../../x", "jar", "tomato",
])  # fmt: skip


@pytest.mark.parametrize("name", GARDEN_NAMES)
@settings(max_examples=5, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture], derandomize=True)
@given(sent=st.dictionaries(st.sampled_from(PARTS), VALUES, min_size=1, max_size=14))
def test_whatever_is_sent_to_an_address_it_answers(
    address: Any, owner: Client, name: str, sent: dict[str, str]
) -> None:
    for answer in (owner.post(address(name), sent), owner.get(address(name), sent)):
        assert answer.status_code < 500, sent


@pytest.mark.parametrize("given", ["abc", "", "9" * 400, "-1", "²"])
def test_a_batch_that_is_no_number_cannot_serve(garden: Any, owner: Client, want: Any, given: str) -> None:
    assert owner.post(at("want-serve", garden, want.pk), {"batch": given}).status_code == 404


def test_every_address_of_a_garden_is_tried() -> None:
    assert len(GARDEN_NAMES) == len([name for name, parts in all_names().items() if "garden_id" in parts]) > 60
