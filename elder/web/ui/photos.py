"""A photo from a phone, made fit to keep: turned upright, made smaller, and nothing left of what the camera wrote."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import IO, TYPE_CHECKING, Final, cast

from django import forms
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile

LONGEST_PX: Final = 1280
QUALITY: Final = 80
MOST_BYTES: Final = 15_000_000
# A JPEG is opened small; the parts of one that comes in passes, and all of a PNG or WebP, are held whole.
MOST_PIXELS: Final = {"JPEG": 120_000_000, "passes": 24_000_000, "PNG": 12_000_000, "WEBP": 12_000_000}
FORMS: Final = ("JPEG", "PNG", "WEBP")
ORIENTATION: Final = 0x0112  # how the camera was held (Exif 2.32, tag 274), and how that is put right
TURNS: Final = {
    2: "FLIP_LEFT_RIGHT", 3: "ROTATE_180", 4: "FLIP_TOP_BOTTOM", 5: "TRANSPOSE", 6: "ROTATE_270", 7: "TRANSVERSE",
    8: "ROTATE_90",
}  # fmt: skip


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
    from PIL import Image  # loaded where a photo comes, and not when the application starts

    if (sent.size or 0) > MOST_BYTES:
        raise NotAPhotoError(f"That photo is larger than {MOST_BYTES // 1_000_000} MB.")
    try:
        with Image.open(cast(IO[bytes], sent), formats=FORMS) as picture:
            kind = "passes" if picture.info.get("progressive") else str(picture.format)
            if picture.width * picture.height > MOST_PIXELS[kind]:
                raise NotAPhotoError("That picture has too many dots to open safely.")
            picture.draft("RGB", (LONGEST_PX, LONGEST_PX))
            turn = picture.getexif().get(ORIENTATION, 1)
            picture.load()
            small = picture if picture.mode == "RGB" else picture.convert("RGB")  # no second copy
            small.thumbnail((LONGEST_PX, LONGEST_PX))
    except NotAPhotoError:
        raise
    except Exception as error:  # whatever a codec makes of broken data: struct's, zlib's and its own errors
        raise NotAPhotoError("That is not a photo that can be read: JPEG, PNG or WebP.") from error
    upright = small.transpose(Image.Transpose[TURNS[turn]]) if turn in TURNS else small
    # The dots alone go into a new picture: place, time, camera and thumbnail stay behind.
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=QUALITY, optimize=True)
    return FitPhoto(out.getvalue(), *clean.size)


# What a JPEG of ours says of itself beside its dots.
OUR_INFO: Final = frozenset({"jfif", "jfif_version", "jfif_unit", "jfif_density", "dpi"})


def fit_again(data: bytes) -> FitPhoto:
    """A photo that comes back from an archive: one of ours as it is, any other made fit. Raises NotAPhotoError."""
    from PIL import Image

    fit = fit_photo(SimpleUploadedFile("photo.jpg", data))
    with Image.open(io.BytesIO(data)) as picture:
        ours = picture.format == "JPEG" and picture.mode == "RGB" and OUR_INFO.issuperset(picture.info)
        return FitPhoto(data, *picture.size) if ours and max(picture.size) <= LONGEST_PX else fit


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
