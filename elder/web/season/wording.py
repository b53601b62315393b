"""Sentences of today's list."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.engine.round.milestones import Task
from elder.web.read.batches import BatchToday
from elder.web.say.plants import plant_words
from elder.web.say.routes import move_words


@dataclass(frozen=True)
class Due:
    """One line of today's list."""

    when: str
    now: bool
    deed: str
    about: str
    url: str
    due: date
    pressing: int

    @property
    def order(self) -> tuple[object, ...]:
        """What is due now first, the costliest to leave in front; then the week in its order."""
        return (0, self.pressing, self.due) if self.now else (1, self.due, self.pressing)


# In the order in which waiting costs most: a day lost before the cut cannot be bought back.
DEEDS = {
    "cut": "Cut",
    "prepare": "Ready the branch",
    "pot_on": "Pot on",
    "plant_out": "Plant out",
    "harden": "Start hardening",
    "first_look": "First look",
    "next_look": "Look again",
    "give_up": "Go on or give up",
    "lift": "Lift and pot",
    "harvest": "Look for a first harvest",
}


MOVED = frozenset(("pot_on", "plant_out", "harden", "lift"))  # done to what is ready for it
PRESSING = {verb: i for i, verb in enumerate((*DEEDS, "year"))}


def task_words(task: Task, batch: BatchToday) -> tuple[str, str]:
    """A task as a deed and what it is about; of one whose day has gone by, what is worth doing now."""
    plant = plant_words(batch.plant.name, batch.row.variety)
    late = task.due < batch.today
    counted = {
        "first_look": f"{task.count} waiting, {'more than 1 in 10' if late else '1 in 10'} likely rooted",
        "next_look": f"{task.count} waiting, {'more than another tenth' if late else 'another tenth'} likely rooted",
        "give_up": f"{task.count} still waiting, with little hope left",
        "pot_on": f"{task.count} rooted: {batch.method.ready_sign}",
        "harden": f"{task.count} for {batch.method.harden_days} days",
        "plant_out": f"{task.count} hardened",
        "harvest": f"{task.count} in the ground",
        "lift": f"{task.count} at rest in their row",
    }
    deed = move_words("pot-on", batch.method.route) if task.verb == "pot_on" else DEEDS[task.verb]
    return deed, f"{plant} · {counted[task.verb]}"
