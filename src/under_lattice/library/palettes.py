"""Palettes of the Tern Harbour Bathhouse, each from a part of the house, with light and dark that can be told apart."""

from __future__ import annotations

PALETTES: dict[str, tuple[str, ...]] = {
    "Quay tread": ("#EFE4CF", "#C2694C", "#26374F"),
    "Slack tide": ("#EAF0F2", "#7FA9C4", "#24507A", "#12263B"),
    "Towel line": ("#FBF3E1", "#F2C879", "#D9674E", "#7A2E46"),
    "Boiler room": ("#F0E9DC", "#B9B1A3", "#6B6660", "#23262B"),
    "Kelp": ("#EEF2E0", "#A9BD8A", "#4E7A5C", "#1D3B36"),
    "Buoy": ("#FFF6EA", "#E4572E", "#17324D"),
    "Shell": ("#FAEFEA", "#EBC3B4", "#B97A78", "#5A3A48"),
    "Lamp oil": ("#FFF1C9", "#F0B33C", "#A3541D", "#301A1C"),
    "Two greys": ("#E9E9E9", "#8C8C8C", "#2B2B2B"),
}
