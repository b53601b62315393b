"""What a person does to households and gardens: one function a verb."""

from __future__ import annotations

import zlib
from datetime import timedelta

from django.db import transaction

from elder.engine.climate.records import NORMAL_YEARS, DailyRecords, monthly_means
from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile, read_daily, text_of, to_bytes
from elder.web.formats.reading import ReadOptions
from elder.web.garden.models import Garden, Household, Membership, Person, Place, Records, RecordsDraft


@transaction.atomic
def open_house(person: Person, name: str) -> Household:
    """The first account's household, with that person as its owner."""
    household = Household.objects.create(name=name)
    Membership.objects.create(household=household, person=person, role=Membership.Role.OWNER)
    return household


@transaction.atomic
def add_garden(garden: Garden, household: Household) -> Garden:
    """A new garden with two places to begin with, so that a want can be answered at once."""
    garden.household = household
    garden.save()
    Place.objects.create(garden=garden, name="Kitchen sill", standing=Place.Standing.ROOM, day_c=20, night_c=17)
    Place.objects.create(garden=garden, name="Pots outdoors", standing=Place.Standing.AIR, lift_day_c=0, lift_night_c=0)
    return garden


@transaction.atomic
def welcome(person: Person, household: Household, role: str) -> Membership:
    """Let someone into a household."""
    return Membership.objects.create(household=household, person=person, role=role)


@transaction.atomic
def change_part(membership: Membership, role: str | None) -> bool:
    """Give someone another role, or (None) see them out. False where nobody would own the household then."""
    others = Membership.objects.filter(household=membership.household, role=Membership.Role.OWNER).exclude(
        pk=membership.pk
    )
    if role != Membership.Role.OWNER and not others.exists():
        return False
    if role is None:
        membership.delete()
    else:
        membership.role = role
        membership.save(update_fields=["role"])
    return True


def move_clock(household: Household, days: int) -> None:
    """Move the demo's day forward. Raises ValueError for a step back or a household with no clock."""
    if household.demo_day is None or days < 1:
        raise ValueError("the demo's clock only runs forward")
    household.demo_day += timedelta(days=days)
    household.save(update_fields=["demo_day"])


MOST_BYTES = 24_000_000  # of a file as sent: ninety years of every element of a station are about four


def keep_draft(garden: Garden, person: Person, name: str, data: bytes) -> RecordsDraft:
    """Keep a file as sent, for its preview. It touches nothing else; a second file takes the first's place."""
    draft, _ = RecordsDraft.objects.update_or_create(
        garden=garden, person=person, defaults={"name": name[:120], "data": zlib.compress(data, 6), "options": {}}
    )
    return draft


def read_draft(draft: RecordsDraft) -> ReadFile | Refusal:
    """What the file in a draft says, under the options chosen so far."""
    return read_daily(text_of(zlib.decompress(draft.data)), ReadOptions(**draft.options))


def counted_from(records: DailyRecords, *, whole: bool) -> int:
    """The year from which frosts and normals are counted: all of them, or the last thirty."""
    return records.first.year if whole else max(records.first.year, records.last.year - NORMAL_YEARS + 1)


@transaction.atomic
def accept_draft(draft: RecordsDraft, garden: Garden, person: Person, *, whole: bool) -> Records | Refusal:
    """Make a previewed file the garden's records, and the garden's monthly means theirs."""
    read = read_draft(draft)
    if isinstance(read, Refusal):
        return read
    kept = keep_records(garden, read.records, source=draft.name, person=person, whole=whole)
    if isinstance(kept, Records):
        draft.delete()
    return kept


@transaction.atomic
def keep_records(
    garden: Garden, records: DailyRecords, *, source: str, person: Person | None, whole: bool
) -> Records | Refusal:
    """Write records down. Refused where they are too few to say what a month is like."""
    year = counted_from(records, whole=whole)
    means = monthly_means(records.since(year))
    if means is None:
        return Refusal("too_few", "file", {"days": len(records), "years": records.years})
    values: dict[str, object] = {
        "data": zlib.compress(b"".join(to_bytes(records)), 6),
        "days": len(records),
        "first_day": records.first,
        "last_day": records.last,
        "counted_from": year,
        "source": source[:120],
        "added_by": person,
    }
    row, _ = Records.objects.update_or_create(garden=garden, defaults=values)
    garden.t_min, garden.t_max = (list(part) for part in means)
    garden.records_digest, garden.months_guessed = records.since(year).digest, False
    garden.save(update_fields=["t_min", "t_max", "records_digest", "months_guessed"])
    return row


@transaction.atomic
def forget_records(garden: Garden) -> None:
    """Go back to frost dates by hand; the monthly means stay as they were derived."""
    Records.objects.filter(garden=garden).delete()
    garden.records_digest = ""
    garden.save(update_fields=["records_digest"])
