"""Labels drawn: a sheet of them as PDF at true scale, one of them as PNG."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path
from typing import Final

import reportlab
import segno
from PIL import Image, ImageDraw, ImageFont
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from elder.drawing.label import MM_PER_PT, Block, LabelShape, LabelText, Size, Words, label_shapes
from elder.web.cut.labels import MARGIN_MM, PAPERS, Label, labels_per_page

FONTS: Final = {False: "Vera", True: "VeraBd"}  # Bitstream Vera, which comes with reportlab
BAR_MM: Final = 50.0  # printed at the foot, to be held against a ruler
DOTS_PER_MM: Final = 12  # of the label printer: 300 to the inch


@lru_cache(maxsize=1)
def _fonts() -> dict[bool, tuple[TTFont, Path]]:
    folder = Path(str(reportlab.__file__)).parent / "fonts"
    found = {}
    for bold, name in FONTS.items():
        font = TTFont(name, str(folder / f"{name}.ttf"))
        pdfmetrics.registerFont(font)
        found[bold] = (font, folder / f"{name}.ttf")
    return found


def measured(words: str, bold: bool, tall_mm: float) -> float:
    """How wide words are in mm, printed so tall."""
    _fonts()
    return float(pdfmetrics.stringWidth(words, FONTS[bold], tall_mm / MM_PER_PT)) * MM_PER_PT


def printable(words: str) -> str:
    """Words in letters the font has: what it lacks loses its accent, or stands as a question mark."""
    glyphs = _fonts()[False][0].face.charToGlyph

    def letter(one: str) -> str:
        if ord(one) in glyphs:
            return one
        plain = "".join(
            part for part in unicodedata.normalize("NFKD", one) if ord(part) in glyphs and ord(part) < 0x300
        )
        return plain or PLAIN.get(one, "?")

    return "".join(letter(one) for one in words)


PLAIN: Final = {"ł": "l", "Ł": "L", "đ": "d", "Đ": "D", "ħ": "h", "ı": "i"}


def shapes_of(label: Label, size: Size) -> list[LabelShape]:
    """The label laid out in mm."""
    matrix = [list(row) for row in segno.make(label.url, error="m", micro=False).matrix]
    text = label.text
    said = LabelText(printable(text.title), printable(text.code), tuple(printable(line) for line in text.lines))
    return label_shapes(said, size, matrix, measured)


def label_sheet(labels: Sequence[Label], size: Size, paper: str) -> bytes:
    """A PDF of labels at true scale, row by row, with lines to cut along and a bar to check the scale by."""
    _fonts()
    width, height = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(width / MM_PER_PT, height / MM_PER_PT), invariant=True)
    canvas.setTitle("Labels")
    across, down = labels_per_page(size, paper)
    for i, label in enumerate(labels):
        on_page = i % (across * down)
        if i and on_page == 0:
            _foot(canvas, height)
            canvas.showPage()
        row, column = divmod(on_page, across)
        _draw(canvas, label, size, MARGIN_MM + column * size.width_mm, MARGIN_MM + row * size.height_mm, height)
    _foot(canvas, height)
    canvas.save()
    return out.getvalue()


def _draw(canvas: Canvas, label: Label, size: Size, x: float, y: float, page_mm: float) -> None:
    def at(px: float, py: float) -> tuple[float, float]:
        return (x + px) / MM_PER_PT, (page_mm - y - py) / MM_PER_PT

    canvas.setLineWidth(0.2)
    canvas.setStrokeGray(0.6)
    left, low = at(0, size.height_mm)
    canvas.rect(left, low, size.width_mm / MM_PER_PT, size.height_mm / MM_PER_PT)
    canvas.setFillGray(0)
    for shape in shapes_of(label, size):
        if isinstance(shape, Block):
            left, low = at(shape.x, shape.y + shape.height)
            canvas.rect(left, low, shape.width / MM_PER_PT, shape.height / MM_PER_PT, stroke=0, fill=1)
        elif isinstance(shape, Words):
            canvas.setFont(FONTS[shape.bold], shape.size / MM_PER_PT)
            canvas.drawString(*at(shape.x, shape.y), shape.words)
        else:
            _outline(canvas, [at(*point) for point in shape.points])


def _outline(canvas: Canvas, points: list[tuple[float, float]]) -> None:
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    path.close()
    canvas.drawPath(path, stroke=0, fill=1)


def _foot(canvas: Canvas, page_mm: float) -> None:
    """A bar of 50 mm and what it is for."""
    y = (MARGIN_MM - 3) / MM_PER_PT
    left, right = MARGIN_MM / MM_PER_PT, (MARGIN_MM + BAR_MM) / MM_PER_PT
    canvas.setStrokeGray(0)
    canvas.setLineWidth(0.7)
    canvas.line(left, y, right, y)
    for x in (left, right):
        canvas.line(x, y - 3, x, y + 3)
    canvas.setFont(FONTS[False], 7)
    canvas.drawString(right + 6, y - 2.5, "50 mm: print at actual size, not fitted to the page.")


def label_png(label: Label, size: Size) -> bytes:
    """One label as the label printer makes it: black on white, 12 dots to the millimetre."""
    dots = DOTS_PER_MM
    picture = Image.new("L", (round(size.width_mm * dots), round(size.height_mm * dots)), 255)
    draw = ImageDraw.Draw(picture)
    for shape in shapes_of(label, size):
        if isinstance(shape, Block):
            right, foot = round((shape.x + shape.width) * dots) - 1, round((shape.y + shape.height) * dots) - 1
            draw.rectangle((round(shape.x * dots), round(shape.y * dots), right, foot), fill=0)
        elif isinstance(shape, Words):
            font = ImageFont.truetype(str(_fonts()[shape.bold][1]), shape.size * dots)
            draw.text((shape.x * dots, shape.y * dots), shape.words, font=font, fill=0, anchor="ls")
        else:
            draw.polygon([(px * dots, py * dots) for px, py in shape.points], fill=0)
    out = io.BytesIO()
    picture.convert("1", dither=Image.Dither.NONE).save(out, "PNG", dpi=(dots * 25.4, dots * 25.4))
    return out.getvalue()
