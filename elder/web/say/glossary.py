"""The words of the trade that stand on the screen, each said plainly once; docs/glossary.md holds the same."""

from __future__ import annotations

from typing import Final, NamedTuple


class Word(NamedTuple):
    """A word, the name of its place on the page, and what it means here."""

    term: str
    anchor: str
    text: str


WORDS: Final = (
    Word("Want", "want", "So many good plants of one kind, in the ground or in their pots by a day."),
    Word("Gate", "gate",
         "The days on which planting out is safe: it opens when the risk of frost has fallen to what you accept and "
         "the soil is warm enough, and shuts when too little of the season is left."),
    Word("Take", "take",
         "How many of a hundred cuttings root. It starts at the handbook’s figure and moves with what your own "
         "batches show. Said of cuttings, to take is to root; what one does with the blade is to cut."),
    Word("Cut", "cut",
         "The deed: so many pieces cut from one mother in one go, which are a batch from then on."),
    Word("After roots", "after-roots",
         "Of those that have roots, how many come to stand ready: some sulk, damp off, or meet a cold night or a slug. "
         "Nineteen in twenty until your own have shown it."),
    Word("Share their luck", "luck",
         "Batches cut from one mother within a fortnight take alike, well or badly. Together they are one piece of "
         "luck, not several."),
    Word("Strike", "strike", "To root. A cutting has struck when it has roots of its own."),
    Word("Stick", "stick", "To set a cutting into its mix or its water."),
    Word("On course", "on-course",
         "The chance of having what you want by its day is about the one you asked for, or better. Tight "
         "falls short of it by up to three chances in twenty, short by more. It is reckoned from what you wrote "
         "down, the warmth of the place and ordinary weather; it knows nothing of pests, or of a forgotten watering."),
    Word("Comfortable days", "comfortable",
         "Days to cut on which few cuttings will do: the least number, or up to a fifth more. A stretch asks for more "
         "of them, up to three times as many; early ones wait long in their pots."),
    Word("Possible years", "possible-years",
         "Years this garden might have, warm and cold, early and late: recorded ones where there are enough, else "
         "made up around its means and frost dates. A chance is counted in twenty of them, with quick batches and "
         "slow ones."),
    Word("Nights to carry in", "carry-nights",
         "Nights colder at a place than what stands there bears, in a usual year. More than you would carry pots in "
         "on close a cut day."),
    Word("Strong sun", "strong-sun",
         "Sun that stands 25° high or more, where the air lets most of it through. A stem without roots bears an hour "
         "or so of it. Hours of sun are possible ones, as if no cloud came."),
    Word("Batch", "batch", "Cuttings of one plant, cut on one day, rooted one way in one place."),
    Word("Mother", "mother", "The plant that cuttings are taken from. Its line is all that came from it."),
    Word("Multiply", "multiply",
         "To cut a plant's clones, and theirs, as soon as they are plants, until there are as many as you want. Each "
         "lot is what is cut in one go; its plants count from the day nearly all that take ought to stand."),
    Word("In the cold's reach", "reach",
         "In more winters than you accept a night falls below what the plant bears where it stands. Roots in a pot are "
         "taken to bear five degrees less cold than in a bed."),
    Word("Stands for years", "long-crop",
         "A crop whose first fruit is waited for, or anything kept in a pot: it climbs from pot to pot, and comes in "
         "for its winters."),
    Word("Promise", "promise",
         "So many plants for somebody by a day: a gift, a swap, an order or a sale. What you keep for yourself is "
         "raised with them, and stands apart in its odds."),
    Word("Lent", "lent",
         "A batch reserved for a promise that was cut for another want: that want has its number first."),
    Word("Slip", "slip",
         "The sheet that goes with a plant: what it is, its line, how to keep it alive. Its square opens it again."),
    Word("Ball", "ball", "A plant’s roots with the soil about them, as it is dug."),
    Word("Ready", "ready", "Rooted, grown on and hardened off: it may go out."),
    Word("Harden off", "harden-off", "To give a plant the open air by degrees, over a week or so, before it goes out."),
    Word("Look", "look", "Seeing to a batch: how many have roots, how many are lost, and what else can be seen."),
    Word("Hope", "hope", "The chance that a cutting still waiting will root, with the days it has already had."),
)  # fmt: skip
