"""Figures on readers' pages: with u and unit, in gf and in N as the reader chooses."""

from __future__ import annotations

from typing import Any

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

from spindle_core.figures.said import figure
from spindle_core.publish.quotes import LABELS

register = template.Library()

GF_IN_N = 9.80665e-3
"""Standard gravity, exact."""

IN_NEWTONS = {"gf": (GF_IN_N, "N"), "gf/W": (1000.0 * GF_IN_N, "mN/W")}


def both(value: float, u: float | None, unit: str, *, signed: bool = False) -> SafeString:
    """A figure; of a thrust in both units, of which the page shows one."""
    text = figure(value, u, unit, signed=signed)
    if unit not in IN_NEWTONS:
        return format_html("{}", text)
    factor, other = IN_NEWTONS[unit]
    newton = figure(value * factor, None if u is None else u * factor, other, signed=signed)
    return format_html('<span class="gf">{}</span><span class="newton">{}</span>', text, newton)


@register.simple_tag
def quantity(value: float | None, u: float | None, unit: str, reason: str = "") -> SafeString:
    """A figure with its unit; a dash with the reason where there is none."""
    if value is None:
        return format_html('<span class="absent" title="{}">—</span>', reason or "not measured")
    return both(value, u, unit)


@register.simple_tag
def cell(one: dict[str, Any]) -> SafeString:
    """A named figure of a table, without its unit: that stands in the head."""
    if one["value"] is None:
        reason = one.get("reason") or "not measured"
        return format_html('<span class="absent" title="{}">—</span>', reason)
    unit = LABELS.get(one["name"], ("", ""))[1]
    text = figure(one["value"], one["u"], "")
    if unit not in IN_NEWTONS:
        return format_html("{}", text)
    factor, _ = IN_NEWTONS[unit]
    u = None if one["u"] is None else one["u"] * factor
    newton = figure(one["value"] * factor, u, "")
    return format_html('<span class="gf">{}</span><span class="newton">{}</span>', text, newton)


@register.simple_tag
def head(name: str) -> SafeString:
    """A column's head with its unit."""
    label, unit = LABELS.get(name, (name, ""))
    if unit in IN_NEWTONS:
        return format_html(
            '{}, <span class="gf">{}</span><span class="newton">{}</span>',
            label, unit, IN_NEWTONS[unit][1],
        )  # fmt: skip
    return format_html("{}{}", label, f", {unit}" if unit else "")


@register.simple_tag
def quoted(figures: dict[str, Any], key: str) -> SafeString:
    """A figure where it stands in prose; what it is on demand."""
    one = figures.get(key)
    if one is None:
        return format_html("—")
    rests = f"{one['words']}, n = {one['n']}" if one["n"] else one["words"]
    if one["kind"] == "record" or one["value"] is None:
        return format_html("{}", one["stated"])
    if one["kind"] == "claim":
        text: str = one["stated"]
        return format_html('<span class="quoted" title="{}">{}</span>', rests, text)
    signed = one["kind"] in ("delta", "subject_delta")
    shown = both(one["value"], one["u"], one["unit"], signed=signed)
    moved = format_html(
        ' <span class="moved">(since then {}; {})</span>', one["now"], one["word"]
    ) if one["word"] else ""  # fmt: skip
    return format_html('<span class="quoted" title="{}">{}</span>{}', rests, shown, moved)
