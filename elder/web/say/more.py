"""How long more cuttings help, in words."""

from __future__ import annotations

from datetime import date

from elder.engine.batch.remedies import TopUp
from elder.web.say.words import about


def does_until(more: TopUp, today: date) -> str:
    """Until when so many more are enough, and how many until when at the most."""
    they = "it is" if more.count == 1 else "they are"
    lasts, until = about(more.lasts, today), about(more.until, today)
    if more.lasts == more.until:
        return "later is too late" if more.until == more.day else f"{they} enough until {until}"
    if more.lasts == more.day:
        return f"later it takes more: {more.most} are enough until {until}"
    return f"{they} enough until {lasts}, {more.most} until {until}"
