"""What a garden's archive holds and what it does not, each with its reason: the one list that writing, reading and the
published schema go by. A model, or a column, that is neither here nor there fails a test."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Final

from django.apps import apps
from django.db.models import Model
from django.db.models.fields import Field

Said = Any  # a value as JSON has it: whether it is one that can be is what the published schema says
Row = dict[str, Said]
if TYPE_CHECKING:
    DjangoField = Field[Said, Said]
else:
    DjangoField = Field

FORM: Final = 1  # the number of the form; what reads an older one is in ``upgrades``
NAMED: Final = "elder garden"


@dataclass(frozen=True, eq=False)
class Archived:
    """A table of the archive. ``within``: how its rows are asked for by their garden. ``left_out``: columns that do not
    come along, each with the reason. ``later``: references to tables that come after it. ``file``: what beside each row
    lies in the archive as a file of its own."""

    name: str
    label: str
    within: str = "garden"
    left_out: Mapping[str, str] = field(default_factory=dict)
    later: tuple[str, ...] = ()
    most: int = 20_000

    @property
    def model(self) -> type[Model]:
        """Whose rows they are."""
        return apps.get_model(self.label)

    @property
    def path(self) -> str:
        """Where it lies in the archive."""
        return f"tables/{self.name}.json"


# Columns that come along nowhere.
EVERYWHERE: Final = {
    "id": "its number in the archive stands for it",
    "garden": "the archive is the garden",
    "key": "told one press of a button from two; the new row has its own",
    "by": "who did what stays with the accounts of the installation",
    "made_by": "who did what stays with the accounts of the installation",
    "added_by": "who did what stays with the accounts of the installation",
    "added_at": "when a file was sent in tells nothing of the garden",
}
MEASURED: Final = dict.fromkeys(
    ("data", "days", "first_day", "last_day"), "follows from the readings, which lie beside it as CSV"
)
PICTURE: Final = {"data": "lies beside it as a JPEG"}
FAR: Final = "belongs to the other garden, whose archive is its own"

TABLES: Final = (
    Archived("garden", "garden.Garden", "pk", {
        "household": "it is read into the household of whoever reads it",
        "came_from": FAR,
        "records_digest": "follows from the readings",
        "stamp": "tells what is kept of this garden here",
    }, most=1),
    Archived("own_plants", "plants.OwnPlant", left_out={"slug": "“own-” and its number stand for it"}, most=2_000),
    Archived("places", "garden.Place", left_out={"readings_digest": "follows from the readings"}, most=2_000),
    Archived("records", "garden.Records", left_out=MEASURED, most=1),
    Archived("readings", "garden.PlaceReadings", "place__garden", MEASURED, most=2_000),
    Archived("mothers", "stock.StockPlant", later=("raised_from",)),
    Archived("heritages", "stock.Heritage", "stock__garden"),
    Archived("mother_looks", "stock.StockLook", "mother__garden", most=200_000),
    Archived("mother_photos", "stock.StockPhoto", "look__mother__garden", PICTURE),
    Archived("variety_answers", "stock.VarietyAnswer"),
    Archived("wants", "season.Want"),
    Archived("batches", "batches.Batch"),
    Archived("entries", "batches.Entry", "batch__garden", most=250_000),
    Archived("photos", "batches.Photo", "batch__garden", PICTURE),
    Archived("supplies", "shed.Supply"),
    Archived("shed_entries", "shed.ShedEntry", most=100_000),
    Archived("mix_orders", "shed.MixOrder"),
    Archived("prices", "record.PlantPrice"),
    Archived("trials", "record.Trial"),
    Archived("trial_arms", "record.TrialArm", "trial__garden"),
    Archived("lines", "year.Multiplying"),
    Archived("line_lots", "year.LineLot", "line__garden"),
    Archived("wintered", "year.Wintered"),
    Archived("winter_checks", "year.WinterCheck", "wintered__garden"),
    Archived("pots", "year.PotUp", "stock__garden"),
    Archived("promises", "passing.Promise", left_out={"slip_key": "opens a slip without signing in: it is drawn anew"}),
    Archived("handings", "passing.Handing", "promise__garden"),
    Archived("moves", "moving.HouseMove", left_out={"to": FAR}),
    Archived("moved_plants", "moving.MovedPlant", "move__garden", {"stock": FAR, "batch": FAR, "planted_at": FAR}),
    Archived("waterings", "moving.Watering", "plant__move__garden"),
)  # fmt: skip

BY_LABEL: Final = {table.label: table for table in TABLES}

ACCOUNTS: Final = "accounts belong to the people and the installation, not to a garden"
PASSING: Final = "holds for a while only"
# Models whose rows are not in an archive, each with the reason.
NOT_ARCHIVED: Final = {
    "garden.Person": ACCOUNTS,
    "garden.Person_groups": ACCOUNTS,
    "garden.Person_user_permissions": ACCOUNTS,
    "garden.Household": ACCOUNTS,
    "garden.Membership": ACCOUNTS,
    "garden.Invitation": ACCOUNTS,
    "garden.RecordsDraft": "a file that was sent in and not yet accepted",
    "archive.ArchiveDraft": "a file that was sent in and not yet accepted",
    "batches.WithdrawnPress": PASSING,
    "batches.Batch_also_for": "stands with each batch",
    "year.Multiplying_mothers": "stands with each line",
    "cut.TrayLabel": "a label that was printed; it can be printed again",
    "rounds.CalendarFeed": ACCOUNTS,
    "rounds.Reminders": ACCOUNTS,
    "rounds.ToldEvent": "what a calendar was told last; it is told anew",
    "auth.Permission": ACCOUNTS,
    "auth.Group": ACCOUNTS,
    "auth.Group_permissions": ACCOUNTS,
    "contenttypes.ContentType": "Django's own list of tables",
    "sessions.Session": ACCOUNTS,
    "axes.AccessAttempt": PASSING,
    "axes.AccessAttemptExpiration": PASSING,
    "axes.AccessLog": PASSING,
    "axes.AccessFailureLog": PASSING,
}

# What lies inside a JSON column and does not come along, since it names rows of another garden.
FAR_WITHIN: Final = {("batches.Batch", "plan"): ("carried_from",), ("stock.Heritage", "told"): ("stock",)}
