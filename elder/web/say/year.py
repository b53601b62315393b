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
    if task.kind in MOVING:
        return _moving_words(task, today, units)
    if task.kind == "hand":
        return f"Hand over {task.count}", f"{name}, for {task.detail}"
    if task.kind == "short":
        by = f", promised for {about(task.last, today)}" if task.last else ""
        return f"{task.count} short for {task.detail}", f"{name}{by}: say so, or cut more"
    litres = shown_volume(float(task.detail), units)
    return "Into a bigger pot", f"{name}: {litres}. Soak it first"


MOVING: Final = frozenset({"settle", "dig", "move", "water", "daily"})


def _moving_words(task: YearTask, today: date, units: str) -> tuple[str, str]:
    """What a move asks for, before it and after."""
    if task.kind == "settle":
        return "Settle the sale in writing", "what is planted may belong to the house; before anything is dug"
    if task.kind == "dig":
        by = f", by {about(task.last, today)}" if task.last else ""
        return f"Dig {task.plant}", f"after rain{by}; a third of the foliage off, roots cut clean"
    if task.kind == "move":
        return "Move house", f"to {task.detail}: heavy pots low and in front" if task.detail else "heavy pots low"
    if task.kind == "water":
        litres = shown_volume(float(task.detail), units)
        return f"Water {task.plant} deeply", f"{litres}, slowly, over the whole ball"
    many = "one ball that stands" if task.count == 1 else f"{task.count} balls that stand"
    return "Look at what came along", f"{many} in a pot yet: water what is dry a finger deep"
