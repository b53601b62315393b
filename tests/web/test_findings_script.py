"""The phone's own answer to the signs is the engine's: the cases are the engine's, the script runs under node."""

from __future__ import annotations

import itertools
import json
import random
import shutil
import subprocess
from pathlib import Path
from typing import Any

import pytest

from elder.engine.batch.state import STAGES
from elder.engine.handbook.loading import clonable
from elder.engine.round.potting import ready_sign
from elder.engine.round.verdicts import FACTS, findings, table, too_long_cm
from elder.web.rounds.look_pages import LENGTH_FACTS, rules_for

SCRIPT = Path(__file__).parents[1] / "js" / "run_findings.js"
SIGNS = [key for key, _ in table().signs]
OTHER_FACTS = [fact for fact in FACTS if fact not in LENGTH_FACTS]


def by_script(cases: dict[str, Any]) -> Any:
    node = shutil.which("node")
    assert node, "node 20 runs the scripts' tests"
    told = subprocess.run([node, str(SCRIPT)], input=json.dumps(cases), capture_output=True, text=True, check=True)
    return json.loads(told.stdout)


def drawn_cases() -> list[tuple[tuple[str, ...], str, frozenset[str]]]:
    """Every sign and every pair at every stage without facts, every sign with every fact, and 2,000 drawn at random."""
    chance = random.Random(4)  # noqa: S311
    cases = [(one, stage, frozenset[str]()) for stage in STAGES for one in [(), *((sign,) for sign in SIGNS)]]
    cases += [(pair, stage, frozenset()) for stage in STAGES for pair in itertools.combinations(SIGNS, 2)]
    cases += [((sign,), stage, frozenset({fact})) for stage in STAGES for sign in SIGNS for fact in FACTS]
    for _ in range(2000):
        signs = tuple(chance.sample(SIGNS, chance.randint(1, 5)))
        facts = frozenset(chance.sample(FACTS, chance.randint(0, 5)))
        cases.append((signs, chance.choice(STAGES), facts))
    return cases


def test_the_phone_finds_what_the_engine_finds() -> None:
    cases = drawn_cases()
    rules: dict[str, Any] = {}
    asked = []
    for signs, stage, facts in cases:
        server = facts - set(LENGTH_FACTS)
        key = f"{stage} {sorted(server)}"
        rules.setdefault(key, rules_for(stage, server))
        asked.append({"signs": list(signs), "facts": sorted(facts & set(LENGTH_FACTS)), "rules": key})
    told = by_script({"findings": asked, "rules": rules, "lengths": []})["findings"]
    # Where nothing is seen the page itself says that all is well.
    wanted = [[rule.code for rule in findings(signs, stage, facts)] if signs else [] for signs, stage, facts in cases]
    wrong = [(case, told[i], wanted[i]) for i, case in enumerate(cases) if told[i] != wanted[i]]
    assert not wrong, wrong[:3]
    assert sum(len(one) > 1 for one in told) > 1000, "the cases are to have answers of several findings"


@pytest.mark.parametrize(
    ("cm", "said"), [(0, []), (0.5, ["too_short"]), (2, ["long_enough"]), (40, ["long_enough", "too_long"])]
)
def test_what_a_length_says(cm: float, said: list[str]) -> None:
    assert by_script({"findings": [], "rules": {}, "lengths": [{"cm": cm, "wanted": 2, "long": 6}]})["lengths"] == [
        said
    ]


def test_every_plants_lengths_say_what_its_potting_sign_says() -> None:
    ways = {way.slug + plant.slug: way for plant in clonable().values() for way in plant.ways}
    lengths, wanted = [], []
    for way in ways.values():
        sign = ready_sign(way)
        long = min(too_long_cm(sign), 61.0)
        for tenths in range(0, 600, 7):
            cm = tenths / 10
            lengths.append({"cm": cm, "wanted": sign.cm, "long": long})
            measured = sign.kind in ("length", "shoot")
            said = [
                *(["long_enough"] if measured and cm >= sign.cm else []),
                *(["too_short"] if measured and 0 < cm < sign.cm else []),
                *(["too_long"] if cm > long else []),
            ]
            wanted.append(said)
    assert by_script({"findings": [], "rules": {}, "lengths": lengths})["lengths"] == wanted
