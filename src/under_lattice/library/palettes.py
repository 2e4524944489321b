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
    "Plaster and brass": ("#F4EDE1", "#D8C3A0", "#A8823C", "#5B4A33", "#23201C"),
    "Steam": ("#F3F6F6", "#D3DEDF", "#A7BBBF", "#6F8A92", "#3B535D"),
    "Sea glass": ("#F1F7F2", "#BFE0D2", "#79B8AE", "#3F7F86", "#1F4656"),
    "Rust and tar": ("#F2E8DD", "#D49A6A", "#A4532E", "#4B2A22", "#16161A"),
    "Swim caps": ("#FDF6E3", "#F7B32B", "#F25F5C", "#247BA0", "#1B2A41"),
    "Ropes": ("#F6F0E4", "#E0C9A6", "#B98E5E", "#7B5A3A", "#2F261F"),
    "Two greys": ("#E9E9E9", "#8C8C8C", "#2B2B2B"),
}
