"""What a mother gives, what is asked of it, who came from whom."""

from elder.engine.mother.demand import CuttingsAsked, Shortage, shortages
from elder.engine.mother.gives_today import Giving, Growth, Health, Mother, MotherSeen, full_of, giving, wood_opens
from elder.engine.mother.lineage import OPEN_ROWS, Family, FamilyRow, Member, Took

__all__ = [
    "OPEN_ROWS",
    "CuttingsAsked",
    "Family",
    "FamilyRow",
    "Giving",
    "Growth",
    "Health",
    "Member",
    "Mother",
    "MotherSeen",
    "Shortage",
    "Took",
    "full_of",
    "giving",
    "shortages",
    "wood_opens",
]
