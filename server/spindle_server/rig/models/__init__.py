"""What a motor is tested with: propellers, supplies, ESCs and stands, and the bench day."""

from spindle_server.rig.models.adapter import ADAPTER_KINDS, ADAPTER_SIZES, NEEDED_SIZES, Adapter
from spindle_server.rig.models.bench_day import COMMAND_SOURCES, BenchDay
from spindle_server.rig.models.declaration import Declaration
from spindle_server.rig.models.driving import CHEMISTRY_CHOICES, JOINS, SUPPLY_KINDS, Esc, Supply
from spindle_server.rig.models.incident import GEAR, GEAR_INCIDENTS, GearIncident
from spindle_server.rig.models.pack_said import CHARGES, PackSaid
from spindle_server.rig.models.propeller import TURNS, Propeller
from spindle_server.rig.models.stand import (
    INSTRUMENT_KINDS,
    KEEPS,
    SIGNALS,
    STAND_KINDS,
    Calibration,
    DeadWeight,
    Instrument,
    MassCheck,
    Stand,
    StandState,
)

__all__ = [
    "ADAPTER_KINDS",
    "ADAPTER_SIZES",
    "CHARGES",
    "CHEMISTRY_CHOICES",
    "COMMAND_SOURCES",
    "GEAR",
    "GEAR_INCIDENTS",
    "INSTRUMENT_KINDS",
    "JOINS",
    "KEEPS",
    "NEEDED_SIZES",
    "SIGNALS",
    "STAND_KINDS",
    "SUPPLY_KINDS",
    "TURNS",
    "Adapter",
    "BenchDay",
    "Calibration",
    "DeadWeight",
    "Declaration",
    "Esc",
    "GearIncident",
    "Instrument",
    "MassCheck",
    "PackSaid",
    "Propeller",
    "Stand",
    "StandState",
    "Supply",
]
