"""A garden of ten years written out as an archive, looked over and read back, beside its rows as Django's own JSON."""

from __future__ import annotations

import io
import json
import resource
import sys
from datetime import date

from bench.made_garden import LARGE, make_garden
from bench.table import Line, timed

TODAY = date(2027, 4, 6)


def lines() -> list[Line]:
    """Out, looked over, in; the aim is fifteen seconds and 300 MB for each."""
    from django.core import serializers

    from elder.web.archive.reading import look_over
    from elder.web.archive.taking_in import take_in
    from elder.web.archive.writing import write_archive
    from elder.web.batches.models import Entry

    garden = make_garden(LARGE, today=TODAY)
    out = io.BytesIO()
    out_s, counts = timed(lambda: write_archive(garden, io.BytesIO(), today=TODAY), 1)
    write_archive(garden, out, today=TODAY)
    look_s, looked = timed(lambda: look_over(out), 1)
    in_s, _ = timed(lambda: take_in(looked, out, garden.household), 1)
    rows = Entry.objects.filter(batch__garden=garden)
    told_s, told = timed(lambda: serializers.serialize("json", rows), 1)
    read_s, _ = timed(lambda: json.loads(told), 1)
    write_s, _ = timed(lambda: [one.object.key for one in serializers.deserialize("json", told)], 1)
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // (1 if sys.platform == "darwin" else 1000)
    note = f"{sum(counts.values()):,} rows, {len(out.getvalue()) / 1e6:.1f} MB"
    return [
        Line("archive", "ten years written out", out_s, "the entries by Django's serializer", told_s, note),
        Line("archive", "looked over", look_s, "the entries' JSON parsed", read_s),
        Line("archive", "written down as a new garden", in_s, "the entries by Django's deserializer, unsaved", write_s,
             f"{most} MB at most in the whole run"),
    ]  # fmt: skip
