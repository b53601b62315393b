"""Looks and their verdicts, two people at once, ways out of a shortfall, photos."""

from __future__ import annotations

import io
import re
import uuid
from datetime import date
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image

from elder.web.batches.models import Batch, Photo
from elder.web.garden import access
from elder.web.garden.models import Person
from elder.web.read.batches import batch_today
from elder.web.season.models import Want
from elder.web.ui.photos import LONGEST_PX
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import TODAY, at, kinds, look, page, take_back, way_back

pytestmark = pytest.mark.usefixtures("mild")


def test_as_it_should_be_is_one_tap(owner: Client, garden: Any, batch: Batch) -> None:
    said = page(owner, "round", garden)
    assert "First look" in said
    assert "should root" in said
    assert look(owner, batch, well="1").url == at("round", garden)
    assert kinds(batch) == ["taken", "looked"]
    assert "First look" not in page(owner, "round", garden)


def test_signs_come_to_a_verdict_with_patience_and_course(owner: Client, garden: Any, batch: Batch) -> None:
    answer = look(owner, batch, signs=["slime"], lost=1, why="rot", note="It smells.")
    entry = batch.entries.last()
    assert entry is not None
    assert (entry.kind, entry.signs, entry.note) == ("lost", "slime", "It smells.")
    said = str(owner.get(answer.url).content.decode())
    assert "The base has begun to rot" in said
    assert "Rinse and recut" in said
    assert "Look again in 2 days" in said
    assert re.search(r"Of the ten still waiting, .* should root. With no root on any by .*, give the batch up;", said)
    assert "not worth the place" not in said, "patience is said once"
    assert "8 wanted" in said
    assert "1 lost, rotted at the base (slime)" in page(owner, "batch", garden, batch.pk)


def test_slime_a_second_time_means_give_up(owner: Client, monkeypatch: pytest.MonkeyPatch, batch: Batch) -> None:
    first = look(owner, batch, signs=["slime"])
    assert "Give that one up" not in owner.get(first.url).content.decode()
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 3, 23))
    second = look(owner, batch, on="2027-03-23", signs=["slime"])
    assert "Give that one up" in owner.get(second.url).content.decode()
    assert "Give that one up" not in owner.get(first.url).content.decode(), "the first look stays what it was"


def test_rooted_ones_lead_to_the_plants_own_way_of_potting(owner: Client, batch: Batch) -> None:
    answer = look(owner, batch, rooted=4, signs=["roots", "root_length"], root_cm="1.5")
    said = str(owner.get(answer.url).content.decode())
    assert "Long enough: ready to pot" in said
    assert "roots come along the buried stem" in said
    assert "keep it very wet for two days" in said
    assert "Day 1 of 7: out for 1 hour" in said
    assert "roots come along the buried stem" in page(owner, "batch", batch.garden, batch.pk), "and on the batch itself"
    entry = batch.entries.last()
    assert entry is not None
    assert entry.root_cm == 1.5
    assert "4 newly rooted (roots seen and roots of 1.5 cm)" in page(owner, "batch", batch.garden, batch.pk)


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ({"rooted": "99"}, "99 rooted does not add up"),
        ({"lost": "-1"}, "At least 0."),
        ({"on": "2027-04-01"}, "is still to come"),
        ({"root_cm": "500"}, "At most 60 cm."),
        ({"signs": ["purple"]}, "That is not one of the signs."),
    ],
)
def test_a_look_that_cannot_be_keeps_all_that_was_typed(
    owner: Client, batch: Batch, given: dict[str, Any], sentence: str
) -> None:
    answer = look(owner, batch, note="Half of them lean.", **{"signs": ["moss"], **given})
    said = answer.content.decode()
    assert answer.status_code == 200
    assert sentence in said
    assert "Half of them lean." in said
    assert "signs" in given or 'value="moss" checked' in said
    assert kinds(batch) == ["taken"]


def test_two_people_do_not_count_the_same_roots_twice(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    answer = look(owner, batch, rooted=4, seen=opened, note="Four white ones.")
    said = answer.content.decode()
    assert re.search(r"Since this page was opened, grower\d+ wrote down 4 newly rooted. Write down only", said)
    assert "Four white ones." in said
    assert kinds(batch) == ["taken", "rooted"]
    newer = re.search(r'name="seen" value="(\d+)"', said)
    assert newer
    look(owner, batch, rooted=2, seen=newer[1])
    assert [entry.count for entry in batch.entries.filter(kind="rooted")] == [4, 2]


def test_a_look_without_a_count_is_never_in_anothers_way(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    answer = look(owner, batch, signs=["moss"], seen=opened)
    assert answer.status_code == 302
    assert kinds(batch) == ["taken", "rooted", "looked"]


def test_a_phone_is_told_what_could_not_be_written(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    data = {"on": TODAY.isoformat(), "stage": "waiting", "rooted": 4, "seen": opened, "key": uuid.uuid4()}
    url = at("round-look", batch.garden, batch.pk)
    told = owner.post(url, data, HTTP_ACCEPT="application/json").json()
    assert told["ok"] is False
    assert "wrote down 4 newly rooted" in told["said"]
    again = owner.post(url, {**data, "seen": told["seen"]}, HTTP_ACCEPT="application/json").json()
    assert again["ok"] is True
    # The same press once more, as after an answer that was lost on the way.
    assert owner.post(url, {**data, "seen": told["seen"]}, HTTP_ACCEPT="application/json").json()["ok"] is True
    assert [entry.count for entry in batch.entries.filter(kind="rooted")] == [4, 4]


def test_a_look_where_all_is_well_says_how_the_want_stands(owner: Client, garden: Any, want: Any) -> None:
    look(owner, take(want, on=date(2027, 3, 18)), well="1")
    assert re.search(r"On course: about \d+ in \d+ that 8 are ready by 15 May.", page(owner, "round", garden))


def test_and_so_does_one_that_came_too_late_to_be_no_news(owner: Client, garden: Any, want: Any) -> None:
    look(
        owner, take(want, on=date(2027, 3, 6), count=12), well="1"
    )  # day 14, when 8 in 10 would have had roots: a slow batch, or a poor one
    # 0.878 of 0.9 asked: as near as a chance is known, so nobody is sent to cut one shoot more.
    assert "On course: about 9 in 10 that 8 are ready by 15 May." in page(owner, "round", garden)


def test_one_that_came_later_still_is_tight_or_short(owner: Client, garden: Any, want: Any) -> None:
    look(owner, take(want, on=date(2027, 3, 1)), well="1")  # day 19, when 19 in 20 would have had roots
    assert re.search(
        r"(Tight|Short): .* that 8 are ready by 15 May. Cut \d+ side shoots more now", page(owner, "round", garden)
    )


def test_shoots_are_measured_where_they_are_the_sign(owner: Client, garden: Any, sill: Any) -> None:
    vine = WantFactory(garden=garden, rooting_place=sill, plant="grapevine", method="stick")
    vine = take(vine, on=date(2027, 2, 1))
    said = page(owner, "round-look", garden, vine.pk)
    assert "Longest shoot, cm" in said
    answer = look(owner, vine, root_cm="16", signs=["new_growth"])
    assert "Long enough: ready to pot" in owner.get(answer.url).content.decode()
    answer = look(owner, vine, root_cm="6")
    assert "Growing, still short" in owner.get(answer.url).content.decode()


def test_a_short_want_offers_its_ways_out_with_numbers(
    owner: Client, sign_in: Any, garden: Any, want: Any, batch: Batch
) -> None:
    PlaceFactory(garden=garden, name="Heat mat", standing="air", floor_c=24)
    young = take(want, on=date(2027, 3, 18))
    look(owner, batch, lost=11, why="rot")
    answer = look(owner, young, lost=6, why="rot")
    said = str(owner.get(answer.url).content.decode())
    assert re.search(r"Cut \d+ more", said)
    assert re.search(r"Roots \d+ days sooner than at Kitchen sill", said)
    assert re.search(r"Accept fewer</b> <span>\d are? as sure", said)
    assert "Sow</b> <span>Sown today, ready about" in said
    assert "will do" in said
    helper_sees = sign_in("helper").get(answer.url).content.decode()
    assert "Cut" in helper_sees
    assert "will do" not in helper_sees, "what a want asks for is its owner's to change"


def test_settling_for_fewer_or_later_and_taking_it_back(owner: Client, garden: Any, want: Any, batch: Batch) -> None:
    url = at("round-settle", garden, want.pk)
    owner.post(url, {"count": "3"})
    want.refresh_from_db()
    assert (want.settled_count, want.total) == (3, 3)
    owner.post(url, {"by": "2027-06-10"})
    want.refresh_from_db()
    assert (want.settled_count, want.settled_by) == (3, date(2027, 6, 10))
    assert batch_today(batch, garden, TODAY, want=want).target == date(2027, 6, 10)
    assert "On course" in page(owner, "want", garden, want.pk)
    take_back(owner, garden, way_back(owner, owner.post(url, {"count": "2"})))
    want.refresh_from_db()
    assert (want.settled_count, want.settled_by) == (3, date(2027, 6, 10)), "what was settled for before"
    owner.post(url, {"as_asked": ""})
    assert Want.objects.get(pk=want.pk).total == 8
    assert owner.post(url, {"count": "900"}).status_code == 404
    assert owner.post(url, {"by": "soon"}).status_code == 404


def picture(size: tuple[int, int] = (3000, 2000), form: str = "JPEG") -> SimpleUploadedFile:
    """A photo with what cameras write into it: a maker, a place, and a turn."""
    image = Image.new("RGB", size, "green")
    exif = Image.Exif()
    exif[0x010F] = "Maker of cameras"
    exif[0x0112] = 6  # to be turned a quarter
    exif.get_ifd(0x8825)[2] = (52.0, 36.0, 0.0)
    out = io.BytesIO()
    image.save(out, form, exif=exif)
    return SimpleUploadedFile(f"leaf.{form.lower()}", out.getvalue(), content_type="image/jpeg")


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_a_photo_is_turned_made_smaller_and_stripped(owner: Client, batch: Batch, form: str) -> None:
    look(owner, batch, signs=["moss"], photo=picture(form=form))
    row = Photo.objects.get()
    assert (row.width_px, row.height_px) == (853, LONGEST_PX)
    answer = owner.get(at("photo", batch.garden, row.pk))
    assert answer["Content-Type"] == "image/jpeg"
    kept = Image.open(io.BytesIO(answer.content))
    assert kept.size == (853, LONGEST_PX)
    assert not kept.getexif()
    assert b"Maker of cameras" not in answer.content
    assert f"photo/{row.pk}/" in owner.get(at("round-verdict", batch.garden, batch.pk, row.entry_id)).content.decode()


@pytest.mark.parametrize("data", [b"no picture at all", b"GIF89a" + b"\0" * 50], ids=["text", "gif"])
def test_what_is_no_photo_is_refused_in_words(owner: Client, batch: Batch, data: bytes) -> None:
    answer = look(owner, batch, signs=["moss"], note="With a photo.", photo=SimpleUploadedFile("a.jpg", data))
    assert "That is not a photo that can be read" in answer.content.decode()
    assert "With a photo." in answer.content.decode()
    assert kinds(batch) == ["taken"]


def test_what_has_no_hope_left_is_given_up_or_let_be_in_one_press(owner: Client, garden: Any, want: Any) -> None:
    old = take(want, on=date(2027, 1, 20), count=4)
    look(owner, old, on="2027-03-17", rooted=2)
    said = page(owner, "round", garden)
    assert "Go on, or give up?" in said
    assert "Let be" in said
    form = re.search(r'<form [^>]*given up"[^>]*>(.*?)Give up 2</button>', said, re.DOTALL)
    assert form
    sent = dict(re.findall(r'name="(\w+)" value="([^"]*)"', form[1]))
    answer = owner.post(at("round-look", garden, old.pk), sent)
    assert answer.url == at("round", garden)
    last = old.entries.last()
    assert last is not None
    assert (last.kind, last.count, last.why) == ("lost", 2, "gave_up")
    assert "Go on, or give up?" not in page(owner, "round", garden)


def test_a_look_in_inches(owner: Client, batch: Batch) -> None:
    """Three quarters of an inch are 1.905 cm; at most 60 cm are 24 inches."""
    person = Person.objects.get(pk=owner.session["_auth_user_id"])
    person.units = "us"
    person.save()
    html = owner.get(at("round-look", batch.garden, batch.pk)).content.decode()
    assert "Longest root, in" in html
    assert "Longest root, cm" not in html
    look(owner, batch, signs=["root_length"], root_cm="0.75")
    assert batch.entries.latest("pk").root_cm == pytest.approx(1.905)
    said = look(owner, batch, signs=["root_length"], root_cm="30").content.decode()
    assert "At most 24 in." in said


def drawn_once(html: str) -> str:
    """A page without what is new in every drawing of it: the token, the key of its press, the second."""
    return re.sub(r'(name="(?:csrfmiddlewaretoken|key)" value|data-rendered)="[^"]*"', r"\1", " ".join(html.split()))


def test_looks_for_a_phone_to_keep_are_the_pages_themselves(owner: Client, garden: Any, batch: Batch) -> None:
    other, foreign = take(WantFactory(garden=garden), on=TODAY), take(WantFactory(), on=TODAY)
    asked = f"{batch.pk},{other.pk},{foreign.pk},0,-1,{'9' * 30},no,"
    answer = owner.get(at("round-looks", garden), {"of": asked})
    kept = answer.json()["looks"]
    assert list(kept) == [at("round-look", garden, one.pk) for one in (batch, other)]
    for one in (batch, other):
        own = page(owner, "round-look", garden, one.pk)
        assert drawn_once(kept[at("round-look", garden, one.pk)]) == drawn_once(own)
    assert answer["Content-Security-Policy"] == owner.get(at("round-look", garden, batch.pk))["Content-Security-Policy"]
    assert owner.get(at("round-looks", garden)).json()["looks"] == {}


def test_no_more_than_a_handful_of_looks_in_one_answer(owner: Client, garden: Any) -> None:
    rows = [take(WantFactory(garden=garden), on=TODAY) for _ in range(7)]
    answer = owner.get(at("round-looks", garden), {"of": ",".join(str(row.pk) for row in rows)})
    assert list(answer.json()["looks"]) == [at("round-look", garden, row.pk) for row in rows[:6]]


def test_what_was_said_waits_for_a_page_that_is_read(owner: Client, garden: Any, batch: Batch) -> None:
    """Looks fetched to be kept do not take what the next page is to say; nor do they say it."""
    look(owner, batch, well="1")
    kept = owner.get(at("round-looks", garden), {"of": str(batch.pk)}, headers={"X-Elder-Keep": "1"}).json()["looks"]
    assert "Written down for" not in kept[at("round-look", garden, batch.pk)]
    assert "Written down for" in page(owner, "round", garden)
