"""Send the morning letters that are due. Run it by a timer, every quarter of an hour: each goes once a day."""

from __future__ import annotations

from smtplib import SMTPException

from django.core.management.base import BaseCommand
from django.utils import timezone

from elder.web.rounds.letter import is_due, send_letter
from elder.web.rounds.models import Reminders
from elder.web.say.words import plural


class Command(BaseCommand):
    """``manage.py send_letters``."""

    help = "Send the morning letters that are due. Run by a timer; each goes once a day."

    def handle(self, **options: object) -> None:
        """Send each; one that fails is said and tried again next time, and keeps no other from going."""
        sent, now = 0, timezone.now()
        for row in Reminders.objects.filter(letter=True).select_related("person"):
            if not is_due(row, now):
                continue
            try:
                send_letter(row)
            except (OSError, SMTPException) as error:
                self.stderr.write(f"The letter to {row.person.username} did not go: {error}")
            else:
                sent += 1
        self.stdout.write(f"{plural(sent, 'letter', 'letters')} sent.")
