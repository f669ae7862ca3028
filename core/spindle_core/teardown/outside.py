"""What is measured from outside, at intake, before anything is opened."""

from __future__ import annotations

from typing import Final

from spindle_core.teardown.words import Attribute, Choice

OUTSIDE: Final = "Outside"

ATTRIBUTES: Final = (
    Attribute(
        "total_height", OUTSIDE, "Height over all, shaft included", unit="mm", low=4, high=200
    ),
    Attribute("body_height", OUTSIDE, "Height of base and bell", unit="mm", low=3, high=150),
    Attribute("base_diameter", OUTSIDE, "Diameter of the base", unit="mm", low=4, high=140),
    Attribute(
        "shaft_side",
        OUTSIDE,
        "Where the shaft comes out",
        (
            Choice("bell", "on the bell's side"),
            Choice("base", "on the mounting side", "the propeller sits below the mount"),
            Choice("both", "on both sides"),
        ),
    ),
    Attribute("shaft_free_length", OUTSIDE, "Free shaft above the bell", unit="mm", low=0, high=60),
    Attribute(
        "prop_hold",
        OUTSIDE,
        "What holds the propeller",
        (
            Choice("nut", "a nut on the shaft"),
            Choice("two_screws", "two screws into the bell"),
            Choice("press", "pushed on"),
        ),
    ),
    Attribute("nut_height", OUTSIDE, "Height of the prop nut", unit="mm", low=1, high=20),
    Attribute("washer_height", OUTSIDE, "Washer under the nut", unit="mm", low=0, high=5),
    Attribute(
        "prop_hole_circle", OUTSIDE, "Circle of the two prop screws", unit="mm", low=2, high=40
    ),
    Attribute(
        "prop_hole_thread", OUTSIDE, "Thread of the two prop screws", unit="mm", low=1, high=5
    ),
    Attribute("mount_circle", OUTSIDE, "Circle of the mounting holes", unit="mm", low=3, high=80),
    Attribute(
        "mount_circle_second",
        OUTSIDE,
        "Second circle of the mounting holes",
        unit="mm",
        low=3,
        high=80,
    ),
    Attribute("mount_hole_count", OUTSIDE, "Mounting holes", unit="", low=2, high=12, integer=True),
    Attribute("mount_thread", OUTSIDE, "Thread of the mounting holes", unit="mm", low=1, high=6),
    Attribute(
        "lead_gauge", OUTSIDE, "Gauge of the leads", unit="AWG", low=10, high=34, integer=True
    ),
    Attribute(
        "lead_insulation",
        OUTSIDE,
        "Insulation of the leads",
        (
            Choice("silicone", "silicone", "soft, stands the iron"),
            Choice("pvc", "PVC", "melts at the iron"),
            Choice("ptfe", "PTFE", "thin and hard, stands heat"),
            Choice("other", "something else"),
        ),
    ),
    Attribute(
        "lead_length", OUTSIDE, "Length of the leads as they came", unit="mm", low=5, high=600
    ),
    Attribute("nut_mass", OUTSIDE, "Mass of the prop nut", unit="g", low=0.05, high=60),
    Attribute(
        "connector_mass", OUTSIDE, "Mass of the three connectors", unit="g", low=0.1, high=60
    ),
    Attribute("offcut_mass", OUTSIDE, "Mass of one weighed off-cut", unit="g", low=0.01, high=60),
    Attribute("offcut_length", OUTSIDE, "Length of that off-cut", unit="mm", low=5, high=600),
)
"""In the order in which callipers and scale go round the motor."""
