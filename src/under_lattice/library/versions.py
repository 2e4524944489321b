"""Versions kept of the demo works: where each went besides, as the numbers and colours that differ."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from under_lattice.declare.frozen import edited
from under_lattice.evaluate.derived import derived_values
from under_lattice.loop.turning import in_step
from under_lattice.rules import KINDS
from under_lattice.work.address import read_address
from under_lattice.work.edits import exchange_motif
from under_lattice.work.model import Design, Kept, Shelf, StripOrder
from under_lattice.work.suggest import motif_of_size
from under_lattice.work.turning import turned

GROUND, KIND = "ground", "kind"
CARVED = ("eye", "boss", "buds", "leaves", "tongues", "beads", "frame")
Changes = Mapping[str, Any]  # by address in handles; `ground` is the sheet's colour, LAYER.motif.kind the motif itself
STRIPS = {
    "festival-poster": StripOrder(across="whirls.progression.turn=3..9/5", down="whirls.progression.across=88.9876..92.9876/5")
}
VERSIONS: dict[str, dict[str, Changes]] = {
    "entrance-floor": {
        "Slack tide": {
            "floor.ink.palette": ("#EAF0F2", "#7FA9C4", "#24507A"),
            "border.ink.palette": ("#12263B",),
            GROUND: "#EAF0F2",
            "border.ink.stroke_colour": "#7FA9C4",
            "gulls.ink.palette": ("#EAF0F2", "#7FA9C4", "#EAF0F2", "#C9DDE8"),
        },
        "Plain cubes": {"floor.push-edges.amount.end": 0.0, "floor.motif.size": 27.0},
        "Boiler room": {
            "floor.ink.palette": ("#F0E9DC", "#8E877C", "#23262B"),
            "border.ink.palette": ("#23262B",),
            "floor.push-edges.profile": "bow",
            "floor.push-edges.amount.end": 7.5,
        },
    },
    "plunge-pool": {
        "Deep end": {"tiles.ink.palette": ("#12263B", "#7FA9C4") * 4 + ("#EAF0F2",), GROUND: "#7FA9C4"},
        "Small squares": {"tiles.motif.size": 22.0, "tiles.lattice.shift": 33.0},
    },
    "air-grille": {
        "Wide open": {"slots.adjust.across.start": 90.0, "slots.adjust.across.end": 18.0, "slots.adjust.turn.end": 90.0},
        "Round holes": {"slots.motif.kind": "ellipse", "slots.adjust.across.start": 30.0, "slots.adjust.along": 70.0},
    },
    "dyed-towels": {
        "Indigo": {
            "sails.ink.palette": ("#DCE6EE", "#5E86AE", "#1C2F54"),
            "pearls.ink.palette": ("#F3F7FA",),
            "pearls.ink.stroke_colour": "#1C2F54",
            GROUND: "#EEF3F6",
        },
        "Calm": {"sails.push-edges.amount.start": 1.6, "sails.motif.size": 54.0, "pearls.motif.size": 4.0},
    },
    "festival-poster": {
        "Undertow": {
            "whirls.progression.turn": 3.5,
            "whirls.progression.across": 95.0,
            "whirls.progression.along": 95.0,
            "whirls.progression.count": 150,
        },
        "Night": {"whirls.ink.palette": ("#F2C879", "#17324D"), GROUND: "#F2C879"},
        "Three sides": {"whirls.motif.sides": 3, "whirls.progression.turn": 8.0},
    },
    "ceiling-rosette": {
        "Gilt": {
            "leaves.ink.palette": ("#8A6A2B", "#FFF6E2", "#D9B45E", "#FFF6E2", "#8A6A2B", "#FFF6E2", "#5A2E2A"),
            GROUND: "#F6EFDD",
            "star.ink.palette": ("#FFF6E2", "#8A6A2B"),
            "buds.ink.palette": ("#5A2E2A", "#FFF6E2", "#5A2E2A"),
            "beads.ink.palette": ("#8A6A2B",),
        },
        "Twelve leaves": {
            "leaves.rosette.count": 12,
            "buds.rosette.count": 12,
            "buds.rosette.begin": 15.0,
            "beads.rosette.count": 48,
        },
    },
    "seed-clock": {
        "Ember": {"seeds.ink.palette": ("#F25C2A", "#8E1F1F", "#F7B267", "#4A1220"), GROUND: "#1B0F14"},
        "Grains": {
            "seeds.motif.roundness": 190.0,
            "seeds.seed-head.count": 610,
            "seeds.seed-head.spacing": 4.9,
            "seeds.seed-head.turn": 20.0,
        },
    },
    "tide-rings": {
        "Sunrise": {
            "drops.ink.palette": (
                "#FFF3E0",
                "#FFD9A8",
                "#FFB37A",
                "#F58A5E",
                "#D95F55",
                "#A8405A",
                "#6C2C58",
                "#F2C14E",
                "#3D1D4A",
            ),
            GROUND: "#FFF9F0",
        },
        "Pebbles": {
            "drops.motif.roundness": 70.0,
            "drops.rosette.count.end": 40,
            "drops.progression.across": 104.0,
            "drops.progression.along": 104.0,
        },
    },
    "coat-hooks": {
        "Wide rings": {
            "ring-then-row.rosette.count": 8,
            "row-then-ring.rosette.count": 8,
            "row-then-ring.progression.turn": 18.0,
            "ring-then-row.motif.width": 75.0,
            "row-then-ring.motif.width": 75.0,
            "row-then-ring.adjust.across": 62.0,
            "row-then-ring.adjust.along": 62.0,
        },
        "Brass": {
            GROUND: "#FBE9C2",
            "ring-then-row.ink.palette": ("#F3DFB0", "#D9A441", "#F7EFD8", "#B98535"),
            "row-then-ring.ink.palette": ("#F3DFB0", "#D9A441", "#F7EFD8", "#B98535"),
            "boards.ink.palette": ("#4A2E14", "#5E3D1C"),
        },
    },
    "wash-room-tiles": {
        "Blue wash": {
            "petals.ink.palette": ("#F2F7FA", "#86B4D6", "#1F4E7A"),
            "leaves.ink.palette": ("#2D6A8E",),
            GROUND: "#E4EDF3",
        },
        "Slender": {"petals.motif.width": 8.5, "petals.motif.roundness": 360.0, "leaves.adjust.across": 34.0},
    },
    "steam-room-window": {
        "Amber": {"glass.ink.palette": ("#7A3B12", "#E38B2C", "#F8D27A", "#B5541C"), GROUND: "#FFF1CF"},
        "Seven panes": {"glass.rosette.count": 7, "glass.motif.width": 11.0},
    },
    "rope-mat": {
        "Tarred": {"strands.ink.palette": ("#6A6F73", "#2E3338", "#A5ABAF", "#7B8085", "#3B4045", "#C3C8CB"), GROUND: "#14171A"},
        "Straight": {"strands.adjust.turn": 0.0, "strands.motif.over": 3, "strands.motif.under": 1},
    },
    "life-rings": {
        "Twelve rings": {"rings.rosette.count": 12, "rings.motif.width": 92.0, "rings.interlace.width": 4.6},
        "Dusk": {"rings.ink.palette": ("#F2B84B", "#F7E9D7"), "rim.ink.palette": ("#C2513A", "#6C5BA7"), GROUND: "#2A1F3D"},
    },
    "changing-room-screen": {
        "Stars": {"screen.contact-lines.angle": 46.0},
        "Coral": {"screen.ink.palette": ("#F2A07B", "#FFF3EA"), "screen.ink.stroke_colour": "#9C3F3A", GROUND: "#6E2A3A"},
    },
    "tea-room-frieze": {
        "Mint": {
            "shells.ink.palette": ("#E7F2E6", "#8DB89A", "#8DB89A", "#8DB89A", "#8DB89A", "#8DB89A", "#3F6B5C"),
            "shells.ink.stroke_colour": "#2C4A40",
            "bands.ink.palette": ("#2C4A40",),
            GROUND: "#F1E3C8",
            "pearls.ink.palette": ("#C2694C",),
        },
        "Many shells": {"shells.motif.width": 26.0, "shells.along-curve.count": 9, "bands.wave-edges.wavelength": 12.0},
    },
    "porthole": {
        "Deep water": {"wall.ink.palette": ("#0C2E40", "#9FD3CF"), "wall.warp.amount": 220.0, "wall.warp-2.angle": 80.0},
        "Fine wall": {"wall.motif.size": 12.0, "wall.warp.amount": 90.0, "wall.warp-2.angle": -20.0},
    },
    "ticket-engraving": {
        "Green back": {
            "seal.ink.stroke_colour": "#1F5A3C",
            "star.ink.stroke_colour": "#7A4A12",
            "medal.ink.stroke_colour": "#1F5A3C",
            "border.ink.stroke_colour": "#1F5A3C",
            GROUND: "#F2F4E6",
        },
        "Tight star": {"star.motif.wheel": 42, "star.progression.count": 18, "medal.motif.wheel": 24},
    },
    "locker-doors": {
        "Night lockers": {
            "ground.ink.palette": ("#3B5A74", "#12263B"),
            "disc.ink.palette": ("#17324D",),
            "rim.ink.palette": ("#F0B33C",),
            GROUND: "#24405A",
        },
        "Sharp ground": {"ground.motif.points": 8, "ground.motif.inner": 62.0, "rim.motif.points": 16, "rim.motif.inner": 76.0},
    },
    "foot-bath-fish": {
        "Coral fish": {
            "pebbles.ink.palette": ("#33506B", "#274059", "#45688A", "#F2785C", "#F7A98B", "#FFE3D6"),
            GROUND: "#15202E",
        },
        "Coarse": {
            "pebbles.motif.width": 12.0,
            "pebbles.motif.height": 12.0,
            "pebbles.adjust.across.end": 100.0,
            "pebbles.adjust.across.start": 22.0,
        },
    },
    "kelp-curtain": {
        "Autumn": {
            "kelp.ink.palette": ("#8A5A2B", "#D9A441", "#5A2E1F", "#D9A441"),
            "pebbles.ink.palette": ("#5A2E1F", "#D9A441", "#A8452E", "#E8D2A6"),
            GROUND: "#FBF1DC",
        },
        "Broad leaves": {"kelp.motif.width": 10.0, "kelp.motif.roundness": 260.0, "kelp.along-curve.count": 22},
    },
    "deck-chair-canvas": {
        "Navy": {
            "stripes.ink.palette": ("#17324D", "#17324D", "#F6F0E2", "#7FA9C4", "#F6F0E2", "#C2513A", "#F6F0E2"),
            GROUND: "#F6F0E2",
        },
        "Choppy": {
            "stripes.wave-edges.height.start": 3.0,
            "stripes.wave-edges.height.end": 14.0,
            "stripes.wave-edges.wavelength": 32.0,
        },
    },
    "terrace-screen": {
        "A clear night": {"damp.blur.size": 0.5, "damp.tone.exposure": 110.0},
        "Fog": {"damp.blur.size": 11.0, "damp.tone.exposure": 320.0, "damp.tone.saturation": 70.0, GROUND: "#26303E"},
        "Verdigris": {
            "damp.tone.hue": -60.0,
            "screen.ink.palette": ("#12211E",),
            "screen.ink.stroke_colour": "#5FA08E",
            "frame.ink.palette": ("#12211E",),
            "frame.ink.stroke_colour": "#5FA08E",
        },
    },
    "carved-ceiling": {
        "Evening": {
            **{f"{name}.relief.direction": -18.0 for name in CARVED},
            **{f"{name}.relief.height": 24.0 for name in CARVED},
            **{f"{name}.shadow.direction": 162.0 for name in CARVED},
            **{f"{name}.relief.light": "#FFD9A0" for name in CARVED},
        },
        "Bronze": {f"{name}.ink.palette": ("#7A8F6E",) for name in CARVED} | {f"{name}.relief.light": "#F3E3A8" for name in CARVED},
        "Eight leaves": {
            "leaves.rosette.count": 8,
            "leaves.motif.width": 58.0,
            "tongues.rosette.count": 8,
            "tongues.rosette.begin": 22.5,
            "buds.rosette.count": 8,
            "buds.rosette.begin": 22.5,
        },
    },
    "vent-plate": {
        "Zinc": {
            "plate.ink.ramp": "0 #E4EAEC; 34 #B9C3C8; 70 #8B979E; 100 #69757C",
            "slots.relief.light": "#FFFFFF",
            "plate.relief.light": "#FFFFFF",
        },
        "Proud of the plate": {"slots.relief.slope": 52.0, "slots.ink.palette": ("#7A2E1E",), "slots.shadow.opacity": 35.0},
        "Large slots": {"slots.lattice.pitch": 27.0, "slots.motif.size": 14.0, "slots.relief.size": 3.2},
    },
    "indigo-towel": {
        "Madder": {"wash.tone.hue": 132.0, "wash.tone.saturation": 150.0, GROUND: "#F3F1F0"},
        "Dry": {f"{name}-burst.streaks.share": 1.0 for name in ("left", "right", "low")},
        "Spun": {f"{name}-burst.streaks.way": "round" for name in ("left", "right", "low")},
    },
    "foot-bath-print": {
        "Large dots": {"sea-dots.halftone.pitch": 14.0, "coral-lines.halftone.pitch": 9.5, "sea-dots.halftone.ink": "#3D2C6B"},
        "Night": {
            "sea-dots.halftone.ink": "#9FD8CB",
            "coral-lines.halftone.ink": "#FFB38A",
            "coral-lines.layer.blend": "screen",
            GROUND: "#0B1D2A",
        },
        "Lines on lines": {"sea-dots.halftone.form": "lines", "sea-dots.halftone.angle": 32.0, "sea-dots.halftone.ink": "#6B2C4A"},
    },
    "lobby-panel": {
        "Aurora": {
            "amber-lamps.ink.ramp": "0 #74E0B0; 38 #74E0B0 62% (60); 100 #74E0B0 0%",
            "rose-lamps.ink.ramp": "0 #5E60CE; 38 #5E60CE 62% (60); 100 #5E60CE 0%",
            "sea-lamps.ink.ramp": "0 #2D9CDB; 38 #2D9CDB 62% (60); 100 #2D9CDB 0%",
            GROUND: "#06131C",
        },
        "Squares": {"panes.motif.sides": 4, "panes.motif.stands": "on a flat", "panes.lattice.form": "squares"},
        "Small panes": {"panes.motif.size": 11.0, "panes.lattice.gap": 1.4},
    },
    "locker-tiles": {
        "Sea": {"cells.ink.ramp": "0 #F1F7F2; 34 #BFE0D2; 62 #3F7F86; 100 #12323F", GROUND: "#F1F7F2"},
        "From the middle": {"cells.ink.inside": "round ramp", "cells.ink.ramp_reach": 110.0},
    },
    "tide-board": {
        "Large scales": {"word.ink.pattern_size": 160.0, "water.ink.pattern_size": 160.0},
        "Evening": {
            "scales.ink.palette": ("#B5533C",),
            "sun.ink.palette": ("#F2D16B",),
            "word.ink.pattern_turn": 30.0,
            GROUND: "#F3D9C0",
        },
    },
    "harbour-window": {
        "Large panes": {"grid.motif.size": 22.0, "grid.ink.stroke_width": 1.6, "grid.ink.stroke_colour": "#1D3A4F"},
        "Screen": {"grid.layer.blend": "screen", "grid.ink.stroke_colour": "#F6C27A", "grid.ink.stroke_width": 1.2},
    },
    "pool-floor": {
        "Night swim": {"floor.ink.palette": ("#6C93C0", "#182C50"), "light.ink.ramp": "0 #9FE8E0; 40 #2A6E8C; 100 #02060F"},
        "Small tiles": {"floor.motif.size": 9.4, "floor.lattice.pitch": 9.7, "floor.lattice.row_pitch": 9.7},
    },
    "tide-wall": {
        "Rose": {"scales.ink.palette": ("#F9EFE6", "#F0C9B8", "#D98C7E", "#A34F5A", "#5A2438"), GROUND: "#5A2438"},
        "Nine rings": {"scales.progression.count": 9, "scales.progression.across": 88.0, "scales.progression.along": 88.0},
    },
    "school-of-fish": {
        "In the light": {
            "school.ink.palette": ("#7A2E3B", "#C2554D", "#2C587A"),
            "deep.ink.ramp": "0 #F6E9D2; 60 #E9CFA8; 100 #D9B98C",
        },
        "Few and large": {
            "school.seed-head.count": 64,
            "school.seed-head.spacing": 17.0,
            "school.motif.length": 56.0,
            "school.motif.width": 48.0,
        },
    },
    "pilot-light": {
        "Red sun": {"cut.halftone.ink": "#8E2F25", "cut.halftone.ground": "#F4E4CF"},
        "High sun": {"sun.motif.place_y": -96.0, "sun.motif.width": 84.0, "glint.motif.width": 40.0},
    },
    "paper-lamps": {
        "Blue hour": {
            "lamps.ink.palette": ("#E8F3F2", "#8FC7CF", "#5B8FB9", "#7A6FB0"),
            "lamps.shadow.colour": "#8FC7CF",
            "dusk.ink.ramp": "0 #081420; 60 #15334A; 100 #2F6B7C",
        },
        "Large lamps": {"lamps.motif.width": 36.0, "lamps.lattice.pitch": 52.0},
    },
    "drying-net": {
        "Fog": {
            "sky.ink.ramp": "0 #DCE3E4; 55 #C7D2D6; 100 #EDE9DE",
            "sun.ink.palette": ("#F6D9A8",),
            "mesh.ink.stroke_colour": "#37474F",
        },
        "Wide mesh": {"mesh.motif.size": 20.0, "mesh.ink.stroke_width": 1.2, "mesh.warp.height": 24.0},
    },
    "moon-pool": {
        "Close": {"near.motif.place_x": -5.0, "near.motif.place_y": -4.0, "far.motif.place_x": 5.0, "far.motif.place_y": 4.0},
        "Gold": {"near.ink.stroke_colour": "#F0B84A", "far.ink.stroke_colour": "#E4725A", GROUND: "#1C1530"},
    },
    "rain": {
        "Downpour": {"drops.seed-head.count": 260, "drops.seed-head.spacing": 14.0, "drops.ink.stroke_opacity": 100.0},
        "Puddle": {
            "pool.ink.ramp": "0 #E9EDEB; 55 #D5DEDC; 100 #BFCFD0",
            "drops.ink.stroke_colour": "#2F4858",
            "drops.ink.stroke_blend": "multiply",
        },
    },
    "sea-glass": {
        "Amber": {"glass.ink.palette": ("#FFF1CF", "#F2C166", "#C97B2E", "#7A3E1D", "#F5E3C0")},
        "Pebbles": {"glass.motif.width": 38.0, "glass.lattice.pitch": 41.0, "glass.relief.size": 9.0},
    },
    "sauna-door": {
        "Driftwood": {"blocks.ink.palette": ("#C9C2B4",), "blocks.relief.shade": "#3B3F45", GROUND: "#6F6B63"},
        "Six boards": {"blocks.progression.count": 7, "blocks.progression.turn": 15.0},
    },
    "nautilus": {
        "Sea blue": {"chambers.ink.palette": ("#EEF6F4", "#BFDDDD", "#6FA9B5", "#2E6680", "#12304A"), GROUND: "#E3ECEA"},
        "Opened": {"chambers.progression.turn": 23.0, "chambers.progression.across": 94.0, "chambers.progression.along": 94.0},
    },
    "sun-deck": {
        "Dawn": {"rays.ink.palette": ("#F6C6C0", "#E98CA0", "#7A6FB0", "#E98CA0"), GROUND: "#FBF3F1"},
        "Twelve petals": {"rays.rosette.count": 24, "rays.motif.width": 38.0},
    },
}


def versions_of(name: str, design: Design) -> Shelf:
    """Return the versions kept of a demo work, by its short name."""
    kept = VERSIONS.get(name, {}).items()
    return tuple(Kept(id=f"{name}-{k}", name=title, design=changed(design, changes)) for k, (title, changes) in enumerate(kept, 1))


def changed(design: Design, changes: Changes) -> Design:
    """Return a design with numbers, colours and motifs changed, by their addresses in handles.

    Raises
    ------
    InputError
        When an address leads nowhere, or a value is not allowed there.
    """
    for place, value in changes.items():
        if place == GROUND:
            design = edited(design, sheet=edited(design.sheet, background=value))
        elif place.endswith(f".{KIND}"):
            chain = next(one for one in design.chains() if one.handle == place.split(".")[0])
            design = exchange_motif(design, chain.id, motif_of_size(KINDS[value], chain))
        else:
            design = turned(design, read_address(design, place), value, derived_values)
    return in_step(design)
