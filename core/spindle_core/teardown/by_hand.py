"""Before anything is opened, how the bell is held, and what it turns on."""

from __future__ import annotations

from typing import Final

from spindle_core.teardown.words import Attribute, Choice, Topic, yes_no

POWER, HEAT, LASTS, SERVICE, COST, MASS = Topic

HAND, RETENTION, SHAFT = "Turning by hand", "Retention", "Shaft and bearings"

ATTRIBUTES: Final = (
    Attribute(
        "radial_play",
        HAND,
        "Play when the bell is pushed sideways",
        (
            Choice("none", "none", "bearings fit well", (LASTS,)),
            Choice("slight", "slight", "usual after a few packs"),
            Choice(
                "clear", "clear", "worn or loose bearings; expect noise and rubbing", (), (LASTS,)
            ),
        ),
        ordinal=("less play", "about the same", "more play"),
    ),
    Attribute(
        "axial_play",
        HAND,
        "Play when the bell is pulled",
        (
            Choice("none", "none", "shimmed well"),
            Choice("slight", "slight", "room for heat to grow the shaft"),
            Choice("clear", "clear", "a washer may be missing", (), (LASTS,)),
        ),
        counterpoint="Some builders leave a hair of axial play so that a hot bell does not drag.",
        ordinal=("less play", "about the same", "more play"),
    ),
    Attribute(
        "twist_play",
        HAND,
        "Give when the bell is twisted against the base",
        (
            Choice("none", "none", "shaft and bell are one"),
            Choice(
                "slight",
                "slight",
                "watch it: a screw or a press fit may be working loose",
                (),
                (LASTS,),
            ),
            Choice("clear", "clear", "the bell turns on its shaft: do not run", (), (LASTS,)),
        ),
        ordinal=("less give", "about the same", "more give"),
    ),
    Attribute(
        "free_spin",
        HAND,
        "How it spins when flicked",
        (
            Choice("long", "long and quiet", "low drag", (POWER,)),
            Choice("short", "stops soon", "tight bearings or strong cogging"),
            Choice("rough", "rough or dry", "dry or dirty bearing: an open point", (), (LASTS,)),
            Choice("rubs", "rubs", "bell touches the stator: do not run", (), (LASTS,)),
        ),
        ordinal=("spins shorter", "about the same", "spins longer"),
    ),
    Attribute(
        "notching",
        HAND,
        "How strong the notches are",
        (
            Choice("strong", "strong", "strong magnets and a tight gap", (POWER,)),
            Choice("medium", "medium"),
            Choice("weak", "weak", "weak magnets, a wide gap, or teeth shaped to hide it"),
        ),
        counterpoint="Notches say how the teeth end as much as how strong the magnets are.",
        ordinal=("weaker", "about the same", "stronger"),
    ),
    Attribute(
        "bell_retention",
        RETENTION,
        "What holds the bell",
        (
            Choice("circlip", "circlip", "light; needs pliers and a spare", (), (SERVICE,)),
            Choice("c_clip", "C-clip", "light; lost easily on removal", (), (SERVICE,)),
            Choice("hex_screw", "hex screw", "quick to service; check the thread-lock", (SERVICE,)),
        ),
        counterpoint="A screw serves faster, a clip cannot drag the bell when overtightened.",
    ),
    Attribute("screw_thread", RETENTION, "Thread of the bell screw", unit="mm", low=1, high=6),
    Attribute(
        "bell_screw_direction",
        RETENTION,
        "Thread direction of the bell screw",
        (
            Choice("right", "right-hand", "any screw replaces it", (SERVICE,)),
            Choice("left", "left-hand", "cannot be shaken loose one way", (LASTS,), (SERVICE,)),
        ),
        counterpoint="Left-hand screws are broken by those who do not expect them.",
    ),
    Attribute(
        "bell_screw_head_depth",
        RETENTION,
        "Depth of the key's socket in the bell screw",
        unit="mm",
        low=0.3,
        high=6,
    ),
    Attribute(
        "screw_head",
        RETENTION,
        "Head of the bell screw",
        (
            Choice("socket", "hex socket", "holds a key well", (SERVICE,)),
            Choice("torx", "six-lobed", "holds a key best", (SERVICE,)),
            Choice("cross", "cross", "strips first", (), (SERVICE,)),
            Choice("none", "no screw"),
        ),
    ),
    Attribute(
        "thread_lock",
        RETENTION,
        "Thread-lock on it",
        yes_no(
            "stays put; heat it before turning", "check it before the first run", helps=(LASTS,)
        ),
    ),
    Attribute(
        "thread_direction",
        RETENTION,
        "Thread of the prop side",
        (
            Choice("right", "right-hand"),
            Choice(
                "left", "left-hand", "tightens itself on a motor that turns the other way", (LASTS,)
            ),
        ),
        counterpoint="Self-tightening threads are one more spare part to keep apart.",
    ),
    Attribute(
        "screw_drags_bell",
        RETENTION,
        "Does tightening the screw drag the bell?",
        (
            Choice("no", "no"),
            Choice(
                "yes", "yes", "shims missing or screw too long: an open point", (), (LASTS, SERVICE)
            ),
            Choice("no_screw", "no screw"),
        ),
    ),
    Attribute(
        "pull_force",
        RETENTION,
        "Force to pull the bell",
        (
            Choice("light", "light", "weak magnets or a wide gap", (SERVICE,)),
            Choice("firm", "firm"),
            Choice(
                "strong",
                "very strong",
                "strong magnets, tight gap; mind the fingers",
                (POWER,),
                (SERVICE,),
            ),
        ),
        ordinal=("lighter", "about the same", "stronger"),
    ),
    Attribute("shaft_diameter", SHAFT, "Shaft diameter at the prop", unit="mm", low=0.5, high=12),
    Attribute(
        "shaft_inner_diameter",
        SHAFT,
        "Shaft diameter inside the bearings",
        unit="mm",
        low=0.5,
        high=12,
    ),
    Attribute(
        "shaft_type",
        SHAFT,
        "Shaft",
        (
            Choice("solid", "solid", "stiffer, heavier", (LASTS,)),
            Choice("hollow", "hollow", "lighter; ask how thick its wall is", (), (COST,)),
        ),
        counterpoint="A hollow shaft of good steel bends no sooner than a thin solid one.",
    ),
    Attribute(
        "shaft_material",
        SHAFT,
        "Shaft material",
        (
            Choice("steel", "steel", "bends late", (LASTS,)),
            Choice("titanium", "titanium", "light, dear, springs back", (LASTS,), (COST,)),
            Choice("aluminium", "aluminium", "light, bends early", (COST,), (LASTS,)),
        ),
    ),
    Attribute(
        "shaft_magnetic",
        SHAFT,
        "Does a magnet stick to the shaft?",
        yes_no("steel", "titanium, aluminium or stainless steel"),
    ),
    Attribute(
        "shaft_one_piece",
        SHAFT,
        "Shaft and prop thread are one piece",
        yes_no("nothing to work loose", "look where they join", helps=(LASTS,)),
    ),
    Attribute(
        "washers",
        SHAFT,
        "Washers between bell and bearing",
        (
            Choice("none", "none", "the bell rides on the bearing", (), (LASTS,)),
            Choice("one", "one"),
            Choice("several", "several", "shimmed by hand; note their order", (LASTS,), (SERVICE,)),
        ),
    ),
    Attribute(
        "bearing_cushion",
        SHAFT,
        "Rubber ring under the upper bearing",
        yes_no("takes up hits and heat", helps=(LASTS,)),
    ),
    Attribute(
        "bearing_outer_diameter", SHAFT, "Outer diameter of a bearing", unit="mm", low=2, high=40
    ),
    Attribute("bearing_height", SHAFT, "Height of a bearing", unit="mm", low=1, high=15),
    Attribute(
        "bearing_marked",
        SHAFT,
        "Is a maker marked on the bearings?",
        yes_no("note what is written there", helps=(SERVICE,)),
    ),
    Attribute(
        "bearing_print",
        SHAFT,
        "What is printed on a bearing",
        (
            Choice("nothing", "nothing"),
            Choice("size", "its size", "a replacement can be bought", (SERVICE,)),
            Choice(
                "name", "a maker and a size", "a replacement of its kind can be bought", (SERVICE,)
            ),
            Choice("unreadable", "something that cannot be read"),
        ),
        counterpoint="A print is a claim too; balls and cages are inside.",
    ),
    Attribute(
        "bearing_fit",
        SHAFT,
        "Bearing fit",
        (
            Choice("press", "pressed tight", "stays put; harder to replace", (LASTS,), (SERVICE,)),
            Choice("slide", "slides out", "easy to replace; may creep", (SERVICE,), (LASTS,)),
            Choice("glued", "glued", "needs heat to replace", (LASTS,), (SERVICE,)),
        ),
    ),
)
"""In the order of looking."""
