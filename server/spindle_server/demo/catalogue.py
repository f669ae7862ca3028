"""The facts of the demo: people, motors, claims, propellers, supplies and stands."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

PEOPLE = (
    ("ilse", "Ilse Varga", "reviewer"),
    ("tomas", "Tomas Rook", "editor"),
    ("reader", "Reader", "reader"),
    ("admin", "Administrator", "administrator"),
)


@dataclass(frozen=True, slots=True)
class DemoMotor:
    """A motor of the demo; ``claims`` in the units of their names, ``words`` as on the label."""

    maker: str
    name: str
    size_code: str
    kv: float
    samples: tuple[str, ...]
    obtained: str
    claims: dict[str, float] = field(default_factory=dict)
    words: dict[str, str] = field(default_factory=dict)
    poles: int = 14
    slots: int = 12
    retention: str = "hex_screw"
    winding: str = "single"
    base: str = "open"
    magnet: str = "arc"
    loads: tuple[tuple[int, str, float, float, float], ...] = ()
    """Of the maker's page: cells, propeller, thrust [gf], current [A], power [W]."""

    @property
    def full_name(self) -> str:
        """As the record names it."""
        return f"{self.maker} {self.name} {self.size_code} {self.kv:g}"

    @property
    def small(self) -> bool:
        """Below 20 mm: two prop screws instead of a nut, M2 mounts."""
        return float(self.size_code[:2]) < 20


_GOOD = {"magnet_grade": "N52H", "enamel_class": "H", "bearings": "9x4x4, sealed"}
_SMALL = {"magnet_grade": "N52", "enamel_class": "H", "bearings": "5x2x2.5"}

MOTORS = (
    DemoMotor(
        "Quillmoor",
        "Sable",
        "2105.5",
        1950,
        ("A", "B", "C"),
        "bought",
        {
            "mass_g": 24.8,
            "max_current_a": 26,
            "max_power_w": 420,
            "cells_min": 4,
            "cells_max": 4,
            "resistance_mohm": 71,
            "prop_min_in": 5,
            "prop_max_in": 5.1,
        },
        _GOOD,
    ),
    DemoMotor(
        "Quillmoor",
        "Sable",
        "2105.5",
        2650,
        ("A", "B"),
        "bought",
        {"mass_g": 24.9, "max_current_a": 34, "max_power_w": 545, "cells_max": 4},
        {"magnet_grade": "N52H", "enamel_class": "F"},
    ),
    DemoMotor(
        "Ostrel",
        "Drift",
        "2206",
        1900,
        ("A", "B", "C"),
        "loaned",
        {
            "mass_g": 30.1,
            "max_current_a": 36,
            "max_power_w": 580,
            "cells_min": 4,
            "cells_max": 6,
            "prop_max_in": 5.1,
        },
        _GOOD,
        winding="multi",
        # The last row is a slip of its page: five cells have no 24 V.
        loads=((4, "5.1x4.2x3", 1290.0, 33.0, 520.0), (5, "5.1x4.2x3", 1650.0, 41.0, 985.0)),
    ),
    DemoMotor(
        "Ostrel",
        "Drift Lite",
        "2205",
        2420,
        ("A", "B"),
        "sponsored",
        {"mass_g": 25.6, "max_current_a": 32, "max_thrust_gf": 1180},
        {"magnet_grade": "strong", "enamel_class": "H"},
        magnet="flat",
    ),
    DemoMotor(
        "Brackwater",
        "No. 4",
        "2306",
        1800,
        ("A", "B"),
        "bought",
        {
            "mass_g": 32.4,
            "max_current_a": 38,
            "max_power_w": 620,
            "cells_min": 4,
            "cells_max": 6,
            "max_thrust_gf": 1300,
        },
        _GOOD,
        retention="circlip",
        base="full",
    ),
    DemoMotor(
        "Fennick & Daw",
        "Teal",
        "1505",
        3600,
        ("A", "B"),
        "bought",
        {"mass_g": 13.2, "max_current_a": 17, "max_power_w": 260, "cells_min": 3, "cells_max": 4},
        _SMALL,
        poles=12,
        slots=9,
    ),
    DemoMotor(
        "Fennick & Daw",
        "Teal",
        "1404",
        4100,
        ("A", "B"),
        "bought",
        {"mass_g": 9.8},
        {},
        poles=12,
        slots=9,
    ),
    DemoMotor(
        "Hollin",
        "Pale",
        "2807",
        1250,
        ("A", "B"),
        "early",
        {
            "mass_g": 51.5,
            "max_current_a": 42,
            "max_power_w": 980,
            "cells_min": 5,
            "cells_max": 6,
            "prop_min_in": 6,
            "prop_max_in": 7.5,
        },
        {**_GOOD, "magnet_grade": "N52SH"},
        base="full",
    ),
    DemoMotor(
        "Hollin",
        "Pale",
        "2807",
        1480,
        ("A", "B"),
        "early",
        {
            "mass_g": 51.2,
            "max_current_a": 47,
            "max_power_w": 1090,
            "cells_min": 5,
            "cells_max": 6,
            "prop_min_in": 6,
            "prop_max_in": 7,
        },
        {**_GOOD, "magnet_grade": "N52SH"},
        base="full",
    ),
)

PROPELLERS = (
    ("Wickett", 5.1, 4.2, 3, 4.2),
    ("Wickett", 5.0, 3.6, 3, 3.9),
    ("Wickett", 5.1, 3.1, 2, 3.2),
    ("Sallow", 3.0, 3.0, 3, 1.3),
    ("Sallow", 4.0, 2.8, 3, 2.1),
    ("Corran", 7.0, 3.8, 3, 7.8),
    ("Corran", 7.5, 4.4, 3, 9.1),
    ("Corran", 6.1, 4.4, 3, 6.4),
    ("Corran", 6.0, 4.0, 2, None),
)
"""Maker, diameter and pitch [in], blades, and what one weighs [g] where somebody weighed it."""

HUBS = {
    "Wickett": {"bore_mm": 5.03, "hub_thickness_mm": 6.2},
    "Sallow": {"bore_mm": 2.03, "hub_thickness_mm": 5.0, "hole_circle_mm": 9.0, "hole_mm": 2.1},
    "Corran": {"bore_mm": 8.0, "hub_thickness_mm": 7.0},
}
"""What the hubs of a maker's propellers measure [mm]."""

UNMEASURED_HUBS = ("Corran 6x4x2",)
"""Propellers whose hub nobody has measured yet."""

SUPPLIES: tuple[dict[str, Any], ...] = (
    {
        "name": "Supply 16 V",
        "kind": "psu",
        "nominal_voltage_v": 16.0,
        "resistance_ohm": 0.004,
        "trip_a": 55.0,
    },
    {
        "name": "Supply 24 V",
        "kind": "psu",
        "nominal_voltage_v": 24.0,
        "resistance_ohm": 0.004,
        "trip_a": 55.0,
    },
    {
        "name": "Pack 4-1",
        "kind": "pack",
        "resistance_ohm": 0.011,
        "cells": 4,
        "capacity_mah": 1500.0,
        "rate_c": 60.0,
    },
    {
        "name": "Pack 4-2",
        "kind": "pack",
        "resistance_ohm": 0.013,
        "cells": 4,
        "capacity_mah": 1500.0,
        "rate_c": 60.0,
    },
    {
        "name": "Pack 4-3",
        "kind": "pack",
        "resistance_ohm": 0.021,
        "cycles": 140,
        "cells": 4,
        "capacity_mah": 1300.0,
    },
    {
        "name": "Pack 6-1",
        "kind": "pack",
        "resistance_ohm": 0.015,
        "cells": 6,
        "capacity_mah": 1300.0,
    },
    {
        "name": "Pack 6-2",
        "kind": "pack",
        "resistance_ohm": 0.017,
        "cells": 6,
        "capacity_mah": 1300.0,
    },
    {
        "name": "Old pack from the shed",
        "kind": "pack",
        "chemistry": "liion",
        "cells": 4,
        "capacity_mah": 3000.0,
        "note": "never measured",
    },
)

JOINED_SUPPLY: dict[str, Any] = {"name": "Packs 4-1 + 4-2", "joined": "parallel"}
JOINED_PACKS = ("Pack 4-1", "Pack 4-2")

ADAPTERS: tuple[dict[str, Any], ...] = (
    {"name": "Ring 5 to 8", "kind": "ring", "inner_mm": 5.02, "outer_mm": 7.98, "height_mm": 6.5},
    {
        "name": "Collet 3 to 3.2",
        "kind": "collet",
        "least_mm": 2.95,
        "most_mm": 3.2,
        "grip_mm": 8.0,
        "stud_mm": 5.0,
        "free_length_mm": 13.0,
        "nut_mm": 5.0,
        "washer_mm": 0.5,
    },
    {
        "name": "Stud for 9 mm",
        "kind": "bolt_on",
        "hole_circle_mm": 9.0,
        "hole_mm": 2.2,
        "stud_mm": 5.0,
        "free_length_mm": 12.0,
        "nut_mm": 5.0,
        "note": "its bore was never measured",
    },
)

ESCS: tuple[dict[str, Any], ...] = (
    {
        "name": "Tarn 45",
        "rated_a": 45.0,
        "burst_a": 55.0,
        "mass_g": 13.2,
        "protocol": "digital, 300 kbit/s",
        "linear": True,
        "settings": {"timing": "16°", "frequency": "48 kHz"},
    },
    {"name": "Fell single 30", "rated_a": 30.0, "note": "for the small ones"},
    {"name": "Unmarked, blue"},
)

STANDS: tuple[dict[str, Any], ...] = (
    {
        "name": "Yard stand",
        "kind": "direct",
        "repeatability_rel": 0.005,
        "calibration_rel": 0.008,
        "live": True,
        "note": "Load cell directly under the motor, torque arm, logging.",
    },
    {
        "name": "Lever and scale",
        "kind": "lever",
        "repeatability_rel": 0.015,
        "calibration_rel": 0.02,
        "live": False,
        "note": "Lever arm on a kitchen scale; read by eye.",
    },
    {
        "name": "Scale on the bench",
        "kind": "inverted",
        "note": "The motor presses on it; nobody measured how well it reads.",
    },
)
