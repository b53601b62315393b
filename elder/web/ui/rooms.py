"""The rooms of Elder in the order of the work: what to do now, what is planned, what is cut from, where things stand,
what came of it. The rail, the phone's *More* and the search all go by this list."""

from __future__ import annotations

from typing import Final, NamedTuple


class Room(NamedTuple):
    """A room: its key, its name, the name of its address, the letter that goes there, and the question it answers.
    ``thumb``: one of the few a phone's bar has."""

    key: str
    name: str
    url: str
    letter: str
    what: str
    thumb: bool = False


class RoomGroup(NamedTuple):
    """Rooms of one part of the work."""

    name: str
    rooms: tuple[Room, ...]


GROUPS: Final = (
    RoomGroup("Now", (
        Room("rounds", "Rounds", "round", "r", "what needs a look or a hand now, in the order you walk", thumb=True),
        Room("cut", "Cut", "cut", "c", "at the bench: from which plant, how many, how treated", thumb=True),
    )),
    RoomGroup("Planned", (
        Room("season", "Season", "season", "s", "am I on course, and what do I cut next", thumb=True),
        Room("year", "Year", "year", "y", "multiply, winter, long crops, passing on, moving house"),
    )),
    RoomGroup("Cut from", (
        Room("stock", "Stock", "stock", "t", "your mother plants, their families, what each can give"),
        Room("plants", "Plants", "plants", "l", "the handbook: which plants, by which ways, when"),
    )),
    RoomGroup("Standing", (
        Room("batches", "Batches", "batches", "b", "every batch that lives, and those that are over", thumb=True),
        Room("places", "Places", "places", "p", "where cuttings stand: warmth, sun, air, room left"),
        Room("shed", "Shed", "shed", "d", "mixes, pots, labels, hormone, what to buy"),
    )),
    RoomGroup("Came of it", (
        Room("record", "Record", "record", "e", "your take, your days, trials, and whether Elder was right"),
        Room("almanac", "Almanac", "almanac", "a", "the garden’s year: warmth, light, frost"),
        Room("garden", "Garden", "garden", "g", "where it lies, and who gardens here"),
    )),
)  # fmt: skip

THUMBS: Final = frozenset(room.key for group in GROUPS for room in group.rooms if room.thumb)
