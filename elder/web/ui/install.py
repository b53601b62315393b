"""What lets Elder be put on a phone's first screen: its manifest (W3C, Web Application Manifest) and icons."""

from __future__ import annotations

from typing import Final

from django.http import HttpRequest, JsonResponse
from django.templatetags.static import static
from django.urls import reverse
from django.views.decorators.http import require_GET

INK: Final = "#2e1b33"
GROUND: Final = "#eef2ec"
SIZES: Final = (192, 512)
# The two things a thumb wants at once, by the addresses that lead to one's first garden.
SHORTCUTS: Final = (
    ("Rounds", "What needs a hand now", "now"),
    ("I have this in my hand", "What it can become", "hand"),
)


@require_GET
def manifest(request: HttpRequest) -> JsonResponse:
    """Name, icons, colours, and shortcuts to the round and to what is in one's hand."""
    icons = [_icon(size, purpose) for size in SIZES for purpose in ("any", "maskable")]
    described = {
        "id": "/",
        "name": "Elder",
        "short_name": "Elder",
        "description": "When to cut, how many, and what to do today.",
        "lang": "en-GB",
        "start_url": reverse("now"),
        "scope": "/",
        "display": "standalone",
        "background_color": GROUND,
        "theme_color": INK,
        "icons": icons,
        "shortcuts": [
            {"name": name, "description": said, "url": reverse(to), "icons": [_icon(SIZES[0], "any")]}
            for name, said, to in SHORTCUTS
        ],
    }
    return JsonResponse(described, content_type="application/manifest+json")


def _icon(size: int, purpose: str) -> dict[str, str]:
    name = f"elder/icons/elder-{size}{'-maskable' if purpose == 'maskable' else ''}.png"
    return {"src": static(name), "sizes": f"{size}x{size}", "type": "image/png", "purpose": purpose}
