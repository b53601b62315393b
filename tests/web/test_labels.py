"""Labels: decoded back from the picture and from the page, at true scale, and opened by the right people only."""

from __future__ import annotations

import io
import uuid
from datetime import date
from typing import Any

import pypdfium2
import pytest
import zxingcpp
from django.test import Client
from PIL import Image

from elder.drawing.label import SIZES, STRIP, TAG, LabelText
from elder.engine.cut.codes import code_of, spoken
from elder.web.batches.models import Batch
from elder.web.cut.label_drawing import label_png, label_sheet, printable
from elder.web.cut.labels import MOST_LABELS, PAPERS, Label, labels_per_page
from elder.web.cut.models import TrayLabel
from tests.factories import GardenFactory, take
from tests.web.presses import at, page, take_back, way_back

LABEL = Label(
    LabelText("Chilli ‘Tarbrand’", "HA·HE·WE", ("from the old one", "cut 9 Mar 2027")),
    "https://elder.example/b/HAHEWE/",
)
PX_PER_PT = 4


def read(picture: Image.Image) -> list[str]:
    return [found.text for found in zxingcpp.read_barcodes(picture.convert("L"))]


@pytest.mark.parametrize("size", SIZES.values(), ids=list(SIZES))
def test_the_printed_label_is_read_back(size: Any) -> None:
    with Image.open(io.BytesIO(label_png(LABEL, size))) as picture:
        assert read(picture) == [LABEL.url]
        assert picture.size == (size.width_mm * 12, size.height_mm * 12)
        assert picture.mode == "1", "black and white, as the device prints"


def pages_of(pdf: bytes) -> list[Image.Image]:
    document = pypdfium2.PdfDocument(pdf)
    try:
        return [page.render(scale=PX_PER_PT).to_pil() for page in document]
    finally:
        document.close()


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("size", SIZES.values(), ids=list(SIZES))
def test_a_sheet_is_at_true_scale(size: Any, paper: str) -> None:
    """A4 is 210 × 297 mm (ISO 216), US Letter 8½ × 11 inches."""
    across, down = labels_per_page(size, paper)
    (sheet, *more) = pages_of(label_sheet([LABEL] * (across * down), size, paper))
    assert not more, "a page's worth is a page"
    px_per_mm = 72 / 25.4 * PX_PER_PT
    assert sheet.size == pytest.approx(tuple(side * px_per_mm for side in PAPERS[paper]), abs=1.5)
    found = zxingcpp.read_barcodes(sheet.convert("L"))
    assert [one.text for one in found] == [LABEL.url] * (across * down)
    # Neighbouring codes stand a label's width and height apart.
    xs = sorted({round(one.position.top_left.x / px_per_mm, 0) for one in found})
    ys = sorted({round(one.position.top_left.y / px_per_mm, 0) for one in found})
    assert ys[-1] - ys[0] == pytest.approx((down - 1) * size.height_mm, abs=1.1)
    assert xs[-1] - xs[0] == pytest.approx((across - 1) * size.width_mm, abs=1.1)


def test_the_bar_at_the_foot_is_fifty_millimetres() -> None:
    (sheet,) = pages_of(label_sheet([LABEL], STRIP, "a4"))
    px_per_mm = 72 / 25.4 * PX_PER_PT
    row, grey = round((297 - 7) * px_per_mm), sheet.convert("L")
    # The words beside it begin after 61 mm.
    line = [x for x in range(round(61 * px_per_mm)) if grey.getpixel((x, row)) < 128]
    assert (max(line) - min(line)) / px_per_mm == pytest.approx(50, abs=0.5)


def test_more_than_a_page_goes_on_another() -> None:
    across, down = labels_per_page(TAG, "a4")
    assert len(pages_of(label_sheet([LABEL] * (across * down + 1), TAG, "a4"))) == 2


def test_letters_the_font_lacks_lose_their_accents() -> None:
    assert printable("Łódź ‘Ferry’ é") == "Łódz ‘Ferry’ é"
    assert printable("海") == "?"


@pytest.fixture
def batch(want: Any) -> Batch:
    return take(want, on=date(2027, 3, 6))


def chosen(row: Batch, **more: Any) -> dict[str, Any]:
    return {"batch": [row.pk], "size": "strip", "paper": "a4", "job": uuid.uuid4(), **more}


def test_one_label_to_a_jar_as_pdf(garden: Any, owner: Client, batch: Batch) -> None:
    answer = owner.post(at("label-pdf", garden), chosen(batch))
    assert answer["Content-Type"] == "application/pdf"
    (sheet,) = pages_of(answer.content)
    assert read(sheet) == [f"http://testserver/b/{batch.code}/"] * 3
    five = owner.post(at("label-pdf", garden), chosen(batch, copies=5, size="tag"))
    assert len(read(pages_of(five.content)[0])) == 5


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"batch": []}, "Tick at least one batch."),
        ({"batch": [99999]}, "That batch is not of this garden."),
        ({"copies": 0}, "At least one."),
        ({"copies": 51}, "At most 50."),
        ({"size": "poster"}, "Choose one of the sizes."),
    ],
)
def test_what_cannot_be_labelled(garden: Any, owner: Client, batch: Batch, wrong: Any, said: str) -> None:
    for name in ("label-pdf", "label-print"):
        assert said in owner.post(at(name, garden), chosen(batch, **wrong)).content.decode()
    assert not TrayLabel.objects.exists()


def test_the_printer_lays_them_in_its_tray_once(garden: Any, owner: Client, batch: Batch) -> None:
    given = chosen(batch)
    for _ in range(2):
        answer = owner.post(at("label-print", garden), given)
    undo = way_back(owner, answer)
    rows = TrayLabel.objects.all()
    assert len(rows) == 3
    shown = owner.get(at("label-tray-png", garden, rows[0].pk))
    with Image.open(io.BytesIO(shown.content)) as picture:
        assert read(picture) == [f"http://testserver/b/{batch.code}/"]
    assert page(owner, "label-tray", garden).count("<img") == 3
    owner.post(at("label-print", garden), chosen(batch, copies=1))
    take_back(owner, garden, undo)
    assert TrayLabel.objects.count() == 1, "the undo takes its own job out"
    owner.post(at("label-tray-clear", garden))
    assert "The tray is empty." in page(owner, "label-tray", garden)


def test_a_preview_of_each_size(garden: Any, owner: Client, batch: Batch) -> None:
    for size in SIZES:
        shown = owner.get(at("label-preview", garden, batch.pk, size))
        with Image.open(io.BytesIO(shown.content)) as picture:
            assert read(picture) == [f"http://testserver/b/{batch.code}/"]
    assert owner.get(at("label-preview", garden, batch.pk, "poster")).status_code == 404


def test_the_code_opens_its_batch_for_its_people_only(
    garden: Any, owner: Client, batch: Batch, sign_in: Any, client: Client
) -> None:
    url = f"/b/{batch.code}/"
    assert owner.get(url).url == at("batch", garden, batch.pk)
    assert owner.get(f"/b/{batch.code.lower()}/").url == at("batch", garden, batch.pk)
    stranger = sign_in("owner", into=GardenFactory())
    assert stranger.get(url).status_code == 404
    assert client.get(url).url.startswith("/sign-in/")
    for wrong in ("HAHAHA", "nonsense", code_of(batch.pk + 1000)):
        assert owner.get(f"/b/{wrong}/").status_code == 404


def test_a_code_typed_by_hand(garden: Any, owner: Client, batch: Batch) -> None:
    find = at("label-find", garden)
    assert owner.post(find, {"code": spoken(batch.code).lower()}).url == at("batch", garden, batch.pk)
    misheard = owner.post(find, {"code": batch.code[:4] + "XX"}, follow=True)
    assert "is not a code; look at the label again" in misheard.content.decode()
    other = owner.post(find, {"code": code_of(batch.pk + 1000)}, follow=True)
    assert "is no batch of this garden" in other.content.decode()


def test_no_more_labels_than_a_sensible_stack(garden: Any, owner: Client, want: Any) -> None:
    rows = [take(want, on=date(2027, 3, 6)).pk for _ in range(MOST_LABELS // 50 + 1)]
    asked = {"batch": rows, "size": "strip", "paper": "a4", "job": uuid.uuid4(), "copies": 50}
    said = f"At most {MOST_LABELS} labels at a time."
    assert said in owner.post(at("label-pdf", garden), asked).content.decode()
    fewer = owner.post(at("label-pdf", garden), {**asked, "batch": rows[:-1]})
    assert fewer["Content-Type"] == "application/pdf"
