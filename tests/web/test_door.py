"""Accounts, sign-in, the garden's own forms, security headers, error pages, the demo."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from demo.loader import load
from elder.web.batches.models import Batch
from elder.web.garden.clock import today_in
from elder.web.garden.door import client_address, first_code, say_first_code
from elder.web.garden.models import Garden, Household, Membership, Person, Place
from tests.factories import PASSWORD, GardenFactory, PersonFactory, WantFactory, member


def test_an_empty_elder_asks_for_its_first_account(db: None, client: Client) -> None:
    assert client.get(reverse("sign-in")).url == reverse("first-account")  # type: ignore[attr-defined]
    data = {"username": "marrow", "password1": PASSWORD, "password2": PASSWORD, "code": "wrong"}
    page = client.post(reverse("first-account"), data).content.decode()
    assert "That is not the code." in page
    assert 'value="marrow"' in page
    assert not Person.objects.exists()
    answer = client.post(reverse("first-account"), data | {"code": first_code().lower().replace("-", " ")})
    assert answer.url == reverse("garden-new")  # type: ignore[attr-defined]
    assert Membership.objects.get().role == "owner"
    assert Client().get(reverse("first-account")).status_code == 404


def test_the_first_code_is_printed_where_elder_runs(db: None, client: Client, caplog: Any, settings: Any) -> None:
    say_first_code.cache_clear()
    code = first_code()
    assert code not in client.get(reverse("first-account")).content.decode()
    client.get(reverse("first-account"))
    assert [said.getMessage() for said in caplog.records] == [f"The first account asks for this code: {code}"]
    settings.SECRET_KEY = "another machine"
    assert first_code() != code


def test_a_poor_password_is_refused_with_the_name_kept(db: None, client: Client) -> None:
    page = client.post(reverse("first-account"), {"username": "marrow", "password1": "short", "password2": "short"})
    assert page.status_code == 200
    assert 'value="marrow"' in page.content.decode()


def test_places(owner: Client, garden: Any) -> None:
    new = reverse("place-new", args=[garden.pk])
    data = {"name": "Cold frame", "standing": "air", "lift_day_c": "5", "lift_night_c": "1.5"}
    assert owner.post(new, data).status_code == 302
    assert owner.post(new, data).status_code == 200  # the name is taken
    assert owner.post(new, {"name": "Landing", "standing": "room", "day_c": "", "night_c": ""}).status_code == 200
    frame = Place.objects.get(name="Cold frame")
    page = owner.get(reverse("places", args=[garden.pk])).content.decode()
    assert "Cold frame" in page
    assert " days" in page
    assert owner.post(reverse("place-edit", args=[garden.pk, frame.pk]), {"remove": "1"}).status_code == 302
    sill = garden.places.get()
    WantFactory(garden=garden, rooting_place=sill)
    kept = owner.post(reverse("place-edit", args=[garden.pk, sill.pk]), {"remove": "1"})
    assert "so it stays" in kept.content.decode()


def test_letting_someone_in(owner: Client, garden: Any) -> None:
    data = {"username": "nettle", "password1": PASSWORD, "password2": PASSWORD, "role": "helper"}
    owner.post(reverse("person-new", args=[garden.pk]), data)
    assert Membership.objects.get(person__username="nettle").role == "helper"
    helper = Client()
    helper.post(reverse("sign-in"), {"username": "nettle", "password": PASSWORD})
    page = helper.get(reverse("season", args=[garden.pk])).content.decode()
    assert "Want plants" not in page


def test_parts_change_but_somebody_always_owns(owner: Client, garden: Any) -> None:
    helper = Membership.objects.get(household=garden.household, person=member(garden, "helper"))
    owning = Membership.objects.get(household=garden.household, role="owner")
    owner.post(reverse("person-part", args=[garden.pk, helper.pk]), {"role": "viewer"})
    assert Membership.objects.get(pk=helper.pk).role == "viewer"
    answer = owner.post(reverse("person-part", args=[garden.pk, owning.pk]), {"out": "1"}, follow=True)
    assert "Somebody must own the household" in answer.content.decode()
    owner.post(reverse("person-part", args=[garden.pk, helper.pk]), {"out": "1"})
    assert list(Membership.objects.values_list("role", flat=True)) == ["owner"]
    assert owner.post(reverse("person-part", args=[garden.pk, owning.pk]), {"role": "king"}).status_code == 404


def test_another_password(owner: Client) -> None:
    new = "another-long-made-up-word"
    data = {"old_password": PASSWORD, "new_password1": new, "new_password2": new}
    assert "The new password holds" in owner.post(reverse("password"), data, follow=True).content.decode()
    assert Person.objects.get().check_password(new)


def test_habits(owner: Client) -> None:
    owner.post(reverse("habits"), {"units": "us", "theme": "dark"})
    assert 'data-bs-theme="dark"' in owner.get(reverse("habits")).content.decode()


def test_six_wrong_passwords_shut_the_door(db: None, client: Client) -> None:
    person: Any = PersonFactory()
    for _ in range(6):
        client.post(reverse("sign-in"), {"username": person.username, "password": "wrong"})
    answer = client.post(reverse("sign-in"), {"username": person.username, "password": PASSWORD})
    assert answer.status_code == 429
    assert "Shut for a quarter of an hour" in answer.content.decode()


def test_a_form_without_its_token_is_turned_away_kindly(garden: Any) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    answer = client.post(
        reverse("want-new", args=[garden.pk]), {"plant": "mint"}, headers={"referer": "http://elsewhere.example/"}
    )
    assert answer.status_code == 403
    assert "That form had grown old" in answer.content.decode()
    assert "elsewhere.example" not in answer.content.decode()


def test_headers_are_strict(owner: Client, garden: Any) -> None:
    headers = owner.get(reverse("season", args=[garden.pk])).headers
    policy = headers["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "default-src 'none'" in policy
    assert "frame-ancestors 'none'" in policy
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Referrer-Policy"] == "same-origin"


def test_error_pages_are_elders_own(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    assert "Nothing grows here" in owner.get("/nowhere/").content.decode()
    monkeypatch.setattr("elder.web.season.season_page.reckon_all", lambda *_: 1 / 0)
    owner.raise_request_exception = False
    answer = owner.get(reverse("season", args=[garden.pk]))
    assert answer.status_code == 500
    assert "Something broke" in answer.content.decode()


def test_today_is_the_gardens_own(db: None, settings: Any) -> None:
    garden: Any = GardenFactory(household__demo_day=date(2027, 4, 6))
    assert today_in(garden) != date(2027, 4, 6)
    settings.DEMO = True
    assert today_in(garden) == date(2027, 4, 6)


@pytest.fixture
def demo(db: None, settings: Any) -> None:
    settings.DEMO = True
    load()


@pytest.fixture
def bare_demo(db: None, settings: Any) -> None:
    """A demo with nothing in it but its gardener: enough for its door and its clock."""
    settings.DEMO = True
    garden: Any = GardenFactory(household__demo_day=date(2027, 4, 6))
    garden.household.memberships.create(person=PersonFactory(username="gardener"), role="owner")


def test_the_demo_is_one_press_away_on_the_loopback_only(bare_demo: None, client: Client) -> None:
    assert "Walk into the demo garden" in client.get(reverse("sign-in")).content.decode()
    away = Client(REMOTE_ADDR="192.0.2.7")
    assert "Walk into" not in away.get(reverse("sign-in")).content.decode()
    assert away.post(reverse("demo-enter")).status_code == 404
    assert client.post(reverse("demo-enter")).url == reverse("home")  # type: ignore[attr-defined]


def test_no_demo_outside_the_demo(db: None, client: Client) -> None:
    member(GardenFactory(household__demo_day=date(2027, 4, 6)))
    assert "Walk into" not in client.get(reverse("sign-in")).content.decode()
    assert client.post(reverse("demo-enter")).status_code == 404


def test_the_demo_loads_once_and_afresh(demo: None) -> None:
    assert load() is False
    assert load(afresh=True) is True
    assert Household.objects.count() == 1
    assert sorted(Garden.objects.values_list("name", flat=True)) == [
        "Harrow Stair", "Kiln Corner, next door", "Marram Yard", "Mere Lane, from October",
    ]  # fmt: skip
    assert Batch.objects.count() == 55  # ten of this year, two past seasons, and the arms of two trials


def test_the_demos_clock_runs_forward_only(bare_demo: None, client: Client) -> None:
    client.post(reverse("demo-enter"))
    client.post(reverse("demo-clock"), {"step": "week"})
    assert Household.objects.get().demo_day == date(2027, 4, 13)
    for year in (2027, 2028):  # to the next list before winter, each time
        client.post(reverse("demo-clock"), {"step": "autumn"})
        assert Household.objects.get().demo_day == date(year, 9, 20)
    assert client.post(reverse("demo-clock"), {"step": "back"}).status_code == 404


# The demo's own day, the gate just open, midsummer, both days the clocks go over, the ends of a month and of a year,
# winter's rest, a leap day: no two alike.
def test_the_words_on_the_screen_are_explained(demo: None, client: Client) -> None:
    client.post(reverse("demo-enter"))
    garden = Garden.objects.get(name="Harrow Stair")
    season = client.get(reverse("season", args=[garden.pk])).content.decode()
    assert f'href="{reverse("words", args=[garden.pk])}">What these words mean</a>' in season
    html = client.get(reverse("words", args=[garden.pk])).content.decode()
    for anchor in ("gate", "take", "strike", "on-course"):
        assert f'<div id="{anchor}"><dt>' in html
    assert "Tight falls short of it by up to three chances in twenty, short by more." in html


# Who knocks


def _from(address: str, forwarded: str = "") -> dict[str, str]:
    return {"REMOTE_ADDR": address, **({"HTTP_X_FORWARDED_FOR": forwarded} if forwarded else {})}


@pytest.mark.parametrize(
    ("proxies", "forwarded", "expected"),
    [
        (0, "", "10.0.0.9"),
        (0, "8.8.8.8", "10.0.0.9"),  # nobody's word is taken
        (1, "8.8.8.8", "8.8.8.8"),
        (1, "6.6.6.6, 8.8.8.8", "8.8.8.8"),  # what stands before it anybody may have written
        (2, "6.6.6.6, 8.8.8.8, 10.0.0.2", "8.8.8.8"),
        (3, "8.8.8.8", "8.8.8.8"),
        (1, "", "10.0.0.9"),
    ],
)
def test_whose_address_it_is(rf: Any, settings: Any, proxies: int, forwarded: str, expected: str) -> None:
    settings.TRUSTED_PROXIES = proxies
    assert client_address(rf.get("/", **_from("10.0.0.9", forwarded))) == expected


def test_six_wrong_passwords_behind_a_proxy_lock_their_own_address_alone(
    db: None, client: Client, settings: Any
) -> None:
    settings.TRUSTED_PROXIES = 1
    person = PersonFactory(username="grower")
    person.set_password("moss and slate 9")
    person.save()
    wrong, right = ({"username": "grower", "password": word} for word in ("guess", "moss and slate 9"))
    for _ in range(7):
        client.post("/sign-in/", wrong, **_from("10.0.0.9", "6.6.6.6"))
    assert client.post("/sign-in/", right, **_from("10.0.0.9", "6.6.6.6")).status_code == 429
    assert client.post("/sign-in/", right, **_from("10.0.0.9", "8.8.8.8")).status_code == 302


def test_an_address_that_tries_many_names_rests(db: None, client: Client) -> None:
    person = PersonFactory(username="grower")
    person.set_password("moss and slate 9")
    person.save()
    right = {"username": "grower", "password": "moss and slate 9"}
    for i in range(20):
        assert (
            client.post("/sign-in/", {"username": f"name{i}", "password": "guess"}, **_from("6.6.6.6")).status_code
            == 200
        )
    assert client.post("/sign-in/", right, **_from("6.6.6.6")).status_code == 429
    assert client.post("/sign-in/", right, **_from("7.7.7.7")).status_code == 302


@pytest.mark.parametrize("header", ["HTTP_X_FORWARDED_FOR", "HTTP_FORWARDED", "HTTP_VIA", "HTTP_X_REAL_IP"])
def test_the_demos_press_is_off_behind_anything(bare_demo: None, client: Client, header: str) -> None:
    assert client.post(reverse("demo-enter"), **{header: "1.2.3.4"}).status_code == 404
    assert client.post(reverse("demo-enter")).status_code == 302


def test_what_is_not_understood_has_a_page(db: None) -> None:
    answer = Client(raise_request_exception=False).get("/sign-in/", headers={"host": "bad host"})
    assert answer.status_code == 400
    assert "That was not understood" in answer.content.decode()
