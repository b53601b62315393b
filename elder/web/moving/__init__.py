"""Moving house: what comes along, when it is dug and cut, how it is loaded, and how it fares at the new place."""
