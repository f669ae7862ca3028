"""What a row of a maker's table should read by what is known of motor and propeller.

A maker states a load on so many cells and rarely at which voltage: anything from nominal to full.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.intake.claimed_loads import STATED
from spindle_core.intake.propeller_code import propeller_readings
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller, known_propeller
from spindle_core.planning.predict import KnownSupply, Prediction, predict
from spindle_core.planning.prior import propeller_prior

CELL_V, CELL_HALF_WIDTH_V = 3.95, 0.25
"""Voltage of a cell that a table was made at: from 3.7 V (nominal) to 4.2 V (full)."""

CELL_OHM = 0.0015
"""Between a stiff supply and a pack [Ω a cell], known to within as much."""


def table_supply(cells: int) -> KnownSupply:
    """So many cells as a maker may have had them."""
    half = math.sqrt(3.0)
    volts = {"assumed_cell_voltage": CELL_HALF_WIDTH_V * cells / half}
    ohm = {"assumed_supply_resistance": CELL_OHM * cells / half}
    return KnownSupply(
        Measured(CELL_V * cells, volts, origin=Origin.ESTIMATED),
        Measured(CELL_OHM * cells, ohm, origin=Origin.ESTIMATED),
    )


def propeller_by_words(words: str) -> KnownPropeller | Absent:
    """A propeller that the bench does not have, by its geometry as a maker writes it.

    :returns: absent where the words say no geometry, or can be read in several ways.
    """
    try:
        readings = propeller_readings(words)
    except CoreError:
        return Absent("no_geometry", f"“{words}” says no diameter and pitch")
    if len(readings) > 1:
        return Absent("ambiguous", f"“{words}” can be read in {len(readings)} ways")
    (one,) = readings
    prior = propeller_prior(one.diameter_in, one.pitch_in, one.blades)
    return known_propeller(None, diameter_in=one.diameter_in, prior=prior)


def foreseen_load(
    motor: KnownMotor, propeller: KnownPropeller, *, cells: int, density_kg_per_m3: Measured
) -> tuple[Mapping[str, Figure], str]:
    """Thrust [gf], current [A] and power [W] at full throttle on so many cells, all estimated, and
    what they rest on in words."""
    found: Prediction = predict(motor, propeller, table_supply(cells), density_kg_per_m3)
    return {name: found.figures[name] for name in STATED}, found.words


def best_known(samples: Sequence[KnownMotor | Absent]) -> KnownMotor | Absent:
    """The one that most is known of: identified before siblings before a guess."""
    known = [one for one in samples if isinstance(one, KnownMotor)]
    if not known:
        first = next((one for one in samples if isinstance(one, Absent)), None)
        return first or Absent("no_sample", "the motor has no sample")
    return min(known, key=lambda one: list(Foundation).index(one.basis))
