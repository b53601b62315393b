"""Where each value of a plant's file comes from."""

from __future__ import annotations

from typing import Any, NamedTuple


class Provenance(NamedTuple):
    """Where one value of a plant's file comes from: its path in the file, the value as shown, the source."""

    path: str
    shown: str
    source: str


def provenance_of(node: Any, path: str = "") -> list[Provenance]:
    """Every value of a file that carries a source, in the file's order."""
    if isinstance(node, list):
        named = [(item.get("slug", i) if isinstance(item, dict) else i, item) for i, item in enumerate(node)]
        return [row for name, item in named for row in provenance_of(item, f"{path}.{name}")]
    if not isinstance(node, dict):
        return []
    if "source" in node:
        return [Provenance(path.lstrip("."), _shown(node), node["source"])]
    return [row for key, item in node.items() for row in provenance_of(item, f"{path}.{key}")]


def _shown(node: dict[str, Any]) -> str:
    if "early" in node:
        at = f" at {node['at']} °C" if "at" in node else ""
        return f"{node['early']}–{node['late']} {node.get('unit', '')}{at}"
    if "cover" in node:
        return f"cover {node['cover']}, hormone {node['hormone']}"
    if "text" in node:
        said = " · ".join(str(node[key]) for key in ("question", "school", "way") if key in node)
        return f"{said}: {node['text']}" if said else str(node["text"])
    value = node["value"]
    if isinstance(value, bool):
        value = "yes" if value else "no"
    if isinstance(value, list):
        value = ", ".join(value)
    worth = f", worth {node['weight']} cuttings" if "weight" in node else ""
    visits = f", {node['visits']} visits a week" if "visits" in node else ""
    keep = f", {node['keep']} kept" if "keep" in node else ""
    return f"{value} {node.get('unit', '')}".strip() + worth + visits + keep
