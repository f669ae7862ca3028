"""Magnets and bell."""

from __future__ import annotations

from typing import Final

from spindle_core.teardown.words import Attribute, Choice, Topic, yes_no

POWER, HEAT, LASTS, SERVICE, COST, MASS = Topic

MAGNETS, BELL = "Magnets", "Bell"

OF_MAGNETS: Final = (
    Attribute("pole_count", MAGNETS, "Magnets (poles)", unit="", low=2, high=96, integer=True),
    Attribute(
        "magnet_shape",
        MAGNETS,
        "Magnet shape",
        (
            Choice("arc", "arc", "even gap, more torque per gram", (POWER,), (COST,)),
            Choice("flat", "flat", "cheaper; gap widens at the edges", (COST,), (POWER,)),
        ),
    ),
    Attribute(
        "magnet_inner_diameter",
        MAGNETS,
        "Inner diameter across the magnets",
        unit="mm",
        low=4,
        high=120,
    ),
    Attribute(
        "air_gap_by_eye",
        MAGNETS,
        "Air gap by eye",
        (
            Choice("tight", "tight", "more torque for the copper", (POWER,), (LASTS,)),
            Choice("medium", "medium"),
            Choice("wide", "wide", "forgives dirt and a bent shaft", (LASTS,), (POWER,)),
            Choice("uneven", "uneven round the turn", "bell or stator out of true", (), (LASTS,)),
        ),
        counterpoint=(
            "One school takes a tight gap for quality, the other for a rub after the first crash; "
            "measured diameters settle how tight it is."
        ),
        ordinal=("tighter", "about the same", "wider"),
    ),
    Attribute("magnet_thickness", MAGNETS, "Magnet thickness", unit="mm", low=0.3, high=8),
    Attribute("magnet_height", MAGNETS, "Magnet height", unit="mm", low=1, high=80),
    Attribute(
        "magnet_spacing",
        MAGNETS,
        "Spacing of the magnets",
        (
            Choice("even", "even"),
            Choice("tight", "touching", "more magnet, less copper in the ring's way", (POWER,)),
            Choice("uneven", "uneven", "expect a vibration once a turn", (), (LASTS,)),
        ),
        ordinal=("closer", "about the same", "wider"),
    ),
    Attribute(
        "magnet_bonding",
        MAGNETS,
        "How the magnets are held",
        (
            Choice("flush", "glued flush"),
            Choice(
                "lip", "glued, with a stop edge below", "cannot slide out of the bell", (LASTS,)
            ),
            Choice("loose", "one is loose", "do not run: an open point", (), (LASTS,)),
        ),
    ),
    Attribute(
        "balancing",
        MAGNETS,
        "How it is balanced",
        (
            Choice("none", "no trace of it"),
            Choice("putty", "putty", "balanced after assembly", (LASTS,)),
            Choice("drilled", "drilled", "balanced for good", (LASTS,), (COST,)),
        ),
        counterpoint="A bell machined well needs no putty; its absence alone is no fault.",
    ),
)

OF_BELL: Final = (
    Attribute(
        "bell_outer_diameter", BELL, "Outer diameter of the bell", unit="mm", low=5, high=140
    ),
    Attribute("ring_thickness", BELL, "Thickness of the flux ring", unit="mm", low=0.3, high=6),
    Attribute(
        "bell_build",
        BELL,
        "Bell and shaft",
        (
            Choice(
                "one_piece", "machined as one", "nothing to come loose on impact", (LASTS,), (COST,)
            ),
            Choice("two_piece", "joined", "look where they join", (SERVICE, COST)),
        ),
    ),
    Attribute(
        "ring_parting",
        BELL,
        "What keeps ring and bell together on impact?",
        (
            Choice("no", "a shoulder or pins", "holds on impact", (LASTS,)),
            Choice("glue_only", "glue alone", "may come loose on impact", (), (LASTS,)),
        ),
    ),
    Attribute(
        "bell_top",
        BELL,
        "Top of the bell",
        (
            Choice("spokes", "spokes", "air gets in", (HEAT, MASS)),
            Choice("fins", "fins", "moves air through the windings", (HEAT,), (COST,)),
            Choice("closed", "closed", "keeps dirt out", (LASTS,), (HEAT,)),
        ),
        counterpoint="Under a propeller the wash cools more than any fin.",
    ),
    Attribute(
        "bell_finish",
        BELL,
        "Finish of the bell",
        (
            Choice("clean", "clean edges", "machined with care"),
            Choice("rough", "rough or sharp", "cuts wires and fingers", (), (SERVICE,)),
        ),
        ordinal=("rougher", "about the same", "cleaner"),
    ),
    Attribute(
        "prop_knurling",
        BELL,
        "Grip under the prop",
        yes_no("the prop cannot slip", "tighten the nut well", helps=(LASTS,)),
    ),
    Attribute(
        "rotor_overhang", BELL, "Bell past the stator at the bottom", unit="mm", low=0, high=20
    ),
)
