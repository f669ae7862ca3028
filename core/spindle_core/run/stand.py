"""What a stand declares about itself: calibration, resolution and repeatability of each channel.

These are type B uncertainties (GUM 4.3): they do not show in the scatter of one run, and a
longer run does not shrink them. What a stand does not declare is assumed by kind of instrument
(:mod:`spindle_core.figures.instruments`) and marked as assumed.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import STANDARD_GRAVITY_M_PER_S2
from spindle_core.figures.instruments import INSTRUMENTS, Assumed, assumed_accuracy
from spindle_core.figures.measured import component
from spindle_core.figures.quantities import CHANNELS

GRAVITY_RELATIVE_U = 0.0015
"""Local gravity against the standard one, where the stand does not say [relative u]."""

ASSUMED_REPEATABILITY = 0.02
"""Relative s of one run where neither the stand declares it nor repeats show it."""


@dataclass(frozen=True, slots=True)
class Stand:
    """Declared properties of a stand.

    ``name``: which stand; runs of an unnamed one share no calibration with others.
    ``calibration``: channel → relative standard uncertainty of its gain.
    ``resolution``: channel → smallest step [unit of the channel].
    ``repeatability``: relative standard deviation of one run against the next, 0: not declared.
    ``gravity_m_per_s2``: local gravity; a cell calibrated with weights reads in units of it.
    ``instruments``: channel → kind of instrument, for what is not declared.
    ``arms_relative_u``: of a lever between motor and scale, where no calibration holds it already;
    ``arms_assumed``: whether nobody measured how well its arms are known.
    """

    calibration: Mapping[str, float] = field(default_factory=dict)
    resolution: Mapping[str, float] = field(default_factory=dict)
    repeatability: float = 0.0
    gravity_m_per_s2: float | None = None
    name: str = ""
    instruments: Mapping[str, str] = field(default_factory=dict)
    arms_relative_u: float = 0.0
    arms_assumed: bool = False

    def __post_init__(self) -> None:
        values = [
            self.repeatability,
            self.arms_relative_u,
            *self.calibration.values(),
            *self.resolution.values(),
        ]
        if not all(math.isfinite(value) and value >= 0 for value in values):
            raise QuantityError("A stand's declared uncertainties must be finite and not below 0.")
        for channel, kind in self.instruments.items():
            if kind not in INSTRUMENTS:
                raise QuantityError(
                    f"{kind!r} is no kind of instrument for {channel}; kinds are: "
                    f"{', '.join(INSTRUMENTS)}.",
                    code="instrument",
                )

    @property
    def gravity_factor(self) -> float:
        """Gram-force (of standard gravity) for each gram on a cell calibrated with weights."""
        if self.gravity_m_per_s2 is None:
            return 1.0
        return self.gravity_m_per_s2 / STANDARD_GRAVITY_M_PER_S2

    def assumed(self, channel: str) -> Assumed | None:
        """What is assumed of a channel; None where the stand declares it."""
        if channel in self.calibration:
            return None
        return assumed_accuracy(channel, self.instruments.get(channel))

    def gains(self, channel: str, run: str) -> dict[str, float]:
        """Relative standard uncertainties that scale a whole channel, by component.

        The same for all runs of a named stand, so that they cancel between them.

        :param run: whose run it is, for a stand that has no name.
        """
        owner = self.name or run
        found = {}
        if gain := self.calibration.get(channel):
            found[component("calibration", f"{owner}/{channel}")] = gain
        assumed = self.assumed(channel)
        if assumed is not None and assumed.relative_u:
            found[component("assumed_calibration", f"{owner}/{channel}")] = assumed.relative_u
        if channel == "thrust_gf" and self.arms_relative_u:
            kind = "assumed_lever" if self.arms_assumed else "lever"
            found[component(kind, owner)] = self.arms_relative_u
        if channel == "thrust_gf" and self.gravity_m_per_s2 is None:
            found[component("gravity", owner)] = GRAVITY_RELATIVE_U
        return found

    def offsets(self, channel: str, run: str) -> dict[str, float]:
        """Standard uncertainties that shift a whole channel [unit of the channel]."""
        assumed = self.assumed(channel)
        if assumed is None or not assumed.absolute_u:
            return {}
        return {component("assumed_offset", f"{self.name or run}/{channel}"): assumed.absolute_u}

    def components(self, channel: str, value: float, *, run: str, at: str = "") -> dict[str, float]:
        """Type B components of a reading of ``channel`` at ``value``.

        Resolution is q/√12 (rectangular) and belongs to the one reading ``at`` its place in the
        run: two readings are rounded apart.
        """
        found = {key: gain * value for key, gain in self.gains(channel, run).items()}
        found |= self.offsets(channel, run)
        if step := self.resolution.get(channel):
            found[component("resolution", f"{run}/{channel}/{at}")] = step / math.sqrt(12.0)
        return found


UNDECLARED = Stand()


def mean_gains(stands: Mapping[str, Stand], channel: str) -> dict[str, float]:
    """Relative gains of a figure that rests on several runs alike, by component.

    :param stands: run → the stand it was made on, at least one.
    """
    share = 1.0 / len(stands)
    # Runs of a stand nobody named are taken for one stand's: a mean must not shrink its gain.
    unnamed = next((run for run, stand in stands.items() if not stand.name), "")
    found: dict[str, float] = {}
    for stand in stands.values():
        for key, gain in stand.gains(channel, unnamed).items():
            found[key] = found.get(key, 0.0) + share * gain
    return found


def weighted_gains(
    stands: Mapping[str, Stand], powers: Mapping[str, float], value: float
) -> dict[str, float]:
    """Contributions of the meters' gains to a figure that goes with powers of their channels.

    :param powers: channel → its power in the figure, −1 for a divisor.
    :param value: of the figure, in whose unit the contributions are.
    """
    found: dict[str, float] = {}
    for channel, power in powers.items():
        for key, gain in mean_gains(stands, channel).items():
            found[key] = found.get(key, 0.0) + power * gain * value
    return found


CALIBRATION_SUFFIX = "_calibration_pct"
RESOLUTION_SUFFIX = "_resolution"
INSTRUMENT_SUFFIX = "_instrument"
REPEATABILITY_KEY = "repeatability_pct"
GRAVITY_KEY = "local_gravity_m_per_s2"
LEVER_KEY, LEVER_IS_KEY = "lever_u_pct", "lever_is"


def stand_from_header(header: Mapping[str, str]) -> Stand:
    """The stand's declaration from preamble keys of a log.

    ``stand`` (its name), ``<channel>_calibration_pct`` (relative standard uncertainty in
    percent), ``<channel>_resolution`` (in the channel's unit), ``<channel>_instrument`` (a key
    of :data:`spindle_core.figures.instruments.INSTRUMENTS`), ``repeatability_pct``,
    ``local_gravity_m_per_s2``, and of a lever ``lever_u_pct`` and ``lever_is`` (``measured`` or
    ``assumed``).
    """

    def numbers(suffix: str, scale: float) -> dict[str, float]:
        return {
            key.removesuffix(suffix): scale * float(value)
            for key, value in header.items()
            if key.endswith(suffix) and value
        }

    gravity = header.get(GRAVITY_KEY)
    return Stand(
        calibration=numbers(CALIBRATION_SUFFIX, 0.01),
        resolution=numbers(RESOLUTION_SUFFIX, 1.0),
        repeatability=0.01 * float(header.get(REPEATABILITY_KEY) or 0.0),
        gravity_m_per_s2=float(gravity) if gravity else None,
        name=header.get("stand", ""),
        instruments={
            key.removesuffix(INSTRUMENT_SUFFIX): value
            for key, value in header.items()
            if key.endswith(INSTRUMENT_SUFFIX)
            and key.removesuffix(INSTRUMENT_SUFFIX) in CHANNELS
            and value
        },
        arms_relative_u=0.01 * float(header.get(LEVER_KEY) or 0.0),
        arms_assumed=header.get(LEVER_IS_KEY) == "assumed",
    )


def stand_to_header(stand: Stand) -> dict[str, str]:
    """The preamble keys that :func:`stand_from_header` reads back as the same declaration."""
    header = {"stand": stand.name} if stand.name else {}
    for channel, gain in stand.calibration.items():
        header[channel + CALIBRATION_SUFFIX] = _exact(100.0 * gain)
    for channel, step in stand.resolution.items():
        header[channel + RESOLUTION_SUFFIX] = _exact(step)
    for channel, kind in stand.instruments.items():
        header[channel + INSTRUMENT_SUFFIX] = kind
    if stand.repeatability:
        header[REPEATABILITY_KEY] = _exact(100.0 * stand.repeatability)
    if stand.gravity_m_per_s2 is not None:
        header[GRAVITY_KEY] = _exact(stand.gravity_m_per_s2)
    if stand.arms_relative_u:
        header[LEVER_KEY] = _exact(100.0 * stand.arms_relative_u)
        header[LEVER_IS_KEY] = "assumed" if stand.arms_assumed else "measured"
    return header


def _exact(value: float) -> str:
    """A number as text; 12 digits, so that a per cent is not told as 0.30000000000000004."""
    return f"{value:.12g}"
