"""Every word that a screen shows for what the record keeps as a key, from where it is defined."""

from __future__ import annotations

from typing import Any

from spindle_bench.limits import KINDS as LIMIT_KINDS
from spindle_bench.plan import (
    CHECKLIST,
    CHOSEN_CHECKLIST,
    KIND_CHECKLIST,
    LONGEST_PAGE_GRACE_S,
    PAGE_GRACE_S,
)
from spindle_bench.profiles import PLAYS
from spindle_core.figures.entry_units import ENTRY_UNITS
from spindle_core.figures.quantities import QUANTITIES
from spindle_core.formats.foreign.mapping import NAMES
from spindle_core.formats.foreign.units import UNITS
from spindle_core.model.pack import PACK_STATES
from spindle_core.reduction.kinds import KINDS, Parameter
from spindle_core.run.noticed import NOTICED, PURPOSES
from spindle_server import __version__
from spindle_server.accounts.models import Role
from spindle_server.afterwards import models as afterwards
from spindle_server.match import models as match
from spindle_server.motors import models as motors
from spindle_server.plan import models as plan
from spindle_server.rank import models as rank
from spindle_server.rig import models as rig
from spindle_server.runs import models as runs

NAME_WORDS = {"voltage": "voltage (16.8 or 4S)"}

CHOICES = {
    "motor_kind": motors.MOTOR_KINDS,
    "size_basis": motors.BASES,
    "turning": motors.TURNING,
    "obtained": motors.OBTAINED,
    "price_per": motors.PRICE_PER,
    "price_status": motors.PRICE_STATUS,
    "shipping": motors.SHIPPING,
    "availability": motors.AVAILABILITY,
    "part_kind": motors.PART_KINDS,
    "preparation": motors.PREPARATIONS,
    "incident": motors.INCIDENTS,
    "supply_kind": rig.SUPPLY_KINDS,
    "joined": rig.JOINS,
    "charge": rig.CHARGES,
    "adapter_kind": rig.ADAPTER_KINDS,
    "insulation": motors.INSULATION_CHOICES,
    "stand_kind": rig.STAND_KINDS,
    "chemistry": rig.CHEMISTRY_CHOICES,
    "gear_incident": rig.GEAR_INCIDENTS,
    "pack_state": tuple(PACK_STATES.items()),
    "prop_turns": rig.TURNS,
    "instrument_kind": rig.INSTRUMENT_KINDS,
    "instrument_keeps": rig.KEEPS,
    "instrument_signal": rig.SIGNALS,
    "command_source": rig.COMMAND_SOURCES,
    "review": runs.REVIEW_CHOICES,
    "outcome": runs.OUTCOME_CHOICES,
    "question": plan.QUESTIONS,
    "layout": match.LAYOUTS,
    "use": rank.USES,
    "mass_basis": match.MASS_BASES,
    "wind": afterwards.WINDS,
    "letter": afterwards.LETTERS,
    "trigger": afterwards.TRIGGERS,
    "purpose": tuple(PURPOSES.items()),
    "log_name": tuple((name, f"names the {NAME_WORDS.get(name, name)}") for name in NAMES),
    "role": Role.choices,
}


def vocabulary() -> dict[str, Any]:
    """Quantities, kinds of run, limits, the checklist and the words of every choice."""
    return {
        "version": __version__,
        "quantities": list(QUANTITIES.values()),
        "run_kinds": [
            {
                "key": kind.key,
                "label": kind.label,
                "commands": kind.commands,
                "needs_propeller": kind.needs_propeller,
                "played": kind.key in PLAYS,
                "headline": list(kind.headline),
                "first_look": list(kind.first_look),
                "parameters": [_parameter(item) for item in kind.parameters],
            }
            for kind in KINDS.values()
        ],
        "limits": [
            {
                "name": name,
                "label": kind.field or kind.label,
                "unit": kind.unit,
                "low": kind.lowest,
                "high": kind.highest,
                "can_be_off": kind.can_be_off,
                "unwatched": kind.unwatched,
                "usual": kind.usual,
            }
            for name, kind in LIMIT_KINDS.items()
            if kind.channel
        ],
        "entry_units": [
            {
                "unit": unit,
                "name": one.name,
                "factor": one.factor,
                "offset": one.offset,
                "spellings": list(one.spellings),
            }
            for unit, others in ENTRY_UNITS.items()
            for one in others
        ],
        "log_channels": [
            {"name": name, "label": QUANTITIES[name].label, "units": [unit.name for unit in units]}
            for name, units in UNITS.items()
        ],
        "noticed": [
            {
                "key": one.key,
                "label": one.label,
                "unit": one.unit,
                "low": one.low,
                "high": one.high,
                "choices": [
                    {"key": key, "label": label} for key, label in (one.choices or {}).items()
                ],
            }
            for one in NOTICED.values()
        ],
        "checklist": [{"key": key, "text": text} for key, text in CHECKLIST.items()],
        "kind_checklist": [
            {"kind": kind, "key": key, "text": text}
            for kind, own in KIND_CHECKLIST.items()
            for key, text in own.items()
        ],
        "chosen_checklist": [{"key": key, "text": text} for key, text in CHOSEN_CHECKLIST.items()],
        "page_grace_s": PAGE_GRACE_S,
        "longest_page_grace_s": LONGEST_PAGE_GRACE_S,
        "choices": {
            name: [{"key": key, "label": label} for key, label in choices]
            for name, choices in CHOICES.items()
        },
    }


def _parameter(item: Parameter) -> dict[str, Any]:
    usual = item.default
    several: list[float] | None = None
    if usual is not None:
        several = list(usual) if isinstance(usual, tuple) else [usual]
    return {
        "name": item.name,
        "label": item.label,
        "unit": item.unit,
        "low": item.low,
        "high": item.high,
        "many": item.many,
        "optional": item.optional,
        "default": several,
    }
