"""Where a new garden lies: degrees, a town chosen from a list, or a town written."""

from __future__ import annotations

from dataclasses import dataclass

from elder.web.garden.towns import Town, nearest_town, read_degrees, towns_like

IN_TOWN_KM = 0.05


@dataclass(frozen=True)
class Spot:
    """Where on earth: degrees, the nearest town, and how far that is."""

    latitude: float
    longitude: float
    town: Town
    km: float

    @property
    def said(self) -> str:
        """The town, and how far it is where it is not the town itself."""
        return self.town.where if self.km < IN_TOWN_KM else f"{self.km:.0f} km from {self.town.where}"


@dataclass(frozen=True)
class Found:
    """What was made of the fields of a place: the spot, the towns of such a name to choose from, and what is wrong at
    which field."""

    spot: Spot | None = None
    towns: tuple[Town, ...] = ()
    field: str = ""
    wrong: str = ""


def spot_at(latitude: float, longitude: float) -> Spot:
    """A spot by its degrees."""
    return Spot(latitude, longitude, *nearest_town(latitude, longitude))


def find_spot(where: str, chosen: str, degrees: tuple[float | None, float | None]) -> Found:
    """Degrees given as such go before a town, and a town chosen (by its degrees) before the first of those found."""
    north, east = degrees
    if north is not None and east is not None:
        return Found(spot_at(north, east))
    if north is not None or east is not None:
        missing = "longitude" if east is None else "latitude"
        return Found(field=missing, wrong=f"Degrees, such as {'−4.1' if east is None else '52.6'}.")
    if typed := read_degrees(where):
        return Found(spot_at(*typed))
    if not where:
        return Found(field="where", wrong="A town, or degrees such as 52.6, −4.1.")
    towns = tuple(towns_like(where))
    if not towns:
        return Found(field="where", wrong=f"Elder knows no town like “{where}”. Try a larger one nearby, or degrees.")
    at = read_degrees(chosen)
    town = next((town for town in towns if (town.latitude, town.longitude) == at), towns[0])
    return Found(Spot(town.latitude, town.longitude, town, 0.0), towns)
