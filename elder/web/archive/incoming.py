"""Archives that were sent in and not yet accepted: files in a folder of their own, one for each person, for a day."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import timedelta
from pathlib import Path
from typing import Final

from django.conf import settings
from django.utils import timezone

from elder.web.archive.models import ArchiveDraft
from elder.web.garden.models import Household, Person

KEPT_FOR: Final = timedelta(days=1)


def file_of(draft: ArchiveDraft) -> Path:
    """Where a draft lies."""
    return Path(settings.INCOMING) / f"{draft.key}.zip"


def keep(person: Person, into: Household, name: str, parts: Iterable[bytes]) -> ArchiveDraft:
    """Keep a file as sent; a second takes the first's place. Raises ``OSError`` where there is no room."""
    let_go(ArchiveDraft.objects.filter(person=person))
    let_go(ArchiveDraft.objects.filter(made_at__lt=timezone.now() - KEPT_FOR))
    draft = ArchiveDraft(person=person, into=into, name=name[:120], key=uuid.uuid4())
    path = file_of(draft)
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    try:
        with path.open("xb") as file:
            for part in parts:
                file.write(part)
        draft.save()
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return draft


def let_go(drafts: Iterable[ArchiveDraft]) -> None:
    """Throw drafts away, each with its file."""
    for draft in drafts:
        file_of(draft).unlink(missing_ok=True)
        draft.delete()
