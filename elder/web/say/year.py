"""What the year asks for, in words."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.year.winter import WinterWay
from elder.web.read.year_tasks import YearTask
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_volume
from elder.web.say.winter import DEEDS
from elder.web.say.words import about, plural

LOOK: Final = "Look through what winters"


def year_task_words(task: YearTask, today: date, units: str) -> tuple[str, str]:
    """A task as a deed and what it is about."""
    name = plant_words(task.plant, task.variety)
    if task.kind == "lot":
        waits = f"; it may wait until {about(task.last, today)}" if task.last and task.last > task.due else ""
        return f"Cut {task.count} {task.detail}", f"{name}, which is multiplied{waits}"
    if task.kind == "winter":
        many = f"{task.count} × {name}" if task.count > 1 else name
        late = task.last is not None and task.last < today
        by = f"by {about(task.last, today)}" if task.last else ""
        return DEEDS[WinterWay(task.detail)], f"{many}, {'its day has gone by' if late else by}"
    if task.kind == "look":
        where = f" at {task.detail}" if task.detail else ""
        return LOOK, f"{name}{where}: under the leaves, and water only what is dry"
    if task.kind == "mild":
        return "Out for the day", f"{name}: it is mild; in again before dusk"
    if task.kind == "count":
        return "Count what lived", f"{name}, {plural(task.count, 'plant', 'plants')} by the last look"
    if task.kind == "hand":
        return f"Hand over {task.count}", f"{name}, for {task.detail}"
    if task.kind == "short":
        by = f", promised for {about(task.last, today)}" if task.last else ""
        return f"{task.count} short for {task.detail}", f"{name}{by}: say so, or cut more"
    litres = shown_volume(float(task.detail), units)
    return "Into a bigger pot", f"{name}: {litres}. Soak it first"
