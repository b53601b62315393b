"""A "no" that a person can cause is a value, not an exception."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any, Literal

RefusalCode = Literal[
    # a want
    "by_past", "by_too_far", "gate_not_open", "gate_shut", "needs_ground", "never_ready", "no_window", "no_winter",
    "not_even_one", "only_early", "rarely_a_plant", "no_want", "stands_in_no_pot", "too_cold", "too_cold_to_keep",
    "too_hot", "too_late", "too_many",
    # a history
    "already_struck", "before_taken", "cannot_strike_taken", "changed_since", "count_not_positive", "future",
    "more_than_there", "none_left_to_keep", "not_taken", "nothing_planted", "nothing_potted", "sent_elsewhere",
    "taken_back", "taken_twice",
    # a windfall
    "no_place", "not_struck", "not_this_piece", "too_short",
    # hormone
    "cannot_strengthen", "more_than_all", "not_positive",
    # a file
    "no_days", "no_readings", "no_time_and_temperature", "not_json",
    "not_so_many",
    "plant_file_too_long",
    "not_a_plant_file",
    "newer_plant_file",
    "plant_file_fault",
    "alone_in_it", "invitation_over", "only_owner",
    "notes_no_lines", "notes_too_many",
    "archive_fault", "archive_too_long", "newer_archive", "not_an_archive",
    "name_taken", "not_understood", "too_few", "too_long",
    "too_many_readings",
    # a climate table
    "months_crossed", "no_months",
]  # fmt: skip


@dataclass(frozen=True)
class Refusal:
    """Why something cannot be had, as data.

    ``code`` names the reason, ``field`` the input it belongs to (or ``""``), and ``params`` holds
    what a sentence about it needs. The web layer turns it into words.
    """

    code: RefusalCode
    field: str = ""
    params: dict[str, Any] = dataclasses.field(default_factory=dict)
