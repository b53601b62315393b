"""The handbook: plants as YAML files, checked at load, every value with its provenance.

A file that does not fit is a bug of ours, so it raises, naming the file and the line.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import ClassVar, Final, Literal

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt
from elder.engine.handbook.provenance import Provenance
from elder.engine.handbook.routes import SOLUTION, Route
from elder.engine.place.warmth import Cardinals

Wood = Literal["growing", "softwood", "semi-ripe", "dormant", "any"]

MAKES_PLANT_FROM: Final = 0.5  # a way whose rooted pieces make plants less often than this is not offered (assumed)
VISIT_MINUTES: Final = 2.0  # a look at one lot with its water or mist, on the way round (assumed)


@dataclass(frozen=True)
class Caution:
    """One line shown ``at`` a step (cut, stick, pot, plant, eat, share)."""

    at: str
    text: str


@dataclass(frozen=True)
class School:
    """What one school says of a question on which people differ; ``start`` marks where Elder begins."""

    question: str
    school: str
    text: str
    start: bool


@dataclass(frozen=True)
class Seed:
    """Seed as the clone's rival: whether it comes true, and days from sowing to ready to harden."""

    comes_true: bool
    note: str
    ready: DaysAt


@dataclass(frozen=True)
class Instead:
    """What to do with a plant that is not struck from stems: ``way`` is sow or graft."""

    way: Literal["sow", "graft"]
    text: str


@dataclass(frozen=True)
class Method:
    """One way to root a plant: what is cut, when the wood is right, how long, how many take.

    ``makes_plant`` is the share of rooted pieces that ever grow on (1 but for leaves). ``route``: by which steps it
    becomes a plant. ``container`` is what it fills at a place. ``harvest_days`` overrides the plant's. ``risk``: what
    goes wrong with it, where that wants a word.
    """

    shared: ClassVar = True  # belongs to no one answer

    slug: str
    name: str
    medium: str
    container: str
    form: str
    wood: Wood
    length_cm: float
    rooting: DaysAt
    dry_days: int
    take: Take
    makes_plant: float
    caveat: str
    establish: DaysAt | None
    harden_days: int
    ready_sign: str
    minutes_each: float
    visits_a_week: float
    cover: str
    hormone: str
    route: Route
    harvest_days: tuple[int, int] | None
    risk: str
    schools: tuple[School, ...] = field(compare=False)

    @property
    def direct(self) -> bool:
        """Whether it is struck in the open ground."""
        return self.route.in_ground

    @property
    def grows_in(self) -> str:
        """The container it grows on in at the growing place; what roots in a grow bed and goes on in solution stays."""
        stays = self.route is SOLUTION and self.container == "grow bed"
        return self.container if stays else self.route.grows_in

    @property
    def grown_on(self) -> DaysAt | None:
        """Days from potted to established; nothing on a route that goes out from where it rooted."""
        return self.establish if self.route.establishes else None

    @property
    def handed_rooted(self) -> Method:
        """The same for those that leave with bare roots, as soon as a look finds them: none is potted or hardened."""
        return replace(self, establish=None, harden_days=0)

    def effort_minutes(self, count: int, days: float) -> float:
        """Hands' minutes for ``count`` cuttings that take ``days`` to root: striking them, and the visits."""
        return self.minutes_each * count + self.visits_a_week * days / 7 * VISIT_MINUTES

    def __hash__(self) -> int:
        """By name, take and days: what of it may be learned; the rest is the plant's."""
        return hash((self.slug, self.take, self.rooting))

    @property
    def plant_take(self) -> Take:
        """The share of cuttings that root and go on to make a plant."""
        return replace(self.take, mean=self.take.mean * self.makes_plant)

    @property
    def is_offered(self) -> bool:
        """Whether rooted ones make plants often enough to be worth the trouble."""
        return self.makes_plant >= MAKES_PLANT_FROM


@dataclass(frozen=True)
class PupRule:
    """How many pups a mother keeps: ``one_when_spent`` (on its old roots) or ``clump`` (so many stalks at most)."""

    kind: Literal["one_when_spent", "clump"]
    keep: int


@dataclass(frozen=True)
class Plant:
    """A plant of the handbook. Temperatures °C, times days. ``keep_above_c`` is what it bears over winter in leaf,
    ``rest_limit_c`` what it bears at rest; ``relative``: the plant of the handbook that one of a household's own was
    begun from; ``crop_season`` first and last day, in days from midsummer; ``light``: what it wants once rooted."""

    shared: ClassVar = True  # belongs to no one answer

    slug: str
    relative: str
    name: str
    also: tuple[str, ...]
    latin: str
    group: str
    cutting_one: str
    cutting_many: str
    harvest_word: str
    leaves: Literal["alternate", "opposite", "none"]
    cardinals: Cardinals
    light: Literal["full sun", "part sun", "bright shade"]
    frost_limit_c: float
    least_soil_c: float
    heat_limit_c: float | None
    patience_days: int
    crops_before_frost: bool
    harvest_early_days: int
    harvest_late_days: int
    crop_season: tuple[int, int] | None
    stock_indoors: bool
    gives: int
    again_days: int
    keep_above_c: float | None
    rest_limit_c: float | None
    pups: PupRule | None
    spreads: bool
    spreads_note: str
    seed: Seed | None
    instead: Instead | None
    methods: tuple[Method, ...]
    cautions: tuple[Caution, ...] = field(compare=False)
    provenance: tuple[Provenance, ...] = field(compare=False)

    def __hash__(self) -> int:
        """By name alone: a plant is asked for thousands of times a page, and its methods are long."""
        return hash((self.slug, self.harvest_early_days, self.harvest_late_days, self.cutting_one))

    @property
    def kin(self) -> str:
        """Whose tables hold for it: its own, or those of the relative a household began it from."""
        return self.relative or self.slug

    @property
    def ways(self) -> tuple[Method, ...]:
        """The methods worth offering, the usual one first."""
        return tuple(method for method in self.methods if method.is_offered)

    @property
    def harvest_median_days(self) -> int:
        """Days from planting out to first harvest that half the plants keep to: the geometric mean of the pair."""
        return round(math.sqrt(self.harvest_early_days * self.harvest_late_days))

    def method(self, slug: str) -> Method:
        """The method of that slug; KeyError where the plant has none such."""
        for method in self.methods:
            if method.slug == slug:
                return method
        raise KeyError(slug)

    def grown_by(self, method: Method) -> Plant:
        """The plant as that method grows it: a pup crops sooner than a top, and is called a pup."""
        named = method.form in PIECE_NAMES or (self.cutting_one, self.cutting_many) in PIECE_NAMES.values()
        return _grown_by(self, method) if method.harvest_days or named else self


# What is cut is called by what it is, where that is another thing than what the plant mostly gives.
PIECE_NAMES: Final = {
    "pup": ("pup", "pups"), "runner": ("runner", "runners"), "division": ("rooted piece", "rooted pieces"),
    "crown top": ("top", "tops"), "slip": ("slip", "slips"), "dormant stick": ("dormant stick", "dormant sticks"),
    "stem joint": ("joint", "joints"),
}  # fmt: skip


@lru_cache(maxsize=512)
def _grown_by(plant: Plant, method: Method) -> Plant:
    early, late = method.harvest_days or (plant.harvest_early_days, plant.harvest_late_days)
    own = (plant.cutting_one, plant.cutting_many)
    # A green shoot of what mostly gives dormant sticks is none of them.
    one, many = PIECE_NAMES.get(method.form, ("cutting", "cuttings") if own in PIECE_NAMES.values() else own)
    return replace(plant, harvest_early_days=early, harvest_late_days=late, cutting_one=one, cutting_many=many)
