"""Stator, winding and base."""

from __future__ import annotations

from typing import Final

from spindle_core.teardown.words import Attribute, Choice, Topic, yes_no

POWER, HEAT, LASTS, SERVICE, COST, MASS = Topic

STATOR, WINDING, BASE = "Stator", "Winding", "Base"

OF_STATOR: Final = (
    Attribute("slot_count", STATOR, "Stator slots", unit="", low=3, high=96, integer=True),
    Attribute("stator_diameter", STATOR, "Stator diameter", unit="mm", low=4, high=120),
    Attribute("stator_height", STATOR, "Stator height (iron only)", unit="mm", low=1, high=60),
    Attribute("tooth_length", STATOR, "Length of a tooth", unit="mm", low=1, high=40),
    Attribute(
        "hub_diameter", STATOR, "Outer diameter of the bearing tube", unit="mm", low=2, high=60
    ),
    Attribute(
        "tooth_width", STATOR, "Width of a tooth, where narrowest", unit="mm", low=0.5, high=20
    ),
    Attribute(
        "laminations_by_eye",
        STATOR,
        "Laminations by eye",
        (
            Choice(
                "fine", "finer than a sheet of card", "less loss at high speed", (HEAT,), (COST,)
            ),
            Choice("usual", "as a sheet of card"),
            Choice("coarse", "coarser", "more loss at high speed", (COST,), (HEAT,)),
            Choice("hidden", "hidden under the coating"),
        ),
        counterpoint="The alloy says as much as the thickness, and no eye sees it.",
        ordinal=("finer", "about the same", "coarser"),
    ),
    Attribute("lamination_thickness", STATOR, "Lamination thickness", unit="mm", low=0.05, high=1),
    Attribute(
        "stator_coating",
        STATOR,
        "Coating of the stator",
        (
            Choice("epoxy", "epoxy all over", "keeps wire off sharp iron", (LASTS,)),
            Choice("ends", "insulating end caps", "less room for copper", (LASTS,), (POWER,)),
            Choice("bare", "bare", "look for scraped enamel", (COST,), (LASTS,)),
        ),
    ),
)

OF_WINDING: Final = (
    Attribute(
        "winding",
        WINDING,
        "Winding",
        (
            Choice("single", "single strand", "fills the slot, sheds heat well", (HEAT,)),
            Choice("multi", "several strands", "easier to wind, more joints of enamel", (COST,)),
        ),
        counterpoint="Several strands reach the same copper area where one would be too stiff.",
    ),
    Attribute(
        "strand_count", WINDING, "Strands side by side", unit="", low=1, high=60, integer=True
    ),
    Attribute("wire_diameter", WINDING, "Diameter of one strand", unit="mm", low=0.05, high=3),
    Attribute(
        "winding_neatness",
        WINDING,
        "Neatness of the winding",
        (
            Choice("even", "even", "full slots", (POWER, HEAT)),
            Choice("crossed", "some crossings"),
            Choice("untidy", "untidy", "less copper, hot spots", (), (POWER, HEAT)),
        ),
        ordinal=("less neat", "about the same", "neater"),
    ),
    Attribute(
        "copper_room",
        WINDING,
        "Room left in the slots",
        (
            Choice("full", "full", "as much copper as fits", (POWER, HEAT), (COST,)),
            Choice("some", "some left"),
            Choice("much", "much left", "more copper would have fitted", (COST,), (POWER, HEAT)),
        ),
        ordinal=("less room", "about the same", "more room"),
    ),
    Attribute(
        "winding_material",
        WINDING,
        "What the wire is",
        (
            Choice("copper", "copper"),
            Choice(
                "clad", "copper-clad aluminium", "lighter and hotter", (COST, MASS), (POWER, HEAT)
            ),
            Choice("plated", "plated copper, silvery where scraped", "solders easily", (SERVICE,)),
            Choice(
                "alloy", "an alloy, hard and springy", "more ohms for its area", (), (POWER, HEAT)
            ),
        ),
        counterpoint="Plating is often taken for an alloy; only a resistance or a cut tells.",
    ),
    Attribute(
        "destructive_check",
        WINDING,
        "What was taken apart for good",
        (
            Choice("none", "nothing", "the sample stays whole", (SERVICE,)),
            Choice("stripped", "a wire was stripped and cut"),
            Choice("burnt", "the enamel was burnt off"),
            Choice("unwound", "a tooth was unwound"),
            Choice("pulled", "a magnet or the shaft was pulled out by force"),
        ),
        counterpoint="What was destroyed cannot be run again: do it last, on one sample.",
    ),
    Attribute(
        "enamel_class",
        WINDING,
        "Temperature class written on it",
        (
            Choice("B", "B, 130 °C"),
            Choice("F", "F, 155 °C"),
            Choice("H", "H, 180 °C", "the usual of good motors", (HEAT,)),
            Choice("N", "N, 200 °C", "", (HEAT,)),
            Choice("R", "R, 220 °C", "", (HEAT,), (COST,)),
        ),
        counterpoint="A class is a claim until somebody burns a winding on purpose.",
    ),
    Attribute(
        "lead_relief",
        WINDING,
        "Strain relief of the leads",
        (
            Choice("glued", "glued or tied down", "a tug stays outside", (LASTS,)),
            Choice("none", "none", "a tug goes to the winding", (), (LASTS,)),
        ),
    ),
)

OF_BASE: Final = (
    Attribute(
        "base_type",
        BASE,
        "Base",
        (
            Choice("open", "open", "cools better, lighter", (HEAT, MASS)),
            Choice("full", "full", "stiffer in a crash, keeps dirt out", (LASTS,), (HEAT, MASS)),
        ),
        counterpoint="An open base cools better only with air moving past it.",
    ),
    Attribute(
        "base_thickness",
        BASE,
        "Base thickness at the screws",
        unit="mm",
        low=0.5,
        high=10,
        counterpoint="Thick holds the screws and survives; thin saves a gram where nothing breaks.",
    ),
    Attribute(
        "base_neatness",
        BASE,
        "How the base is made",
        (
            Choice("clean", "clean, edges broken"),
            Choice("burrs", "burrs or chatter marks", "look for chips in the motor", (), (LASTS,)),
            Choice("pocketed", "pocketed to save mass", "lighter, dearer", (MASS,), (COST, LASTS)),
        ),
        counterpoint="Some read clean machining as care everywhere; it cools and pulls no better.",
        ordinal=("rougher", "about the same", "neater"),
    ),
    Attribute("thread_depth", BASE, "Depth of the mounting threads", unit="mm", low=0.5, high=12),
    Attribute(
        "screw_clearance", BASE, "Clearance from thread to winding", unit="mm", low=0, high=10
    ),
    Attribute(
        "cable_retention",
        BASE,
        "Where the leads leave the base",
        (
            Choice("channel", "a channel", "cannot be pinched", (LASTS,)),
            Choice("open", "over an edge", "look for a sharp edge", (), (LASTS,)),
        ),
    ),
    Attribute(
        "bottom_of_shaft",
        BASE,
        "Bottom of the shaft",
        (
            Choice("flush", "inside the base"),
            Choice("proud", "stands out", "may touch a flat arm: an open point", (), (LASTS,)),
        ),
    ),
    Attribute(
        "crash_marks",
        BASE,
        "Marks of a crash or of tools",
        yes_no("not new: ask where it has been", costs=(LASTS,)),
    ),
)
