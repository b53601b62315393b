"""Every way of every plant: the hand, the sheet, the round, the carrying and the potting say the same depth, the same
count and the same container, and what comes after the roots is what its route does."""

from __future__ import annotations

from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest

from elder.engine.batch.history import replay
from elder.engine.batch.state import BatchState, Entry
from elder.engine.cut.standing import sticking
from elder.engine.handbook.loading import handbook
from elder.engine.plan.material import PIECES, Material
from elder.engine.round.loads import loads, stands
from elder.engine.round.milestones import Task
from elder.engine.round.potting import potting_of
from elder.web.cut.hand_steps import LEFT_OUT, PARTS_DONE, hand_steps
from elder.web.cut.sheet import Facts, chosen_from, pot_picture, sheet_of
from elder.web.rounds.wording import containers_of
from elder.web.say.containers import CONTAINER_WORDS
from elder.web.say.routes import onward_words, stage_words
from elder.web.say.units import shown_fine_length

TODAY, COUNT = date(2027, 4, 6), 7
EVERY = [(plant, way) for plant in handbook().values() for way in plant.ways]
IDS = [f"{plant.slug}-{way.slug}" for plant, way in EVERY]
# What each route says once there are roots, and the stage that is: a pot only where it goes into one.
ROOTS_THEN = {
    "potted": ("potted on", "rooted"),
    "straight out": ("no pot", "rooted"),
    "in place": ("no pot", "planted"),
    "lined out": ("lifted when it next rests", "planted"),
    "solution": ("nutrient solution", "rooted"),
    "with roots": ("grows on in its pot", "potted"),
}


@pytest.mark.parametrize(("plant", "way"), EVERY, ids=IDS)
def test_all_say_the_same(plant: Any, way: Any) -> None:
    stick = sticking(plant, way, COUNT)
    facts = Facts(COUNT, COUNT, "", "the sill", "", None, TODAY, TODAY, "metric")
    lines = [line for part in sheet_of(plant, way, chosen_from({}, plant, way), facts) for line in part.lines]
    by_key = {line.step.key: line for line in lines}

    # The hand tells the sheet's own steps, to the letter.
    piece = next(piece for piece, forms in PIECES.items() if way.form in forms)
    option: Any = SimpleNamespace(method=way, cuttings=COUNT, flags=())
    request: Any = SimpleNamespace(today=TODAY, user=SimpleNamespace(units="metric"), garden=SimpleNamespace(kit={}))
    told = hand_steps(option, plant, Material(piece, COUNT, "sound", 40), "the sill", request)
    said = {line.step.key: line.text for line in told}
    assert said.items() <= {key: line.text for key, line in by_key.items() if key not in LEFT_OUT}.items()
    done = {line.step.key for line in lines if line.step.part in {part.lower() for part in PARTS_DONE}}
    assert done - set(said) <= {*LEFT_OUT, "hormone"}

    # Depth and count.
    depth = shown_fine_length(stick.depth_cm, "metric")
    _, drawn = pot_picture(plant, way, COUNT, "metric")
    assert drawn == stick
    whole = ("as it stood", "1 to a pot", "no deeper than it stood")
    figure = f"{by_key['stick'].figure} {by_key['stick'].text}"
    assert depth in figure or any(words in figure for words in whole) or stick.laid_cm
    if "plug" not in by_key["containers"].figure and stick.container not in ("row", "grow bed"):
        assert by_key["containers"].figure.startswith(f"{stick.containers} ")
        assert CONTAINER_WORDS[stick.container][stick.containers > 1] in by_key["containers"].figure

    # The round and what is carried stand in as many containers.
    state = replay([Entry("t", "taken", TODAY, COUNT)], today=TODAY, route=way.route)
    assert isinstance(state, BatchState)
    batch: Any = SimpleNamespace(plant=plant, method=way, state=state, stands=stands(state, plant, way))
    job: Any = SimpleNamespace(batch=batch, verb="moisten", task=Task("moisten", TODAY, COUNT))
    assert containers_of(job) == (stick.container, stick.containers)
    load = loads(state, plant, way).get("stuck")
    if way.direct:
        assert load is None
    else:
        assert load
        assert (load.container, load.containers, load.plants) == (stick.container, stick.containers, COUNT)

    # Potting and what comes after.
    assert potting_of(plant, way).steps
    words, roots_as = ROOTS_THEN[way.route.key]
    assert words in onward_words(way)
    assert way.route.roots_as == roots_as
    assert set(stage_words(way.route)) == {"waiting", "rooted", "potted", "hardening", "planted"}
