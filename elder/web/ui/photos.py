"""A photo from a phone, made fit to keep: turned upright, made smaller, and nothing left of what the camera wrote."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import IO, TYPE_CHECKING, Final, cast

from django import forms
from django.http import HttpResponse
from PIL import Image, ImageOps, UnidentifiedImageError

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile

LONGEST_PX: Final = 1280
QUALITY: Final = 80
MOST_BYTES: Final = 15_000_000
MOST_PIXELS: Final = 60_000_000
FORMS: Final = ("JPEG", "PNG", "WEBP")


class NotAPhotoError(ValueError):
    """What was sent is no picture, or none that may be opened; the message is for the person."""


@dataclass(frozen=True)
class FitPhoto:
    """A JPEG and its size."""

    data: bytes
    width_px: int
    height_px: int


def fit_photo(sent: UploadedFile[bytes]) -> FitPhoto:
    """A file as sent, made fit. Raises NotAPhotoError with a sentence for the person."""
    if (sent.size or 0) > MOST_BYTES:
        raise NotAPhotoError(f"That photo is larger than {MOST_BYTES // 1_000_000} MB.")
    try:
        with Image.open(cast(IO[bytes], sent), formats=FORMS) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise NotAPhotoError("That picture has too many dots to open safely.")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise NotAPhotoError("That is not a photo that can be read: JPEG, PNG or WebP.") from error
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    # The dots alone go into a new picture: place, time, camera and thumbnail stay behind.
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=QUALITY, optimize=True)
    return FitPhoto(out.getvalue(), *clean.size)


def photo_answer(data: bytes | memoryview) -> HttpResponse:
    """A kept photo as it is sent: it never changes, and is the person's alone."""
    answer = HttpResponse(bytes(data), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


class PhotoField(forms.FileField):
    """A photo from the camera or the folder, made fit to keep as it is read."""

    def __init__(self) -> None:
        look = forms.FileInput(attrs={"accept": "image/*", "capture": "environment"})
        super().__init__(label="A photo", required=False, widget=look)

    def clean(self, data: object, initial: object = None) -> FitPhoto | None:
        """The photo made fit, or nothing."""
        sent = super().clean(data, initial)
        if not sent:
            return None
        try:
            return fit_photo(sent)
        except NotAPhotoError as error:
            raise forms.ValidationError(str(error)) from error
