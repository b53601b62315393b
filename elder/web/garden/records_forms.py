"""Forms of daily records: the file sent, and what it does not say itself."""

from __future__ import annotations

import gzip
import io
import zlib
from typing import TYPE_CHECKING

from django import forms
from django.core.exceptions import ValidationError

from elder.web.garden.actions import MOST_BYTES

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile


class RecordsForm(forms.Form):
    """A file of daily readings."""

    file = forms.FileField(
        label="A file of daily lowest and highest temperatures",
        error_messages={"required": "Choose a file first.", "empty": "That file is empty."},
        widget=forms.FileInput(attrs={"accept": ".csv,.txt,.tsv,.dly,.dat,.gz"}),
    )

    def clean_file(self) -> bytes:
        """The file's bytes, unpacked where it was gzipped."""
        return bytes_of(self.cleaned_data["file"])


def bytes_of(sent: UploadedFile[bytes]) -> bytes:
    """A text file's bytes, unpacked where it was gzipped. Raises ValidationError where it is too large or none."""
    if (sent.size or 0) > MOST_BYTES:
        raise ValidationError(f"That file is larger than {MOST_BYTES // 1_000_000} MB. Send one station's file.")
    data: bytes = sent.read()
    if data[:2] == b"\x1f\x8b":
        data = _unpacked(data)
    if b"\x00" in data[:4096]:
        raise ValidationError("That is not a text file. Save the table as CSV and send that.")
    return data


def _unpacked(data: bytes) -> bytes:
    """Gzipped bytes unpacked, but never past the limit, however small they were packed."""
    with gzip.GzipFile(fileobj=io.BytesIO(data)) as packed:
        try:
            plain = packed.read(MOST_BYTES + 1)
        except (OSError, EOFError, zlib.error) as error:
            raise ValidationError("That packed file is damaged.") from error
    if len(plain) > MOST_BYTES:
        raise ValidationError(f"Unpacked, that file is larger than {MOST_BYTES // 1_000_000} MB.")
    return plain


class ReadingForm(forms.Form):
    """What the file does not say itself."""

    unit = forms.ChoiceField(
        label="Temperatures are in",
        required=False,
        choices=(("", "as understood"), ("C", "°C"), ("F", "°F"), ("tenths", "tenths of °C")),
    )
    order = forms.ChoiceField(
        label="Dates run",
        required=False,
        choices=(("", "as understood"), ("dmy", "day, month, year"), ("mdy", "month, day, year")),
    )
    keep_suspects = forms.BooleanField(label="Keep the readings that look wrong", required=False)
