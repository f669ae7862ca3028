"""Motors, propellers and supplies that are known exactly, or with a u that the test chooses."""

from spindle_core.figures.measured import Measured
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller
from spindle_core.planning.predict import KnownSupply


def exactly(value, u=0.0):
    return Measured(value, {"guess": u} if u else {})


def motor(kv=1900.0, ohm=0.15, idle=1.2, **parts):
    return KnownMotor(
        exactly(kv, parts.get("u_kv", 0)),
        exactly(ohm, parts.get("u_ohm", 0)),
        exactly(idle, parts.get("u_idle", 0)),
        0.0,
        exactly(parts.get("warming", 0.0)),
        4.0,
        Foundation.IDENTIFIED,
        "known",
    )


def propeller(ct=0.21, cp=0.145, **more):
    return KnownPropeller(
        5.1,
        exactly(ct, more.pop("u_ct", 0)),
        exactly(cp, more.pop("u_cp", 0)),
        Foundation.IDENTIFIED,
        "known",
        **more,
    )


def supply(volts, ohm=1e-12):
    return KnownSupply(exactly(volts), exactly(ohm))
