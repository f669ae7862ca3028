"""Evidence and fits as plain JSON data: what the server keeps between one fit and the next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields
from typing import Any, Final

from spindle_core.figures.measured import Absent, Figure
from spindle_core.formats.result_json import figure_from_json, figure_to_json
from spindle_core.identification.blocks import Block
from spindle_core.identification.motor import MotorFit
from spindle_core.identification.no_load import NoLoad
from spindle_core.identification.propeller import PropellerFit
from spindle_core.run.stand import Stand

_OUTSIDE = ("run", "stand", "source")
_BLOCK: Final = tuple(field.name for field in fields(Block) if field.name not in _OUTSIDE)


def blocks_to_json(blocks: Sequence[Block]) -> dict[str, Any]:
    """Blocks of one run as rows under one head; stand and run are told by whoever keeps them."""
    return {
        "columns": list(_BLOCK),
        "rows": [[getattr(block, name) for name in _BLOCK] for block in blocks],
    }


def blocks_from_json(data: dict[str, Any], *, stand: Stand, source: str) -> tuple[Block, ...]:
    """The blocks that :func:`blocks_to_json` wrote, of the run ``source`` made on ``stand``."""
    blocks = []
    for row in data["rows"]:
        known = dict(zip(data["columns"], row, strict=True))
        known["heat_a2s"] = tuple(known["heat_a2s"])
        blocks.append(Block(run=0, stand=stand, source=source, **known))
    return tuple(blocks)


def _figure(figure: Figure) -> dict[str, Any]:
    if isinstance(figure, Absent):
        return {"absent": figure.reason, "note": figure.note}
    return figure_to_json(figure) or {}


def _back(data: dict[str, Any]) -> Figure:
    if "absent" in data:
        return Absent(data["absent"], data["note"])
    return figure_from_json(data)


_MOTOR_FIGURES = ("kv_rpm_per_v", "resistance_ohm", "kt_nm_per_a", "heat_ohm_per_a2s")
_IDLE_FIGURES = ("current_a", "offset_a", "slope_a_per_rpm")
_MOTOR_FACTS = (
    "motor",
    "kv_resistance_covariance",
    "resistance_at_c",
    "winding_time_s",
    "chi2_per_freedom",
    "blocks",
    "runs",
)
_PROPELLER_FIGURES = ("ct", "cp", "ct_exponent", "cp_exponent")
_PROPELLER_FACTS = ("propeller", "diameter_in", "rpm_reference", "points", "runs")


def motor_fit_to_json(fit: MotorFit) -> dict[str, Any]:
    """A motor's fit; an absent figure is ``{"absent": reason, "note"}``."""
    return {
        **{name: getattr(fit, name) for name in _MOTOR_FACTS},
        **{name: _figure(getattr(fit, name)) for name in _MOTOR_FIGURES},
        "start_case_c": list(fit.start_case_c) if fit.start_case_c else None,
        "no_load": {
            "speed_rpm": fit.no_load.speed_rpm,
            **{name: _figure(getattr(fit.no_load, name)) for name in _IDLE_FIGURES},
        },
    }


def motor_fit_from_json(data: dict[str, Any]) -> MotorFit:
    """The fit that :func:`motor_fit_to_json` wrote, without loss."""
    idle = data["no_load"]
    span = data["start_case_c"]
    known: dict[str, Any] = {name: data[name] for name in _MOTOR_FACTS}
    known |= {name: _back(data[name]) for name in _MOTOR_FIGURES}
    return MotorFit(
        **known,
        no_load=NoLoad(
            speed_rpm=idle["speed_rpm"], **{name: _back(idle[name]) for name in _IDLE_FIGURES}
        ),
        start_case_c=(span[0], span[1]) if span else None,
    )


def propeller_fit_to_json(fit: PropellerFit) -> dict[str, Any]:
    """A propeller's fit; an absent figure is ``{"absent": reason, "note"}``."""
    return {
        **{name: getattr(fit, name) for name in _PROPELLER_FACTS},
        **{name: _figure(getattr(fit, name)) for name in _PROPELLER_FIGURES},
    }


def propeller_fit_from_json(data: dict[str, Any]) -> PropellerFit:
    """The fit that :func:`propeller_fit_to_json` wrote, without loss."""
    known: dict[str, Any] = {name: data[name] for name in _PROPELLER_FACTS}
    known |= {name: _back(data[name]) for name in _PROPELLER_FIGURES}
    return PropellerFit(**known)
