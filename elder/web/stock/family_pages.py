"""A family as its page shows it: drawn, as a nested list that says the same, and traced in words."""

from __future__ import annotations

from dataclasses import dataclass, field
from urllib.parse import urlencode

from django.core.paginator import Page
from django.urls import reverse

from elder.drawing.family import ROOMY_ROWS, family_scene
from elder.drawing.scene import Scene
from elder.engine.mother.lineage import OPEN_ROWS, Family, FamilyRow, Member, Took
from elder.web.garden.access import GardenRequest
from elder.web.read.families import FAR, NAMED
from elder.web.say.words import about, counted, listed, plural
from elder.web.ui.pages import A_LEAF, leaf_of


@dataclass(frozen=True)
class TakeLine:
    """A batch cut from a mother: what became of it, where its page is, and of whom where that must be said."""

    url: str
    words: str
    name: str = ""


@dataclass
class Branch:
    """A mother as the nested list shows it, with its takes and the branches below it."""

    key: str
    name: str
    url: str
    where: str
    about: str
    takes: list[TakeLine]
    strength: str
    fold: str
    fold_url: str
    below: list[Branch] = field(default_factory=list)


@dataclass(frozen=True)
class NameLine:
    """A mother's name beside the drawing, with what folds or opens what comes from it and tells its line apart."""

    name: str
    depth: int
    fold: str
    fold_url: str
    fold_words: str
    line_url: str
    url: str
    is_focus: bool
    is_aside: bool
    is_sick: bool
    where: str


@dataclass(frozen=True)
class FamilyPicture:
    """The drawing of the families and the list that says the same; ``whole_line``: nothing else is on the page."""

    scene: Scene
    rows: list[NameLine]
    branches: list[Branch]
    found: str
    words: str
    focus: Member | None
    is_snug: bool
    whole_line: bool
    leaf: Page[list[FamilyRow]]


@dataclass(frozen=True)
class Relative:
    """A mother before or after another in its line."""

    name: str
    url: str
    where: str


@dataclass(frozen=True)
class Traced:
    """Where a mother came from and all that comes from it."""

    name: str
    is_sick: bool
    forward: str
    given: int
    mothers: list[Relative]
    takes: list[TakeLine]
    back: list[Relative]
    generation: int


def family_picture(request: GardenRequest, family: Family, *, focus: str, only_line: bool = False) -> FamilyPicture:
    """The drawing of the families and the list that says the same. ``only_line``: nothing but the line of ``focus``."""
    focus = focus if focus in family.members else ""
    line = family.line_of(focus) if focus else set()
    if focus:
        family.begin_with(focus)
    asked = request.GET.get("q", "").strip()
    found = family.search(asked) if asked and not only_line else set()
    opened = _opened(request, family, line)
    shown = (_near(family, focus) if len(line) > OPEN_ROWS else line) if only_line else found or None
    every = [] if asked and not found and not only_line else family.rows(opened, shown=shown)
    leaf = leaf_of([every] if only_line or focus else _leaves(every), request.GET.get("page"), 1)
    rows, sick = [row for several in leaf for row in several], _sick(family)
    words = _picture_words(family, every)
    scene = family_scene(rows, family, request.today, line=set() if only_line else line, sick=sick, words="")
    return FamilyPicture(
        scene=scene,
        rows=[_name_line(row, request, opened, focus, sick, line) for row in rows],
        branches=_nested(rows, family, request, opened, focus, sick),
        found=f"{plural(len(found), 'plant', 'plants')} found" if asked else "",
        words=words,
        focus=family.members.get(focus),
        is_snug=len(rows) > ROOMY_ROWS,
        whole_line=only_line,
        leaf=leaf,
    )


def _leaves(rows: list[FamilyRow]) -> list[list[FamilyRow]]:
    """The rows a leaf at a time; no family is torn in two, however large it is."""
    leaves: list[list[FamilyRow]] = [[]]
    for row in rows:
        if row.depth == 0 and len(leaves[-1]) >= A_LEAF:
            leaves.append([])
        leaves[-1].append(row)
    return leaves


def _near(family: Family, key: str) -> set[str]:
    """Of a line too long to be read whole: back to the first, and one generation on."""
    return {key, *(one.key for one in family.back(key)), *(one.key for one in family.children(key))}


def _opened(request: GardenRequest, family: Family, line: set[str]) -> set[str]:
    opened = family.opened_at_first() | line
    opened |= {key for key in request.GET.getlist("open") if key in family.members}
    return opened - set(request.GET.getlist("shut"))


def _sick(family: Family) -> set[str]:
    """Those that proved diseased and all that comes from them."""
    first = [key for key, member in family.members.items() if member.health == "diseased"]
    return {one for key in first for one in (key, *(below.key for below in family.below(key)))}


def _picture_words(family: Family, rows: list[FamilyRow]) -> str:
    """What is to be seen: so many mothers and batches, so many generations."""
    if not rows:
        return "No family yet." if not family.members else ""
    shown, hidden = len(rows), sum(row.hidden for row in rows)
    takes = sum(len(row.takes) for row in rows)
    deepest = max(family.generation(row.member.key) for row in rows)
    said = [plural(shown, "mother", "mothers")]
    said.append(plural(takes, "batch", "batches") if takes else "nothing cut yet")
    said += [f"{plural(deepest, 'generation', 'generations')} deep"] if deepest > 1 else []
    return ", ".join([*said, f"{hidden} more folded away"] if hidden else said)


def _query(request: GardenRequest, **changed: list[str]) -> str:
    """This page's address with some of its parameters changed."""
    kept = {name: request.GET.getlist(name) for name in ("plant", "q", "line", "open", "shut", "page")}
    pairs = [(name, value) for name, values in {**kept, **changed}.items() for value in dict.fromkeys(values) if value]
    return f"{reverse('stock-families', args=[request.garden.pk])}?{urlencode(pairs)}"


def _fold(row: FamilyRow, request: GardenRequest, opened: set[str]) -> tuple[str, str]:
    """The word and the address that fold a row or open it; nothing where it has no children."""
    key = row.member.key
    if not row.children:
        return "", ""
    shut, open_ = request.GET.getlist("shut"), request.GET.getlist("open")
    if key in opened:
        return "fold", _query(request, shut=[*shut, key], open=[one for one in open_ if one != key])
    return f"{row.hidden} more", _query(request, open=[*open_, key], shut=[one for one in shut if one != key])


def _name_line(
    row: FamilyRow, request: GardenRequest, opened: set[str], focus: str, sick: set[str], line: set[str]
) -> NameLine:
    fold, url = _fold(row, request, opened)
    key = row.member.key
    return NameLine(
        name=row.member.name,
        depth=min(row.depth, 6),
        fold=fold,
        fold_url=url,
        fold_words="Fold what comes" if fold == "fold" else f"Show {fold}",
        line_url=_query(request, line=[] if key == focus else [key]),
        url=_url(request, key),
        is_focus=key == focus,
        is_aside=bool(line) and key not in line,
        is_sick=key in sick,
        where=row.member.where,
    )


def _url(request: GardenRequest, key: str) -> str:
    return "" if key.startswith((NAMED, FAR)) else reverse("stock-plant", args=[request.garden.pk, key])


def _nested(
    rows: list[FamilyRow], family: Family, request: GardenRequest, opened: set[str], focus: str, sick: set[str]
) -> list[Branch]:
    """The rows as a tree, for a list within a list."""
    roots: list[Branch] = []
    path: list[tuple[int, Branch]] = []
    line = family.line_of(focus) if focus else set()
    for row in rows:
        member, today = row.member, request.today
        fold, url = _fold(row, request, opened)
        said = [f"generation {family.generation(member.key)}", f"since {about(member.since, today)}"]
        if member.ended:
            said.append(f"ended {about(member.ended, today)}")
        if member.key in sick:
            said.append("diseased" if member.health == "diseased" else "from a diseased mother")
        if member.key in line:
            said.append("this line" if member.key == focus else "of this line")
        branch = Branch(
            member.key, member.name, _url(request, member.key), member.where, ", ".join(said),
            [_take(take, request) for take in row.takes], "strong" if member.key in line else "", fold, url,
        )  # fmt: skip
        while path and path[-1][0] >= row.depth:
            path.pop()
        (path[-1][1].below if path else roots).append(branch)
        path.append((row.depth, branch))
    return roots


def _take(take: Took, request: GardenRequest, name: str = "") -> TakeLine:
    parts = [f"{take.taken} cut"]
    parts += [f"{take.lost} lost"] if take.lost else []
    parts += [f"{take.given} given away"] if take.given else []
    lives = f"{take.living} live" + (f", {take.where}" if take.where else "") if take.living else "none left"
    if take.key.startswith(FAR):
        return TakeLine("", f"{about(take.on, request.today)}: cut in another garden", name)
    url = reverse("batch", args=[request.garden.pk, take.key])
    return TakeLine(url, f"{about(take.on, request.today)}: {', '.join(parts)}; {lives}", name)


def traced(request: GardenRequest, family: Family, key: str) -> Traced | None:
    """What comes from a mother, and where it came from, in words: which plants to look at if it proved diseased."""
    if key not in family.members:
        return None
    mothers, takes = family.forward(key)
    member, living = family.members[key], sum(take.living for take in takes)
    given = sum(take.given for take in takes)
    said = [f"{counted(len(mothers))} {'mother' if len(mothers) == 1 else 'mothers'}"] if mothers else []
    said.append(f"{counted(len(takes))} {'batch' if len(takes) == 1 else 'batches'}")
    parts = [
        listed(said),
        f"{plural(living, 'plant lives', 'plants live')}" if living else "none of its plants is left",
    ]
    return Traced(
        name=member.name,
        is_sick=member.health == "diseased",
        forward="; ".join(parts) if takes else "",
        given=given,
        mothers=[Relative(one.name, _url(request, one.key), one.where) for one in mothers],
        takes=[_take(take, request, family.members[take.mother].name) for take in takes],
        back=[Relative(one.name, _url(request, one.key), one.where) for one in family.back(key)],
        generation=family.generation(key),
    )
